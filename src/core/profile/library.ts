import type { ProfileRecord } from '../records/index.ts';
import { MOVING_PROFILES } from './library/moving.ts';
import { STATIC_PROFILES } from './library/static.ts';

/** The profiles every new show starts with: generic ones and those of invented makers. */
export const builtInProfiles = (): ProfileRecord[] => [...STATIC_PROFILES, ...MOVING_PROFILES];
