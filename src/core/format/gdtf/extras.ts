import type { ProfileRecord } from '../../records/index.ts';
import type { Range } from '../../records/profile.ts';
import { flatten } from './slots.ts';

/** Our own member of a GDTF file: what a profile holds and GDTF has no place for. Others pass over it. */
export const EXTRAS = 'amber-kite.json';
export const EXTRAS_VERSION = 1;

/** Channels and modes are named by their place in the file, because keys are ours alone. */
export interface Extras {
  readonly version: number;
  readonly id: string;
  readonly fixtureKind: string;
  readonly physical: ProfileRecord['physical'];
  readonly flow: boolean;
  readonly addressFromZero: boolean;
  readonly dipSwitches: boolean;
  readonly dip?: ProfileRecord['dip'];
  readonly unitNumber?: ProfileRecord['unitNumber'];
  readonly moods: ProfileRecord['moods'];
  readonly modeKeys: readonly string[];
  /** Channels that stand in no mode, whole. */
  readonly unused: readonly ProfileRecord['channels'][number][];
  readonly channels: readonly {
    readonly key: string;
    readonly name: string;
    readonly attribute: string;
    readonly bits: number;
    readonly home: number;
    readonly highlight?: number;
    /** By range name: unit, what a shutter lets through, second colour, built-in picture. */
    readonly ranges: Readonly<
      Record<string, Partial<Pick<Range, 'light' | 'colour' | 'colour2' | 'picture' | 'physical'>>>
    >;
  }[];
}

export function extrasOf(profile: ProfileRecord): Extras {
  const used = new Set(profile.modes.flatMap((m) => flatten(m).flatMap((s) => s?.channel ?? [])));
  const { id, fixtureKind, physical, flow, addressFromZero, dipSwitches, dip, unitNumber, moods } = profile;
  return {
    version: EXTRAS_VERSION,
    id,
    fixtureKind,
    physical,
    flow,
    addressFromZero,
    dipSwitches,
    ...(dip ? { dip } : {}),
    ...(unitNumber ? { unitNumber } : {}),
    moods,
    modeKeys: profile.modes.map((m) => m.key),
    unused: profile.channels.filter((c) => !used.has(c.key)),
    channels: profile.channels.map(({ key, name, attribute, bits, home, highlight, ranges }) => ({
      key,
      name,
      attribute,
      bits,
      home,
      ...(highlight === undefined ? {} : { highlight }),
      ranges: Object.fromEntries(
        ranges.map(({ name: range, light, colour, colour2, picture, physical: measured }) => [
          range,
          { light, colour, colour2, picture, physical: measured },
        ]),
      ),
    })),
  };
}
