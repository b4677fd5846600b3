import { createHash } from 'node:crypto';
import { getRecord, recordsOf, type Document } from '../core/document/change.ts';
import { FaultError } from '../core/faults.ts';
import { litOf } from '../core/patch/lit.ts';
import type { LitId } from '../core/ids.ts';
import { MOODS } from '../core/records/profile.ts';
import {
  applyLive,
  compilePlay,
  compileRig,
  explain,
  FlashGuard,
  initialLive,
  makeFrame,
  prepareLive,
  render,
  type CompiledRig,
  type LiveState,
  type PreparedLive,
  type TargetId,
} from '../core/show/index.ts';
import { numberOption, oneWord, unusable, type Arguments, type Command, type CommandTable } from './command.ts';
import { readShowFile } from './files.ts';

/** Commands that play a show without sending it: frames of any moment, and who sets what and why. */

/** The longest a render may be asked for: a day, and so many frames. */
const LONGEST_S = 86_400;
const MOST_FRAMES = 20_000;
/** Frames with all their bytes: more would be a file nobody reads. */
const MOST_WHOLE_FRAMES = 2_000;

const playables = (document: Document) => [
  ...recordsOf(document, 'scene'),
  ...recordsOf(document, 'chase'),
  ...recordsOf(document, 'effect'),
];

/** Targets of a list such as `Blue lap, Side to side, mood:calm`: names, ids or moods. */
function targetsOf(args: Arguments, document: Document): TargetId[] {
  const text = args.options['play'];
  if (text === undefined)
    throw unusable('OPTION_MISSING', '--play', '--play is missing', null, 'Add --play "NAME, NAME".');
  const all = playables(document);
  return text.split(',').map((part): TargetId => {
    const name = part.trim();
    if (name.startsWith('mood:') && (MOODS as readonly string[]).includes(name.slice(5))) return name as TargetId;
    const found = all.find((p) => p.name === name || p.id === name);
    if (found) return found.id;
    throw unusable(
      'UNKNOWN_PLAY',
      '--play',
      `the show has no scene, chase or effect “${name}”`,
      name,
      `Names are: ${all.map((p) => p.name).join(', ')}; moods are ${MOODS.map((m) => `mood:${m}`).join(', ')}.`,
    );
  });
}

/** All targets started at the moment 0, in the order given. */
function playing(document: Document, targets: readonly TargetId[]): LiveState {
  let live = initialLive(0, recordsOf(document, 'show')[0]?.tempoBpm);
  targets.forEach((target, i) => (live = applyLive(live, { do: 'play', target }, 0, `play${i + 1}`, document)));
  return live;
}

function prepared(document: Document, targets: readonly TargetId[]) {
  const rig = compileRig(document);
  const state = playing(document, targets);
  return { rig, state, live: prepareLive(rig, state, (play) => compilePlay(rig, document, play), document) };
}

export const renderFrames: Command = {
  usage: 'render ARCHIVE --play "NAME, NAME" [--at S | --from S --to S --fps N] [--hash]',
  summary: 'Renders frames of what plays, started at 0 s; --hash prints SHA-256 of each frame in place of its bytes.',
  run: async (args) => {
    const document = await readShowFile(oneWord(args, 'FILE', renderFrames.usage));
    const targets = targetsOf(args, document);
    const moments = momentsOf(args);
    const { rig, live } = prepared(document, targets);
    const printed = printedFrames(args, document, rig, moments, () => live);
    const failed = live.layers.flatMap((layer) => (layer.failed === null ? [] : [layer.play.target]));
    return { output: 'sha256' in printed || failed.length > 0 ? { ...printed, failed } : printed };
  },
};

/** Frames at moments (s) as commands print them: all their bytes, or with --hash SHA-256 of each and of all together. */
export function printedFrames(
  args: Arguments,
  document: Document,
  rig: CompiledRig,
  moments: readonly number[],
  liveAt: (ms: number) => PreparedLive,
): object {
  const hash = args.options['hash'] !== undefined;
  if (!hash && moments.length > MOST_WHOLE_FRAMES)
    throw unusable(
      'TOO_MANY_FRAMES',
      '--fps',
      `${moments.length} whole frames are too many`,
      moments.length,
      `Ask for at most ${MOST_WHOLE_FRAMES}, or add --hash.`,
    );
  const frame = makeFrame(rig.arrays);
  const guard = new FlashGuard(rig.arrays, recordsOf(document, 'show')[0]!.safety);
  const whole = createHash('sha256');
  const frames = moments.map((at) => {
    const bytes = render(rig.arrays, liveAt(at * 1000), at * 1000, frame, moments.length > 1 ? guard : null);
    whole.update(bytes);
    return hash
      ? { at, sha256: createHash('sha256').update(bytes).digest('hex') }
      : { at, universes: universesOf(rig.arrays.universes, bytes) };
  });
  return hash ? { universes: [...rig.arrays.universes], frames, sha256: whole.digest('hex') } : { frames };
}

function universesOf(numbers: Uint16Array, bytes: Uint8Array): Record<string, number[]> {
  return Object.fromEntries(Array.from(numbers, (u, i) => [u, [...bytes.subarray(i * 512, i * 512 + 512)]]));
}

/** Moments asked for in seconds: one, or from one to another so many a second. */
export function momentsOf(args: Arguments): number[] {
  if (args.options['at'] !== undefined) {
    const both = ['from', 'to', 'fps'].find((name) => args.options[name] !== undefined);
    if (both)
      throw unusable(
        'OPTION_CLASH',
        `--${both}`,
        `--at and --${both} do not go together`,
        args.options[both],
        'Give one.',
      );
    return [numberOption(args, 'at', 0, LONGEST_S)];
  }
  if (['from', 'to', 'fps'].every((name) => args.options[name] === undefined))
    throw unusable('OPTION_MISSING', '--at', '--at is missing', null, 'Add --at S, or --from S --to S --fps N.');
  const from = numberOption(args, 'from', 0, LONGEST_S, 0);
  const to = numberOption(args, 'to', 0, LONGEST_S);
  const fps = numberOption(args, 'fps', 0.01, 1000, 40);
  if (to < from)
    throw unusable('OPTION_RANGE', '--to', `--to ${to} lies before --from ${from}`, to, 'Give a later moment.');
  const count = Math.floor((to - from) * fps + 1e-9) + 1;
  if (count > MOST_FRAMES)
    throw unusable(
      'TOO_MANY_FRAMES',
      '--fps',
      `that would be ${count} frames`,
      count,
      `Ask for at most ${MOST_FRAMES} at a time.`,
    );
  return Array.from({ length: count }, (_, i) => from + i / fps);
}

/** A unit or part by its number, name or id. */
function unitOf(args: Arguments, document: Document): LitId {
  const text = args.options['unit'];
  if (text === undefined)
    throw unusable('OPTION_MISSING', '--unit', '--unit is missing', null, 'Add --unit with a number, a name or an id.');
  const found = recordsOf(document, 'unit').find(
    (u) => String(u.number) === text.trim() || u.name === text.trim() || u.id === text.trim(),
  );
  const lit = found ? { id: found.id } : getRecord(document, 'part', text.trim());
  if (lit) return lit.id;
  throw unusable(
    'UNKNOWN_UNIT',
    '--unit',
    `the show has no unit “${text}”`,
    text,
    'Give a number, a name or an id of the patch.',
  );
}

export const explainUnit: Command = {
  usage: 'explain ARCHIVE --play "NAME, NAME" --unit N --at S [--attribute NAME]',
  summary: 'Says who sets each attribute of a unit at a moment, and why.',
  run: async (args) => {
    const document = await readShowFile(oneWord(args, 'FILE', explainUnit.usage));
    const targets = targetsOf(args, document);
    const unit = unitOf(args, document);
    const at = numberOption(args, 'at', 0, LONGEST_S);
    const { rig, state, live } = prepared(document, targets);
    const attribute = args.options['attribute'];
    const found = explain({ rig, document, state, live, nowMs: at * 1000 }, unit, attribute ? [attribute] : null);
    if (attribute && found.length === 0)
      throw new FaultError({
        code: 'UNKNOWN_ATTRIBUTE',
        path: '--attribute',
        message: `${litOf(document, unit)?.name ?? unit} has no attribute “${attribute}”`,
        received: attribute,
        remedy: `It has ${[...(rig.units.get(unit)?.slots.keys() ?? [])].slice(0, 20).join(', ')}.`,
      });
    return { output: { at, unit, name: litOf(document, unit)?.name, attributes: found } };
  },
};

export const PLAY: CommandTable = {
  render: { command: renderFrames, options: ['play', 'at', 'from', 'to', 'fps', 'hash!'] },
  explain: { command: explainUnit, options: ['play', 'unit', 'at', 'attribute'] },
};
