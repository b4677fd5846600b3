export {
  FLASH_LIMIT_HZ,
  TEST_LEASE_MS,
  runningTestSchema,
  testRequestSchema,
  type RunningTest,
  type TestRequest,
  type TestScope,
  type TestSignal,
} from './signal.ts';
export { OTHER } from './roles.ts';
export { prepareTest, slotsOfScope, type PreparedTest, type ScopeSlot } from './prepare.ts';
export {
  applyTest,
  COLOUR_NAMES,
  coloursAt,
  FREE_BYTE,
  LOCKED_BYTE,
  SHUTTER_BYTE,
  writeRaw,
  type RawTarget,
} from './apply.ts';
