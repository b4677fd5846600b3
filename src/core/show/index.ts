export { compileRig, type CompiledRig, type CompiledUnit, type RigArrays } from './rig/rig.ts';
export { sequenceOf, stepStarts, type ChaseProgram } from './play/chase.ts';
export { chaseAt } from './play/chase-at.ts';
export { beatAt, bpmAt, bpmAround, msAt, steady, type BeatMap } from './play/beat-map.ts';
export { DARK_MS, darkLevel, endedMsAgo, isOver, playLevel, positionOf, type Pace } from './play/clock.ts';
export { applyLive, paceOf } from './live/apply-live.ts';
export { Actor, movedTo, signalSchema, type Signal } from './live/act.ts';
export { tappedBpm, TAPS_COUNTED } from './live/taps.ts';
export { asMany } from './live/many.ts';
export { idsNamedBy, liveCommandSchema, type LiveCommand } from './live/command.ts';
export { pruneLive, reanchor } from './live/follow.ts';
export { mergedTry, type Tried } from './live/go-live.ts';
export { compileChase, compilePlay, compileScene, partsOf, type Program, type SceneProgram } from './play/program.ts';
export { slotsOf } from './play/drawing.ts';
export { Programs } from './play/programs.ts';
export { compileValues } from './rig/values.ts';
export {
  FASTEST_SPEED,
  initialLive,
  isPlaying,
  liveStateSchema,
  newPlay,
  probeSchema,
  slotKey,
  type LiveState,
  type Play,
  type Probe,
  type Fading,
} from './live/state.ts';
export { layDesks, type Desks, type Incoming, type MergedInput } from './play/desks.ts';
export { moodOf, recordIdOf, type TargetId } from '../records/target.ts';
export { prepareLive } from './play/prepare.ts';
export { drawValues, finish, makeFrame, render, type Frame, type PreparedLive } from './play/render.ts';
export { FlashGuard, type Safety } from './guard/safety.ts';
export {
  explain,
  explainAll,
  playName,
  type Explanation,
  type Influence,
  type Taken,
  type Verdict,
} from './explain.ts';
