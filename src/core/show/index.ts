export { compileRig, type CompiledRig, type CompiledUnit, type RigArrays } from './rig.ts';
export { sequenceOf, stepStarts, type ChaseProgram } from './chase.ts';
export { chaseAt } from './chase-at.ts';
export { beatAt, DARK_MS, darkLevel, endedMsAgo, isOver, playLevel, positionOf, type Pace } from './clock.ts';
export { applyLive, paceOf } from './apply-live.ts';
export { idsNamedBy, liveCommandSchema, type LiveCommand } from './command.ts';
export { pruneLive, reanchor } from './follow.ts';
export { mergedTry, type Tried } from './go-live.ts';
export {
  compileChase,
  compilePlay,
  compileScene,
  partsOf,
  slotsOf,
  type Program,
  type SceneProgram,
} from './program.ts';
export { Programs } from './programs.ts';
export { compileValues } from './values.ts';
export {
  FASTEST_SPEED,
  initialLive,
  isPlaying,
  liveStateSchema,
  moodOf,
  newPlay,
  probeSchema,
  recordIdOf,
  slotKey,
  type LiveState,
  type Play,
  type Probe,
  type TargetId,
  type Tempo,
} from './state.ts';
export { prepareLive } from './prepare.ts';
export { drawLayers, finish, makeFrame, mixFrames, render, type Frame, type PreparedLive } from './render.ts';
export { FlashGuard, type Safety } from './safety.ts';
export {
  explain,
  explainAll,
  playName,
  type Explanation,
  type Influence,
  type Taken,
  type Verdict,
} from './explain.ts';
