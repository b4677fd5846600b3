import type { ProfileRecord } from '../records/index.ts';
import { BAR_PROFILES } from './library/bars.ts';
import { EFFECT_PROFILES } from './library/effects.ts';
import { HEAD_PROFILES } from './library/heads.ts';
import { MACHINE_PROFILES } from './library/machines.ts';
import { MOVING_PROFILES } from './library/moving.ts';
import { PAR_PROFILES } from './library/pars.ts';
import { STATIC_PROFILES } from './library/static.ts';

/** The library that ships with the program: generic profiles and those of invented makers. By maker, then model. */
export const builtInProfiles = (): ProfileRecord[] => [...LIBRARY];

const LIBRARY: readonly ProfileRecord[] = [
  ...STATIC_PROFILES,
  ...PAR_PROFILES,
  ...BAR_PROFILES,
  ...MOVING_PROFILES,
  ...HEAD_PROFILES,
  ...EFFECT_PROFILES,
  ...MACHINE_PROFILES,
].sort((a, b) => a.maker.localeCompare(b.maker, 'en') || a.model.localeCompare(b.model, 'en', { numeric: true }));
