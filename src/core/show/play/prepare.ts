import { areaChain } from '../../patch/areas.ts';
import type { Document } from '../../document/change.ts';
import { prepareTest } from '../../signal/index.ts';
import { MAX_SLOTS } from '../../units.ts';
import { PLAIN } from '../effect/shape.ts';
import { comparedLater, coverings } from './covering.ts';
import { rankOf, type Layer } from './layers.ts';
import { ceilingUnder, prepareMasters } from './prepare-masters.ts';
import { compileHandEffect, type Program } from './program.ts';
import type { PreparedLive, PreparedValues } from './render.ts';
import type { CompiledRig } from '../rig/rig.ts';
import { prepareSettling } from '../live/settle.ts';
import type { LiveState, Play } from '../live/state.ts';
import { HandCompiler } from '../rig/values.ts';

/**
 * Sorts what plays by rank, then by when it started: the later is merged later and so takes precedence. `programOf`
 * gives the compiled program of a play, or null for one that no longer exists; `before` those of what fades out.
 */
export function prepareLive(
  rig: CompiledRig,
  state: LiveState,
  programOf: (play: Play) => Program | null,
  document: Document,
  { before = null, hands = new HandCompiler(), light = [] }: Preparing = {},
): PreparedLive {
  const identify: number[] = [];
  for (const id of state.identify) {
    const unit = rig.units.get(id);
    if (unit) for (const slot of unit.identify) identify.push(unit.base + slot);
  }
  const masters = prepareMasters(rig, document, state);
  const { fading } = state;
  return {
    ...prepareValues(rig, withOwn(state, light), programOf, document, hands),
    fading: fading && {
      from: prepareValues(
        rig,
        fading,
        before?.programOf ?? programOf,
        before?.document ?? document,
        new HandCompiler(),
      ),
      at: fading.at,
      ms: fading.ms,
    },
    settling: prepareSettling(rig, state.settling),
    identify: Uint32Array.from(identify),
    probe: prepareProbe(rig, state.probe),
    ...prepareRaw(rig, state.raw),
    test: prepareTest(document, rig.arrays.universes, state.test),
    masters,
    ceiling: laysRaw(state) ? ceilingUnder(rig, masters) : null,
    grand: state.grand,
    dark: state.dark,
    darkHaze: state.darkHaze,
    frozen: state.frozen,
    tempo: state.tempo,
  };
}

/** What plays, with the light of a song and what runs by itself. */
const withOwn = (state: LiveState, light: readonly Play[]): Pick<LiveState, 'playing' | 'hand' | 'handEffects'> =>
  state.auto || light.length > 0
    ? { ...state, playing: [...(state.auto?.plays ?? []), ...light, ...state.playing] }
    : state;

/** What helps where the same is prepared again and again. */
export interface Preparing {
  /** Of what fades out. */
  readonly before?: Before | null;
  /** Remembers what the hand came to. */
  readonly hands?: HandCompiler;
  /** What the song that is on plays about now (`timeline/light.ts`). */
  readonly light?: readonly Play[];
}

/** Where what fades out is compiled from another show: with records as they were before they were edited blind. */
export interface Before {
  readonly document: Document;
  readonly programOf: (play: Play) => Program | null;
}

/** What plays and is by hand, ready to be drawn. */
function prepareValues(
  rig: CompiledRig,
  state: Pick<LiveState, 'playing' | 'hand' | 'handEffects'>,
  programOf: (play: Play) => Program | null,
  document: Document,
  hands: HandCompiler,
): PreparedValues {
  const solo = state.playing.some((p) => p.solo && p.releasedAt === null);
  const laid: Pick<Layer, 'play' | 'program' | 'rank'>[] = [];
  for (const play of state.playing) {
    if (solo && !play.solo) continue;
    const program = programOf(play);
    if (program) laid.push({ play, program, rank: rankOf(play, program, depthOf(document, play)) });
  }
  laid.sort((a, b) => a.rank - b.rank || a.play.startedAt - b.play.startedAt);
  const compared = comparedLater(laid);
  const covered = coverings(laid, rig.arrays.slotCount, compared);
  const layers = laid.map((layer, i) => ({
    ...layer,
    compared: compared[i]!,
    ...covered[i]!,
    levelsOnly: false,
    shape: { ...PLAIN },
    failed: null,
  }));
  const hand = hands.compile(rig, document, state.hand);
  const byHand = new Set(state.handEffects.length > 0 ? hand.slots : []);
  return {
    layers,
    hand,
    handEffects: state.handEffects.flatMap((play) => {
      const program = compileHandEffect(rig, document, play, byHand);
      return program ? [{ play, program }] : [];
    }),
  };
}

/** How deep the area of a play lies: 0 for the whole rig. An area at rest is under what it plays of its own. */
function depthOf(document: Document, play: Play): number {
  const area = play.areaId ?? (play.target?.startsWith('area:') ? (play.target as `area:${string}`) : null);
  return area === null ? 0 : areaChain(document, area).length;
}

/** Whether anything raw is laid over the frame: mostly not, and then nobody asks for a ceiling. */
const laysRaw = ({ probe, raw, test }: LiveState): boolean =>
  probe !== null || test !== null || Object.keys(raw).length > 0;

/** A probe past the end of its universe is cut; one of a universe the rig does not have is nothing. */
function prepareProbe(rig: CompiledRig, probe: LiveState['probe']): PreparedLive['probe'] {
  const index = probe ? rig.arrays.universes.indexOf(probe.universe) : -1;
  if (!probe || index < 0) return null;
  const values = Uint8Array.from(probe.values.slice(0, MAX_SLOTS - probe.address + 1));
  return { offset: index * MAX_SLOTS + probe.address - 1, values };
}

/** Slots of universes that the rig does not have are left out. */
function prepareRaw(rig: CompiledRig, raw: LiveState['raw']): Pick<PreparedLive, 'rawAt' | 'rawValues'> {
  const indexOf = new Map(Array.from(rig.arrays.universes, (u, i) => [u, i]));
  const entries = Object.entries(raw).flatMap(([slot, value]) => {
    const [universe, address] = slot.split('.').map(Number) as [number, number];
    const index = indexOf.get(universe);
    return index === undefined || address > MAX_SLOTS ? [] : [[index * MAX_SLOTS + address - 1, value] as const];
  });
  return { rawAt: Uint32Array.from(entries, (e) => e[0]), rawValues: Uint8Array.from(entries, (e) => e[1]) };
}
