export { compileRig, type CompiledRig, type CompiledUnit, type RigArrays } from './rig.ts';
export {
  chaseAt,
  compileChase,
  compileScene,
  compileTarget,
  compileValues,
  sequenceOf,
  type ChaseProgram,
  type Program,
  type SceneProgram,
  type TargetId,
} from './program.ts';
export {
  applyLive,
  beatAt,
  DARK_MS,
  darkLevel,
  endedMsAgo,
  initialLive,
  isPlaying,
  liveCommandSchema,
  liveStateSchema,
  playLevel,
  probeSchema,
  pruneLive,
  slotKey,
  type LiveCommand,
  type LiveState,
  type Play,
  type Probe,
  type Tempo,
} from './live.ts';
export { makeFrame, prepareLive, render, type Frame, type PreparedLive } from './render.ts';
