import { parseNumber, readWhole } from '../numbers.ts';
import { shorten, type Fault, type Result } from '../faults.ts';
import type { UnitId } from '../ids.ts';
import { fromAbsoluteAcross, parseAddressEntry } from '../patch/entry.ts';
import { placeOf, type Patch } from '../patch/of-document.ts';
import { footprintOf } from '../profile/layout.ts';
import { nameSchema, notesSchema } from '../records/common.ts';
import type { UnitRecord } from '../records/index.ts';
import { MAX_UNIVERSE } from '../units.ts';
import type { SlotsPerUniverse } from '../patch/address.ts';
import type { SheetDraft } from './draft.ts';
import { findModeByText, type ProfileFinder } from './profiles.ts';

/** What writing a cell needs beyond the draft. */
export interface WriteContext {
  readonly draft: SheetDraft;
  readonly finder: ProfileFinder;
  readonly slotsOf: (universe: number) => SlotsPerUniverse;
  /** The patch as it was before: for ticks, and for the other half of an address. */
  readonly patch: Patch;
  /** Who edits, and when (milliseconds since 1970): for ticks. */
  readonly by: string;
  readonly now: number;
}

type Writer = (context: WriteContext, id: UnitId, text: string) => Fault | null;

export const cellFault = (column: string, code: string, message: string, received: string, remedy: string): Fault => ({
  code,
  path: column,
  message,
  received: shorten(received),
  remedy,
});

function whole(column: string, what: string, text: string, low: number, high: number): Result<number> {
  const value = readWhole(text);
  if (value !== null && value >= low && value <= high) return { ok: true, value };
  const shown = `“${String(shorten(text.trim()))}”`;
  const message = value === null ? `${shown} is not a whole number` : `${what} ${value} does not exist`;
  return {
    ok: false,
    fault: cellFault(
      column,
      `${column === 'slot' ? 'ADDRESS' : column.toUpperCase()}_RANGE`,
      message,
      text,
      `Give ${low} to ${high}.`,
    ),
  };
}

const tooLong = (column: string, text: string, most: number): Fault =>
  cellFault(column, 'TOO_LONG', `${text.length} characters`, text, `At most ${most} characters.`);

const name: Writer = ({ draft }, id, text) => {
  const trimmed = text.trim();
  const fault = nameFault('name', trimmed);
  if (!fault) draft.set(id, { name: trimmed });
  return fault;
};

/** What is wrong with a name, or null. `column` is where it stands. */
export function nameFault(column: string, text: string): Fault | null {
  if (text === '') return cellFault(column, 'NAME_EMPTY', 'there is no name', text, 'Give a name.');
  if (text.length > 100) return tooLong(column, text, 100);
  if (!nameSchema.safeParse(text).success)
    return cellFault(column, 'NAME_CHARACTERS', 'there are control characters in it', text, 'Type the name again.');
  return null;
}

const profile: Writer = ({ draft, finder }, id, text) => {
  const found = finder.find(text);
  if (!found.ok) return found.fault;
  const unit = draft.unit(id);
  if (found.value.id === unit.profileId) return null;
  const before = draft.profile(unit.profileId)?.modes.find((m) => m.key === unit.mode);
  const after = found.value;
  // The same mode by name, else by size, else the only one.
  const tries = before ? [before.name, String(footprintOf(before)), ''] : [''];
  const modes = tries.map((t) => findModeByText(after, t));
  const mode = modes.find((m) => m.ok) ?? modes.at(-1)!;
  if (!mode.ok) return mode.fault;
  draft.useProfile(after);
  draft.set(id, { profileId: after.id, mode: mode.value.key });
  return null;
};

const mode: Writer = ({ draft }, id, text) => {
  const unit = draft.unit(id);
  const found = findModeByText(draft.profile(unit.profileId)!, text);
  if (!found.ok) return found.fault;
  draft.set(id, { mode: found.value.key });
  return null;
};

const patch: Writer = ({ draft, slotsOf }, id, text) => {
  const unit = draft.unit(id);
  const entry = parseAddressEntry(text, draft.before, slotsOf, unit);
  if (!entry.ok) return { ...entry.fault, path: 'patch' };
  if (entry.value.kind === 'none') draft.set(id, { patch: null, relation: null });
  else if (entry.value.kind === 'place') draft.set(id, { patch: entry.value.place, relation: null });
  else draft.set(id, { relation: entry.value.relation });
  return null;
};

const follows: Writer = (context, id, text) => {
  const { draft } = context;
  if (text.trim() !== '') {
    if (/^(after|twin|same)/i.test(text.trim())) return patch(context, id, text);
    return cellFault(
      'follows',
      'RELATION_UNREADABLE',
      `“${String(shorten(text))}” says nothing to follow`,
      text,
      'Write “after 12” or “twin of 12”.',
    );
  }
  if (draft.unit(id).relation === null) return null;
  draft.set(id, { patch: placeOf(context.patch.get(id)) as UnitRecord['patch'], relation: null });
  return null;
};

const absolute: Writer = ({ draft, slotsOf }, id, text) => {
  if (text.trim() === '') return draft.set(id, { patch: null, relation: null }) ?? null;
  const value = whole('absolute', 'absolute channel', text, 1, MAX_UNIVERSE * 512);
  if (!value.ok) return value.fault;
  const place = fromAbsoluteAcross(value.value, slotsOf);
  if (!place)
    return cellFault('absolute', 'ABSOLUTE_RANGE', `channel ${value.value} does not exist`, text, 'Give a lower one.');
  draft.set(id, { patch: place, relation: null });
  return null;
};

/** One half of an address; the other stays as it is, or becomes 1. */
const half =
  (which: 'universe' | 'slot'): Writer =>
  ({ draft, slotsOf, patch: before }, id, text) => {
    if (text.trim() === '') return null;
    const unit = draft.unit(id);
    const old = unit.relation ? placeOf(before.get(id)) : unit.patch;
    const most = which === 'universe' ? MAX_UNIVERSE : slotsOf(old?.universe ?? 1);
    // `U1`, `Universe 1`, `Ch 100`: the word says what the column is, the number counts.
    const bare = text
      .trim()
      .replace(
        which === 'universe' ? /^u(ni(v(erse)?)?)?\.?\s*(?=\d)/i : /^(ch(an(nel)?)?|addr(ess)?|slot|dmx)\.?\s*(?=\d)/i,
        '',
      );
    const value = whole(which, which === 'slot' ? 'address' : 'universe', bare, 1, most);
    if (!value.ok) return value.fault;
    const place =
      which === 'universe'
        ? { universe: value.value, address: old?.address ?? 1 }
        : { universe: old?.universe ?? 1, address: value.value };
    draft.set(id, { patch: place, relation: null });
    return null;
  };

const expected: Writer = ({ draft, slotsOf }, id, text) => {
  const entry = parseAddressEntry(text, draft.before, slotsOf);
  if (!entry.ok) return { ...entry.fault, path: 'expected' };
  if (entry.value.kind === 'relation')
    return cellFault(
      'expected',
      'ADDRESS_UNREADABLE',
      'an expected end is a place',
      text,
      'Write it like 3.152, or as an absolute channel.',
    );
  draft.set(id, { expectedEnd: entry.value.kind === 'place' ? entry.value.place : null });
  return null;
};

const line: Writer = ({ draft }, id, text) => {
  const trimmed = text.trim();
  const fault = trimmed === '' ? null : nameFault('line', trimmed);
  if (!fault) draft.hang(id, trimmed);
  return fault;
};

const place: Writer = ({ draft }, id, text) => {
  const on = draft.lineOf(id);
  if (text.trim() === '') return null;
  if (!on) return cellFault('place', 'NO_LINE', 'it hangs on no line', text, 'Name its line first.');
  const value = whole('place', 'place', text, 1, 20_000);
  if (!value.ok) return value.fault;
  draft.hang(id, on.name, value.value);
  return null;
};

const port: Writer = ({ draft }, id, text) => {
  const on = draft.lineOf(id);
  const trimmed = text.trim();
  if (on?.port === trimmed || (!on && trimmed === '')) return null;
  if (!on) return cellFault('port', 'NO_LINE', 'it hangs on no line', text, 'Name its line first.');
  if (trimmed.length > 20) return tooLong('port', text, 20);
  draft.setLine({ ...on, port: trimmed });
  return null;
};

const groups: Writer = ({ draft }, id, text) => {
  const names = text
    .split(/[,;]/)
    .map((n) => n.trim())
    .filter((n) => n !== '');
  const fault = names.map((n) => nameFault('groups', n)).find((f) => f !== null) ?? null;
  if (!fault) draft.group(id, names);
  return fault;
};

const area: Writer = ({ draft }, id, text) => {
  const trimmed = text.trim();
  const fault = trimmed === '' ? null : nameFault('area', trimmed);
  if (!fault) draft.set(id, { areaId: trimmed === '' ? null : draft.area(trimmed).id });
  return fault;
};

const tag: Writer = ({ draft }, id, text) => {
  const trimmed = text.trim();
  const fault = trimmed === '' ? null : nameFault('tag', trimmed);
  if (fault) return fault;
  const found = trimmed === '' ? null : draft.tag(trimmed);
  if (trimmed !== '' && !found)
    return cellFault('tag', 'TOO_MANY_TAGS', 'a show has at most 24 tags', text, 'Use one of those there are.');
  draft.set(id, { tag: found?.key ?? null });
  return null;
};

const axis =
  (key: 'x' | 'y' | 'z'): Writer =>
  ({ draft }, id, text) => {
    const value = parseNumber(text.replace(/\s*m$/i, ''));
    const shown = `“${String(shorten(text.trim()))}”`;
    if (value === null)
      return cellFault(key, 'NOT_A_NUMBER', `${shown} is not a number`, text, 'Give metres, such as 2.5.');
    if (Math.abs(value) > 1000)
      return cellFault(key, 'METRES_RANGE', `${value} m is too far away`, text, 'Give -1000 to 1000 metres.');
    draft.set(id, { position: { ...draft.unit(id).position, [key]: value } });
    return null;
  };

const notes: Writer = ({ draft }, id, text) => {
  if (text.length > 4000) return tooLong('notes', text, 4000);
  if (!notesSchema.safeParse(text).success)
    return cellFault('notes', 'NAME_CHARACTERS', 'there are control characters in it', text, 'Type it again.');
  draft.set(id, { notes: text });
  return null;
};

const YES = /^(1|x|y|yes|true|done|ok|✓|✔)\b/i;
const NO = /^(|0|n|no|false|open|-)$/i;
const done: Writer = ({ draft, patch: before, by, now }, id, text) => {
  const trimmed = text.trim();
  const unit = draft.unit(id);
  if (NO.test(trimmed)) {
    if (unit.walk) draft.set(id, { walk: null });
    return null;
  }
  const skipped = /^skipped(?: for [\d.]+)?:?\s*(.*)$/i.exec(trimmed);
  if (!skipped && !YES.test(trimmed))
    return cellFault(
      'done',
      'TICK_UNREADABLE',
      `“${String(shorten(trimmed))}” is neither yes nor no`,
      text,
      'Write yes, no, or “skipped: why”.',
    );
  const state = skipped ? 'skipped' : 'done';
  const reason = (skipped?.[1] ?? '').slice(0, 200);
  // What is written back as it was read is no new tick.
  if (unit.walk?.state === state && unit.walk.reason === reason) return null;
  const at = unit.relation ? placeOf(before.get(id)) : unit.patch;
  draft.set(id, { walk: { state, by: by.slice(0, 60), at: now, place: at as UnitRecord['patch'], reason } });
  return null;
};

const number: Writer = ({ draft }, id, text) => {
  const value = whole('number', 'number', text, 1, 99_999);
  if (!value.ok) return value.fault;
  draft.set(id, { number: value.value });
  return null;
};

/** How the text of a cell is taken into a draft, by column. */
export const WRITERS: Readonly<Record<string, Writer>> = {
  number,
  name,
  profile,
  mode,
  patch,
  follows,
  absolute,
  universe: half('universe'),
  slot: half('slot'),
  expected,
  line,
  place,
  port,
  groups,
  area,
  tag,
  x: axis('x'),
  y: axis('y'),
  z: axis('z'),
  notes,
  done,
};
