import type { ProfileRecord } from '../records/index.ts';
import type { Channel, Mode, ModeSlot } from '../records/profile.ts';
import { guessAttribute } from './guess.ts';
import { freeKey } from './keys.ts';
import { fullScale } from './layout.ts';

/** Writing a profile: channels by their names in the manual, fine ones joined to their coarse ones, modes filled. */

/** Which byte of its channel a name speaks of: `Pan` 0, `Pan fine` 1, `Pan ultra fine` 2; and the channel's own name. */
export interface ByteName {
  readonly base: string;
  readonly byte: 0 | 1 | 2;
  /** True where the name says that it is one byte of several. */
  readonly said: boolean;
}

const BYTES: readonly (readonly [word: string, byte: 0 | 1 | 2])[] = [
  ['(?:ultra|super|extra)[\\s-]*fine|fine\\s*2|24[\\s-]*bit', 2],
  ['fine|lsb|low(?:er)?[\\s-]*byte|16[\\s-]*bit', 1],
  ['coarse|msb|high(?:er)?[\\s-]*byte|8[\\s-]*bit', 0],
];

/** Reads `Pan fine`, `PAN (LSB)`, `Fine pan`, `Tilt 16 bit`, `Dimmer low byte` and their like. */
export function byteName(name: string): ByteName {
  const text = name.trim().replace(/\s+/g, ' ');
  for (const [words, byte] of BYTES) {
    const behind = new RegExp(`^(.+?)[\\s,_(/-]+(?:${words})\\)?$`, 'i').exec(text);
    const before = new RegExp(`^(?:${words})\\s+(.+)$`, 'i').exec(text);
    const base = (behind?.[1] ?? before?.[1])?.trim();
    if (base) return { base: base.charAt(0).toUpperCase() + base.slice(1), byte, said: true };
  }
  return { base: text, byte: 0, said: false };
}

const same = (a: string, b: string): boolean => a.toLowerCase() === b.toLowerCase();

/** The channel that a name is the fine byte of, if the profile has one that is coarser. */
export function coarseOf(channels: readonly Channel[], name: string): Channel | undefined {
  const { base, byte } = byteName(name);
  return byte === 0 ? undefined : channels.find((c) => c.bits === byte * 8 && same(byteName(c.name).base, base));
}

/** A channel in another resolution: what it rests at stays the same fraction. */
export function withBits(channel: Channel, bits: 8 | 16 | 24): Channel {
  const scale = fullScale(bits) / fullScale(channel.bits);
  const { highlight } = channel;
  return {
    ...channel,
    bits,
    home: Math.round(channel.home * scale),
    ...(highlight === undefined ? {} : { highlight: Math.round(highlight * scale) }),
  };
}

const NUMBERED = /^(?:(?:ch(?:annel)?|slot)\.?\s*)?\d{1,3}(?:\s*[-\u2013]\s*\d{1,3})?[\s:;,.|)]+(?=\S)/i;
/** A number that is surely not part of the name: `CH 3 Pan`, `3. Pan`, `3<tab>Pan`. */
const SURELY = /^(?:(?:ch(?:annel)?|slot)\.?\s*\d|\d{1,3}(?:\s*[-\u2013]\s*\d{1,3})?[\t:;.|)])/i;

/** Names of channels from a pasted list, one a line: numbers of slots, bullets and further columns fall away. */
export function channelNames(text: string): string[] {
  const lines = text
    .split(/\r\n|\r|\n/)
    .map((line) => line.replace(/\u00a0/g, ' ').trim())
    .filter((line) => line !== '');
  const all = lines.length > 1 && lines.every((line) => NUMBERED.test(line));
  return lines
    .map((line) => (all || SURELY.test(line) ? line.replace(NUMBERED, '') : line))
    .map((line) =>
      line
        .replace(/^["'\u2022*-]+\s*/, '')
        .split('\t')[0]!
        .replace(/["',;|\s]+$/, '')
        .slice(0, 100),
    )
    .filter((name) => name !== '');
}

/** A profile as it is made new: one channel that nobody wrote, there because a profile needs one. */
export const isUnwritten = ({ channels, modes }: ProfileRecord): boolean => {
  const [only] = channels;
  const slots = modes[0]?.slots ?? [];
  return (
    channels.length === 1 &&
    only!.key === FIRST.key &&
    only!.name === FIRST.name &&
    only!.ranges.length === 0 &&
    modes.length === 1 &&
    slots.length === 1
  );
};
/** The channel a new profile is made with. */
export const FIRST = { key: 'FirstChannel', name: 'First channel', attribute: 'Dimmer' } as const;

/** An attribute that counts (`Gobo1`) with the next number that no channel has; others as they are. */
function freeAttribute(attribute: string, channels: readonly Channel[]): string {
  const counted = /^([A-Za-z]+)1(\D.*)?$/.exec(attribute);
  if (!counted) return attribute;
  let free = attribute;
  for (let n = 2; n <= 9 && channels.some((c) => c.attribute === free); n++)
    free = `${counted[1]}${n}${counted[2] ?? ''}`;
  return free;
}

const bytesOf = ({ key, bits }: Channel): ModeSlot[] =>
  Array.from({ length: bits / 8 }, (_, byte) => ({ channel: key, byte }));

/**
 * Adds channels by their names, in the order of the manual, and their slots to the end of a mode (by key; null: to
 * none). A name that is the fine byte of a channel (`Pan fine`) makes that one finer unless `apart`; its slot stands
 * where its line does. The channel nobody wrote of a new profile goes. `joined`: keys of channels made finer.
 */
export function addChannels(
  profile: ProfileRecord,
  names: readonly string[],
  modeKey: string | null,
  apart = false,
): { readonly profile: ProfileRecord; readonly added: readonly string[]; readonly joined: readonly string[] } {
  const unwritten = isUnwritten(profile);
  let channels: Channel[] = unwritten ? [] : [...profile.channels];
  const slots: ModeSlot[] = [];
  const added: string[] = [];
  const joined: string[] = [];
  for (const name of names) {
    const coarse = apart ? undefined : coarseOf(channels, name);
    if (coarse) {
      const finer = withBits(coarse, (coarse.bits + 8) as 16 | 24);
      channels = channels.map((c) => (c === coarse ? { ...finer, name: byteName(c.name).base } : c));
      slots.push({ channel: coarse.key, byte: coarse.bits / 8 });
      joined.push(coarse.key);
      continue;
    }
    const { base, byte, said } = byteName(name);
    // `Pan 16 bit` alone is one channel of two slots.
    const wide = !apart && said && byte > 0 && /bit/i.test(name);
    const attribute = freeAttribute(guessAttribute(name), channels);
    const channel: Channel = {
      key: freeKey(
        wide ? base : name,
        channels.map((c) => c.key),
      ),
      name: wide ? base : name,
      attribute,
      bits: wide ? (byte === 2 ? 24 : 16) : 8,
      home: 0,
      snap: /^(Color|Gobo|Prism|Shutter|Macro|Effects)\d/.test(attribute),
      ranges: [],
    };
    channels.push(channel);
    slots.push(...bytesOf(channel));
    added.push(channel.key);
  }
  const at = modeKey ?? (unwritten ? profile.modes[0]!.key : null);
  const modes = profile.modes.map((mode) => {
    if (mode.key !== at) return mode;
    const before = unwritten ? [] : mode.slots;
    const fit = slots.filter((slot) => coarseStands(slot, [...before, ...slots]));
    return { ...mode, slots: [...before, ...fit] };
  });
  return { profile: { ...profile, channels, modes }, added, joined };
}

/** A fine slot is only of use in a mode that has the coarse one. */
const coarseStands = (slot: ModeSlot, slots: readonly ModeSlot[]): boolean =>
  !('channel' in slot) ||
  slot.byte === 0 ||
  slots.some((s) => 'channel' in s && s.channel === slot.channel && s.byte === 0);

/** Channels that a mode does not have yet, put at its end with all their bytes, in the order of the profile. */
export function fillMode(profile: ProfileRecord, mode: Mode): ModeSlot[] {
  const has = new Set(
    mode.slots.flatMap((s) => ('unused' in s ? [] : 'cells' in s ? s.slots.map((x) => x.channel) : [s.channel])),
  );
  return [...mode.slots, ...profile.channels.filter((c) => !has.has(c.key)).flatMap(bytesOf)];
}

/** Makes a channel the fine byte of another (`Pan fine` of `Pan`): in every mode its slot becomes that byte. */
export function joinFine(profile: ProfileRecord, fineKey: string): ProfileRecord {
  const fine = profile.channels.find((c) => c.key === fineKey);
  const coarse =
    fine &&
    coarseOf(
      profile.channels.filter((c) => c !== fine),
      fine.name,
    );
  if (!fine || !coarse) return profile;
  const byte = coarse.bits / 8;
  const channels = profile.channels
    .filter((c) => c !== fine)
    .map((c) => (c === coarse ? { ...withBits(c, (c.bits + 8) as 16 | 24), name: byteName(c.name).base } : c));
  const joined = <T extends { readonly channel: string; readonly byte: number }>(slot: T): T =>
    slot.channel === fineKey ? { ...slot, channel: coarse.key, byte } : slot;
  const modes = profile.modes.map((mode) => ({
    ...mode,
    slots: mode.slots.map((slot) =>
      'unused' in slot ? slot : 'cells' in slot ? { ...slot, slots: slot.slots.map(joined) } : joined(slot),
    ),
  }));
  const { [fineKey]: _, ...moods } = profile.moods;
  return { ...profile, channels, modes, moods };
}
