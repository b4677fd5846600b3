import { strFromU8 } from 'fflate';
import type { ProfileRecord } from '../../records/index.ts';
import type { Channel, FixtureKind, Mode } from '../../records/profile.ts';
import { EXTRAS_VERSION, type Extras } from './extras.ts';

/** A first guess of what a fixture is, from what it can do. */
export function fixtureKindOf(channels: readonly Channel[], modes: readonly Mode[], model: string): FixtureKind {
  const has = (test: RegExp): boolean => channels.some((c) => test.test(c.attribute));
  const cells = Math.max(0, ...modes.flatMap((m) => m.slots.map((s) => ('cells' in s ? s.cells : 0))));
  if (has(/^(Pan|Tilt)$/)) return /scan/i.test(model) ? 'scanner' : 'head';
  if (has(/^(Haze|Fog)\d/)) return 'hazer';
  if (/laser/i.test(model)) return 'laser';
  if (/strobe/i.test(model)) return 'strobe';
  if (cells >= 64) return 'matrix';
  if (cells >= 2) return 'bar';
  if (has(/^Effects\d+PosRotate$/)) return 'derby';
  if (has(/^Color(Add|Sub|RGB)_/)) return 'par';
  return has(/^Dimmer$/) ? 'dimmer' : 'other';
}

/**
 * Lays what our own member of the file says over what was read from the description, as far as the two still agree:
 * another program may have changed the description since. What comes of it is validated by the caller.
 */
export function withExtras(profile: ProfileRecord, member: Uint8Array | undefined): unknown {
  const extras = member && parse(member);
  if (!extras) return profile;
  const keys = new Map<string, string>();
  const taken = new Set<string>();
  const channels = profile.channels.map((channel) => {
    const own = extras.channels.find(
      (c) => c.name === channel.name && c.attribute === channel.attribute && !taken.has(c.key),
    );
    if (!own) return channel;
    taken.add(own.key);
    keys.set(channel.key, own.key);
    const finer = own.bits >= channel.bits;
    const { highlight: _, ...rest } = channel;
    return {
      ...(finer ? rest : channel),
      key: own.key,
      ...(finer
        ? { bits: own.bits, home: own.home, ...(own.highlight === undefined ? {} : { highlight: own.highlight }) }
        : {}),
      ranges: channel.ranges.map(({ from, to, name, ...read }) => ({ from, to, name, ...(own.ranges[name] ?? read) })),
    };
  });
  const order = (c: { key: string }): number => {
    const place = extras.channels.findIndex((o) => o.key === c.key);
    return place < 0 ? extras.channels.length : place;
  };
  const renamed = (key: string): string => keys.get(key) ?? key;
  return {
    ...profile,
    id: extras.id,
    fixtureKind: extras.fixtureKind,
    physical: extras.physical,
    flow: extras.flow,
    addressFromZero: extras.addressFromZero,
    dipSwitches: extras.dipSwitches,
    ...(extras.dip ? { dip: extras.dip } : {}),
    ...(extras.unitNumber ? { unitNumber: extras.unitNumber } : {}),
    moods: extras.moods,
    channels: [...channels, ...missing(extras, channels)].sort((a, b) => order(a) - order(b)),
    modes: profile.modes.map((mode, i) => ({
      key: profile.modes.length === extras.modeKeys.length ? extras.modeKeys[i] : mode.key,
      name: mode.name,
      slots: mode.slots.map((slot) => {
        if ('unused' in slot) return slot;
        if ('cells' in slot) return { ...slot, slots: slot.slots.map((s) => ({ ...s, channel: renamed(s.channel) })) };
        return { ...slot, channel: renamed(slot.channel) };
      }),
    })),
  };
}

/** Channels that stand in no mode are not in the description at all. */
const missing = (extras: Extras, found: readonly { key: string }[]): readonly Channel[] =>
  extras.unused.filter((c) => !found.some((f) => f.key === c.key));

function parse(member: Uint8Array): Extras | null {
  try {
    const value = JSON.parse(strFromU8(member)) as Extras;
    const sound =
      value.version === EXTRAS_VERSION &&
      Array.isArray(value.modeKeys) &&
      Array.isArray(value.channels) &&
      Array.isArray(value.unused) &&
      value.channels.every((c) => typeof c.key === 'string' && typeof c.ranges === 'object' && c.ranges !== null);
    return sound ? value : null;
  } catch {
    return null;
  }
}
