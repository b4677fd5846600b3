import { areaIdOf } from '../patch/areas.ts';
import { formatAddress, toAbsolute } from '../patch/address.ts';
import { relationText } from '../patch/entry.ts';
import { placeOf } from '../patch/of-document.ts';
import { settingOf, switchWords, type Setting } from '../patch/setting.ts';
import type { UnitRecord } from '../records/index.ts';
import type { SheetFacts } from './facts.ts';

/** A column of the patch sheet: how it is called, how it reads, by which words it is known in other people's sheets. */
export interface SheetColumn {
  readonly key: string;
  readonly title: string;
  /** What it tells, for the list of columns. */
  readonly about: string;
  readonly numeric?: boolean;
  /** Lower-case headings under which it is recognised in a file, besides its title. */
  readonly words: readonly string[];
  readonly text: (facts: SheetFacts, unit: UnitRecord) => string;
  /** A number to sort by; by text (numbers inside count as numbers) where absent. */
  readonly order?: (facts: SheetFacts, unit: UnitRecord) => number;
  /** False where it is worked out and cannot be written. */
  readonly written: boolean;
  /** Only in files: on the screen another column says the same. */
  readonly fileOnly?: boolean;
}

const place = (facts: SheetFacts, unit: UnitRecord) => placeOf(facts.patch.get(unit.id));
const last = (facts: SheetFacts, unit: UnitRecord) => facts.patch.get(unit.id)?.spans.at(-1);
const LAST = Number.MAX_SAFE_INTEGER;
const placeOrder = (at: { universe: number; address: number } | null): number =>
  at ? at.universe * 1024 + at.address : LAST;
const setting = (facts: SheetFacts, unit: UnitRecord): Setting | null => {
  const at = place(facts, unit);
  return at && settingOf(facts.profile(unit), at.address);
};
const metres = (value: number): string => String(Math.round(value * 1000) / 1000);
/** `2026-11-25 10:44` in the time zone of whoever reads it. */
const time = (ms: number): string => {
  const at = new Date(ms);
  const two = (n: number): string => String(n).padStart(2, '0');
  return `${at.getFullYear()}-${two(at.getMonth() + 1)}-${two(at.getDate())} ${two(at.getHours())}:${two(at.getMinutes())}`;
};

/** True where a tick was given for an address that the unit no longer has. */
export function isOutdated(facts: SheetFacts, unit: UnitRecord): boolean {
  if (!unit.walk) return false;
  const at = place(facts, unit);
  return unit.walk.place?.universe !== at?.universe || unit.walk.place?.address !== at?.address;
}

/** `done`, `skipped: too high`, `done for 3.145` where the address changed since. */
export function walkText(facts: SheetFacts, unit: UnitRecord): string {
  const { walk } = unit;
  if (!walk) return '';
  const stale = isOutdated(facts, unit) && walk.place;
  const where = stale ? ` for ${formatAddress(walk.place!.universe, walk.place!.address)}` : '';
  return walk.state === 'done' ? `done${where}` : `skipped${where}${walk.reason ? `: ${walk.reason}` : ''}`;
}

/** Every column there is, in the order in which they are offered. */
export const SHEET_COLUMNS: readonly SheetColumn[] = [
  {
    key: 'number',
    title: 'No.',
    about: 'the unit’s number',
    numeric: true,
    words: ['number', 'no', 'nr', '#', 'unit', 'fixture', 'fixture number', 'fixture id', 'id', 'unit number'],
    text: (_, u) => String(u.number),
    order: (_, u) => u.number,
    written: true,
  },
  {
    key: 'name',
    title: 'Name',
    about: 'what people call it',
    words: ['label', 'description', 'prop', 'prop name', 'fixture name', 'unit name', 'model name'],
    text: (_, u) => u.name,
    written: true,
  },
  {
    key: 'profile',
    title: 'Profile',
    about: 'maker and model',
    words: ['fixture type', 'type', 'model', 'device', 'fixture profile', 'instrument', 'maker model'],
    text: (f, u) => {
      const profile = f.profile(u);
      return profile ? `${profile.maker} ${profile.model}` : '?';
    },
    written: true,
  },
  {
    key: 'mode',
    title: 'Mode',
    about: 'mode of the profile',
    words: ['dmx mode', 'personality', 'channel mode'],
    text: (f, u) => f.profile(u)?.modes.find((m) => m.key === u.mode)?.name ?? u.mode,
    written: true,
  },
  {
    key: 'patch',
    title: 'Address',
    about: 'universe.address of the first slot',
    numeric: true,
    words: [
      'patch',
      'universe.address',
      'start',
      'dmx',
      'dmx address',
      'start address',
      'address',
      'first',
      'uni.addr',
    ],
    text: (f, u) => {
      const at = place(f, u);
      return at ? formatAddress(at.universe, at.address) : '';
    },
    order: (f, u) => placeOrder(place(f, u)),
    written: true,
  },
  {
    key: 'universe',
    title: 'Universe',
    about: 'universe of the first slot',
    numeric: true,
    words: ['uni', 'univ', 'dmx universe', 'start universe', 'universe number'],
    text: (f, u) => String(place(f, u)?.universe ?? ''),
    order: (f, u) => place(f, u)?.universe ?? LAST,
    written: true,
    fileOnly: true,
  },
  {
    key: 'slot',
    title: 'Slot',
    about: 'address inside its universe, 1 to 512',
    numeric: true,
    words: ['channel', 'start channel', 'ch', 'dmx channel', 'start slot', 'address in universe'],
    text: (f, u) => String(place(f, u)?.address ?? ''),
    order: (f, u) => place(f, u)?.address ?? LAST,
    written: true,
    fileOnly: true,
  },
  {
    key: 'last',
    title: 'Last',
    about: 'universe.address of the last slot',
    numeric: true,
    words: ['last slot'],
    text: (f, u) => {
      const span = last(f, u);
      return span ? formatAddress(span.universe, span.to) : '';
    },
    order: (f, u) => {
      const span = last(f, u);
      return span ? placeOrder({ universe: span.universe, address: span.to }) : LAST;
    },
    written: false,
  },
  {
    key: 'absolute',
    title: 'Absolute',
    about: 'first slot counted through all universes',
    numeric: true,
    words: ['absolute channel', 'abs', 'absolute address', 'absolute start', 'abs channel'],
    text: (f, u) => {
      const at = place(f, u);
      const slots = f.patch.get(u.id)?.slotsPerUniverse ?? 512;
      return at ? String(toAbsolute(at.universe, at.address, slots) ?? '') : '';
    },
    order: (f, u) => placeOrder(place(f, u)),
    written: true,
  },
  {
    key: 'follows',
    title: 'Follows',
    about: 'the unit whose address it follows',
    words: ['after', 'chained after', 'twin of'],
    text: (f, u) => relationText(f.document, u),
    written: true,
  },
  {
    key: 'footprint',
    title: 'Slots',
    about: 'how many slots it takes',
    numeric: true,
    words: ['footprint', 'channels', 'channel count', 'number of channels', 'size', 'ch count'],
    text: (f, u) => String(f.layout(u).footprint),
    order: (f, u) => f.layout(u).footprint,
    written: false,
  },
  {
    key: 'expected',
    title: 'Expected end',
    about: 'where its last slot must be by your own sheet',
    numeric: true,
    words: ['end', 'end address', 'end channel', 'expected last', 'last address', 'last channel', 'stop'],
    text: (_, u) => (u.expectedEnd ? formatAddress(u.expectedEnd.universe, u.expectedEnd.address) : ''),
    order: (_, u) => placeOrder(u.expectedEnd),
    written: true,
  },
  {
    key: 'switches',
    title: 'Switches',
    about: 'DIP switches that are on',
    words: ['dip', 'dip switches'],
    text: (f, u) => {
      const set = setting(f, u);
      return set && f.profile(u)?.dipSwitches ? switchWords(set) : '';
    },
    written: false,
  },
  {
    key: 'menu',
    title: 'On the unit',
    about: 'the number its own menu or its unit number shows',
    numeric: true,
    words: ['menu', 'unit no.'],
    text: (f, u) => {
      const set = setting(f, u);
      if (!set) return '';
      if (set.way !== 'unit number') return String(set.menu);
      return set.unitNumber ? `${set.unitNumber.decimal} (hex ${set.unitNumber.hex})` : 'no unit number';
    },
    written: false,
  },
  {
    key: 'output',
    title: 'Output',
    about: 'outputs that carry its universe',
    words: ['interface'],
    text: (f, u) => {
      const at = place(f, u);
      return at ? (f.outputs().get(at.universe) ?? []).join(', ') : '';
    },
    written: false,
  },
  {
    key: 'line',
    title: 'Line',
    about: 'the cable run it hangs on',
    words: ['cable', 'cable run', 'daisy chain', 'string', 'dmx line'],
    text: (f, u) => f.lines().get(u.id)?.line.name ?? '',
    written: true,
  },
  {
    key: 'place',
    title: 'Place',
    about: 'its place in the line, from the output',
    numeric: true,
    words: ['position in line', 'place in line', 'order', 'cable order'],
    text: (f, u) => String(f.lines().get(u.id)?.place ?? ''),
    order: (f, u) => {
      const at = f.lines().get(u.id);
      return at ? at.line.number * 100_000 + at.place : LAST;
    },
    written: true,
  },
  {
    key: 'port',
    title: 'Port',
    about: 'the port its line is plugged into',
    words: ['output port', 'controller port'],
    text: (f, u) => f.lines().get(u.id)?.line.port ?? '',
    written: true,
  },
  {
    key: 'groups',
    title: 'Groups',
    about: 'groups it belongs to',
    words: ['group'],
    text: (f, u) => (f.groups().get(u.id) ?? []).map((g) => g.name).join(', '),
    written: true,
  },
  {
    key: 'area',
    title: 'Area',
    about: 'part of the plot',
    words: ['location', 'zone', 'where', 'hanging position'],
    text: (f, u) => areaName(f, u),
    written: true,
  },
  {
    key: 'tag',
    title: 'Tag',
    about: 'colour tag',
    words: ['colour tag', 'color tag', 'colour', 'color'],
    text: (f, u) => (u.tag ? (f.tags().get(u.tag)?.name ?? '') : ''),
    written: true,
  },
  ...(['x', 'y', 'z'] as const).map((axis): SheetColumn => ({
    key: axis,
    title: axis === 'z' ? 'Height m' : `${axis.toUpperCase()} m`,
    about: { x: 'metres stage left of the middle', y: 'metres up-stage of the middle', z: 'metres above the floor' }[
      axis
    ],
    numeric: true,
    words: axis === 'z' ? ['z', 'height', 'trim', 'z m'] : [axis, `pos ${axis}`, `position ${axis}`],
    text: (_, u) => metres(u.position[axis]),
    order: (_, u) => u.position[axis],
    written: true,
  })),
  {
    key: 'notes',
    title: 'Notes',
    about: 'anything else',
    words: ['note', 'comment', 'comments', 'remark', 'remarks'],
    text: (_, u) => u.notes,
    written: true,
  },
  {
    key: 'done',
    title: 'Done',
    about: 'ticked off on the walk',
    words: ['set', 'ticked', 'checked'],
    text: walkText,
    written: true,
  },
  {
    key: 'doneBy',
    title: 'Ticked by',
    about: 'who ticked it off',
    words: ['done by'],
    text: (_, u) => u.walk?.by ?? '',
    written: false,
  },
  {
    key: 'doneAt',
    title: 'Ticked at',
    about: 'when it was ticked off',
    words: ['done at'],
    text: (_, u) => (u.walk ? time(u.walk.at) : ''),
    order: (_, u) => u.walk?.at ?? 0,
    written: false,
  },
  {
    key: 'state',
    title: 'What is wrong',
    about: 'clashes, in words',
    words: ['faults', 'wrong'],
    text: (f, u) => (f.faults().get(u.id) ?? []).map((c) => c.message).join('; '),
    order: (f, u) => -(f.faults().get(u.id)?.length ?? 0),
    written: false,
  },
];

function areaName(facts: SheetFacts, unit: UnitRecord): string {
  const areaId = areaIdOf(facts.document, unit);
  const area = areaId && facts.document.get(areaId);
  return area && area.kind === 'area' ? area.name : '';
}

const byKey = new Map(SHEET_COLUMNS.map((c) => [c.key, c]));
export const columnOf = (key: string): SheetColumn | undefined => byKey.get(key);

/** What the sheet shows unless told otherwise. */
export const DEFAULT_COLUMNS: readonly string[] = [
  'number',
  'name',
  'profile',
  'mode',
  'patch',
  'last',
  'footprint',
  'menu',
  'done',
  'state',
];

/** The same on a phone: what is looked for up a ladder first, the rest to the right of it. */
export const NARROW_COLUMNS: readonly string[] = [
  'number',
  'name',
  'patch',
  'menu',
  'last',
  'state',
  'done',
  'profile',
  'mode',
  'footprint',
];

const collator = new Intl.Collator('en', { numeric: true });

/** Units in the order of a column; equal ones by number. */
export function sortUnits(
  facts: SheetFacts,
  units: readonly UnitRecord[],
  column: SheetColumn,
  descending: boolean,
): UnitRecord[] {
  const sign = descending ? -1 : 1;
  const keyed = units.map((unit) => ({
    unit,
    n: column.order?.(facts, unit) ?? 0,
    t: column.order ? '' : column.text(facts, unit),
  }));
  keyed.sort((a, b) => {
    const by = column.order ? a.n - b.n : collator.compare(a.t, b.t);
    return by !== 0 ? sign * by : a.unit.number - b.unit.number;
  });
  return keyed.map((k) => k.unit);
}
