import { documentOf, getRecord, type Document } from '../document/change.ts';
import type { LitId, UnitId } from '../ids.ts';
import { litOf } from '../patch/lit.ts';
import type { AnyRecord, ChaseRecord, EffectRecord } from '../records/index.ts';
import { FlashWatch } from '../show/guard/flash-watch.ts';
import {
  compilePlay,
  compileRig,
  drawValues,
  initialLive,
  makeFrame,
  newPlay,
  partsOf,
  prepareLive,
  slotsOf,
  stepStarts,
  type CompiledRig,
  type RigArrays,
} from '../show/index.ts';

/** How something flashes when it plays by itself over lit units. */
export interface Flashing {
  /** The most flashes a second of any lamp. */
  readonly perSecond: number;
  /** Units with lamps that flash more often than the limit. */
  readonly unitIds: readonly UnitId[];
  /** The part of the plot those light, 0-1. */
  readonly share: number;
}

/** Frames a second, and so many seconds from the moment it goes fastest. */
const RATE = 40;
const SECONDS = 2;
/** Of very many units so many are looked at, and the rest taken to do alike. */
const UNITS = 32;

const known = new WeakMap<AnyRecord, { readonly made: readonly unknown[]; readonly found: Flashing }>();

/**
 * Plays a chase or an effect over lit units with the renderer itself and counts what its lamps do, at a tempo. `ids`:
 * the units and parts it plays on. Kept for as long as what it is made of, the units and the limit stay the same.
 */
export function measureFlashes(
  document: Document,
  record: ChaseRecord | EffectRecord,
  ids: readonly LitId[],
  limits: { readonly perSecond: number; readonly bpm: number },
): Flashing {
  const units = [...new Set(ids.flatMap((id) => litOf(document, id)?.unit ?? []))];
  const step = Math.max(1, Math.ceil(units.length / UNITS));
  const sample = units.filter((_, i) => i % step === 0);
  // A unit that is renamed or moved flashes as before.
  const whose = sample.flatMap((u) => [u.id, u.mode, u.prop, u.gel, getRecord(document, 'profile', u.profileId)]);
  const made = [limits.perSecond, limits.bpm, ids.length, ...partsOf(document, record.id), ...whose];
  const old = known.get(record);
  if (old && old.made.length === made.length && old.made.every((part, i) => part === made[i])) return old.found;
  const found = measure(smaller(document, sample), record, limits);
  known.set(record, { made, found });
  return found;
}

/** The show with these units only, and no ways out. */
function smaller(document: Document, units: readonly AnyRecord[]): Document {
  const kept = new Set(units);
  return documentOf([...document.values()].filter((r) => (r.kind === 'unit' ? kept.has(r) : r.kind !== 'route')));
}

function measure(
  document: Document,
  record: ChaseRecord | EffectRecord,
  { perSecond, bpm }: { readonly perSecond: number; readonly bpm: number },
): Flashing {
  const rig = lit(compileRig(document));
  const { arrays } = rig;
  const clock = { at: record.kind === 'chase' ? fastestAt(record) : 0, ms: 0, beat: 0 };
  const play = newPlay({ id: 'measured', target: record.id, startedAt: -60_000, clock, fadeInMs: 0 });
  const live = prepareLive(
    rig,
    { ...initialLive(0, bpm), playing: [play] },
    (p) => compilePlay(rig, document, p),
    document,
  );
  const program = live.layers[0]?.program;
  const frame = makeFrame(arrays);
  const watch = new FlashWatch(arrays, perSecond);
  const over = new Set<number>();
  for (let i = 0; i < SECONDS * RATE; i++) {
    drawValues(arrays, live, (i * 1000) / RATE, frame);
    watch.look(frame.current, i / RATE);
    for (let lamp = 0; lamp < arrays.lamps.count; lamp++) if (watch.isOver(lamp, i / RATE)) over.add(lamp);
  }
  const { unitIds, unitFrom, weight } = arrays.lamps;
  const touched = program ? slotsOf(program) : new Set<number>();
  let [reached, flashing] = [0, 0];
  const units = new Set<UnitId>();
  unitIds.forEach((id, unit) => {
    for (let lamp = unitFrom[unit]!; lamp < (unitFrom[unit + 1] ?? arrays.lamps.count); lamp++) {
      if (touches(arrays, lamp, touched)) reached += weight[lamp]!;
      if (!over.has(lamp)) continue;
      flashing += weight[lamp]!;
      units.add(id);
    }
  });
  return { perSecond: watch.most / SECONDS, unitIds: [...units], share: reached > 0 ? flashing / reached : 0 };
}

const touches = ({ lamps }: RigArrays, lamp: number, slots: ReadonlySet<number>): boolean =>
  slots.has(lamps.level[lamp]!) || slots.has(lamps.colour[lamp]!) || lamps.special[lamp]! >= 0;

/** A rig that rests lit: whatever plays over it is seen. */
function lit(rig: CompiledRig): CompiledRig {
  const { arrays } = rig;
  const home = Float32Array.from(arrays.home);
  const light = (slot: number): void => {
    if (slot >= 0) home[slot] = arrays.highlight[slot]!;
  };
  arrays.lamps.level.forEach(light);
  for (const { gates } of arrays.lamps.specials) for (const { slot } of gates) light(slot);
  return { ...rig, arrays: { ...arrays, home } };
}

/** Where (seconds or beats) the round of a chase has its shortest steps: half a window before them. */
function fastestAt(chase: ChaseRecord): number {
  const { starts, total } = stepStarts(chase);
  if (total <= SECONDS) return 0;
  let [at, most, from] = [0, 0, 0];
  for (let i = 0; i < starts.length; i++) {
    while (starts[i]! - starts[from]! > 1) from++;
    if (i - from > most) [most, at] = [i - from, starts[from]!];
  }
  return Math.max(0, at - 0.25);
}
