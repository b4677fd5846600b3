import type { Channel, Mode, ProfileRecord, Range } from '../records/profile.ts';
import type { Fault } from '../faults.ts';
import type { PlainValue } from '../records/value.ts';
import { clamp, clamp01 } from '../units.ts';
import { COLOUR_ATTRIBUTES, attributeInfo, splitAttributeKey } from '../attributes.ts';
import { hasPicture } from './pictures.ts';

/** A channel of a mode with its place: `offsets` are slots from the start address (0 = first), coarse first. */
export interface LaidChannel {
  readonly channel: Channel;
  /** 0 for the whole unit, else the cell counted from 1. */
  readonly cell: number;
  readonly offsets: readonly number[];
}

/** What can be programmed on a unit: an attribute of the whole unit or of each of its cells. */
export interface Programmable {
  readonly attribute: string;
  /** 0 when the attribute belongs to the whole unit, else the number of cells that have it. */
  readonly cells: number;
  /** The channel behind it; null for virtual ones (colour, and level where the mode has none). */
  readonly channel: Channel | null;
}

export interface ModeLayout {
  readonly footprint: number;
  readonly channels: readonly LaidChannel[];
  readonly cells: number;
  /** Slots of one cell when cells are repeated in one block; 0 otherwise. Needed to keep cells whole. */
  readonly cellFootprint: number;
  readonly programmable: readonly Programmable[];
  /** True when the mode has no level channel but light that a level can scale: one for the unit, of a prop one a cell. */
  readonly virtualDimmer: boolean;
}

export const findMode = (profile: ProfileRecord, key: string): Mode | undefined =>
  profile.modes.find((m) => m.key === key);

/** Number of slots a mode takes. */
export function footprintOf(mode: Mode): number {
  let slots = 0;
  for (const entry of mode.slots) slots += 'cells' in entry ? entry.cells * entry.slots.length : 1;
  return slots;
}

interface Placed {
  channel: Channel;
  cell: number;
  offsets: number[];
}

/**
 * Lays out a mode. Unknown channels are passed over: `profileFaults` reports them. `cellLevels`: a made-up level is
 * made for each cell instead of the whole unit. Linear in the footprint.
 */
export function layoutMode(profile: ProfileRecord, mode: Mode, options: { cellLevels?: boolean } = {}): ModeLayout {
  const byKey = new Map(profile.channels.map((c) => [c.key, c]));
  const placed = new Map<string, Placed>();
  let offset = 0;
  let cells = 0;
  let cellFootprint = 0;
  const place = (key: string, byte: number, cell: number): void => {
    const channel = byKey.get(key);
    if (channel) {
      const id = `${key}#${cell}`;
      let entry = placed.get(id);
      if (!entry) placed.set(id, (entry = { channel, cell, offsets: [] }));
      entry.offsets[byte] = offset;
    }
    offset++;
  };
  for (const entry of mode.slots) {
    if ('unused' in entry) offset++;
    else if ('cells' in entry) {
      cellFootprint = Math.max(cellFootprint, entry.slots.length);
      for (let i = 0; i < entry.cells; i++) {
        for (const use of entry.slots) place(use.channel, use.byte, entry.firstCell + i);
      }
      cells = Math.max(cells, entry.firstCell + entry.cells - 1);
    } else place(entry.channel, entry.byte, 0);
  }
  const channels = [...placed.values()].map(contiguous);
  return {
    footprint: offset,
    channels,
    cells,
    cellFootprint,
    ...programmableOf(channels, options.cellLevels ?? false),
  };
}

/** Drops fine slots that stand without a coarse one before them, so that `offsets` has no holes. */
function contiguous(entry: Placed): LaidChannel {
  const offsets: number[] = [];
  for (let i = 0; i < entry.offsets.length && entry.offsets[i] !== undefined; i++) offsets.push(entry.offsets[i]!);
  return { ...entry, offsets };
}

const MIXING = new Set(['ColorAdd_R', 'ColorAdd_G', 'ColorAdd_B', 'ColorSub_C', 'ColorSub_M', 'ColorSub_Y']);
/** Emitters that a mixed colour does not reach by itself and that can be driven on their own. */
const isExtraEmitter = (attribute: string): boolean => attribute.startsWith('ColorAdd_') && !MIXING.has(attribute);

/** True for attributes a virtual level scales: the light itself. */
export const isEmitter = (attribute: string): boolean => attribute.startsWith('ColorAdd_');

function programmableOf(
  channels: readonly LaidChannel[],
  cellLevels: boolean,
): { programmable: Programmable[]; virtualDimmer: boolean } {
  const found = new Map<string, { attribute: string; cells: number; channel: Channel | null }>();
  let unitDimmer = false;
  let anyEmitter = false;
  let anyDimmer = false;
  let litCells = 0;
  const note = (attribute: string, cell: number, channel: Channel | null): void => {
    const scope = `${attribute}/${cell === 0 ? 'unit' : 'cell'}`;
    const known = found.get(scope);
    if (!known) found.set(scope, { attribute, cells: cell, channel });
    else known.cells = Math.max(known.cells, cell);
  };
  for (const { channel, cell } of channels) {
    const { attribute } = channel;
    if (attribute === 'NoFeature') continue;
    if (attribute === 'Dimmer') {
      anyDimmer = true;
      if (cell === 0) unitDimmer = true;
    }
    if (isEmitter(attribute)) {
      anyEmitter = true;
      litCells = Math.max(litCells, cell);
    }
    if (MIXING.has(attribute)) for (const c of COLOUR_ATTRIBUTES) note(c, cell, null);
    else note(attribute, cell, channel);
  }
  const virtualDimmer = anyEmitter && !unitDimmer && !anyDimmer;
  if (virtualDimmer) note('Dimmer', cellLevels ? litCells : 0, null);
  const programmable = [...found.values()].sort((a, b) => familyRank(a.attribute) - familyRank(b.attribute));
  return { programmable, virtualDimmer };
}

const FAMILIES = ['level', 'colour', 'aim', 'beam', 'effect', 'control'];
const familyRank = (attribute: string): number =>
  attribute === 'Dimmer' ? -1 : FAMILIES.indexOf(attributeInfo(attribute)?.family ?? 'control');

export const extraEmitters = (layout: ModeLayout): string[] =>
  layout.programmable.filter((p) => isExtraEmitter(p.attribute)).map((p) => p.attribute);

/** Highest raw value of a channel of this many bits. */
export const fullScale = (bits: number): number => 2 ** bits - 1;

export const findRange = (channel: Channel, name: string): Range | undefined =>
  channel.ranges.find((r) => r.name === name);

/** The range a value of the coarse slot falls into. */
export const rangeAt = (channel: Channel, coarse: number): Range | undefined =>
  channel.ranges.find((r) => coarse >= r.from && coarse <= r.to);

/**
 * A programmed value as a fraction 0-1 of the channel's full raw scale. A place in a named range goes from the first
 * raw value of that range to its last. A range the channel does not have gives null: the value has no home here.
 */
export function valueToFraction(channel: Channel | null, value: PlainValue): number | null {
  if (typeof value === 'number') return clamp01(value);
  if (!channel) return null;
  const range = findRange(channel, value.range);
  if (!range) return null;
  const shift = 2 ** (channel.bits - 8);
  const first = range.from * shift;
  const last = (range.to + 1) * shift - 1;
  return (first + (last - first) * clamp01(value.at)) / fullScale(channel.bits);
}

/** The other way round: a fraction as the value people program, by range where the channel has one there. */
export function fractionToValue(channel: Channel | null, fraction: number): PlainValue {
  if (!channel || channel.ranges.length === 0) return clamp01(fraction);
  const raw = Math.round(clamp01(fraction) * fullScale(channel.bits));
  const shift = 2 ** (channel.bits - 8);
  const range = rangeAt(channel, Math.floor(raw / shift));
  if (!range) return clamp01(fraction);
  const first = range.from * shift;
  const last = (range.to + 1) * shift - 1;
  return { range: range.name, at: last === first ? 0 : (raw - first) / (last - first) };
}

/** What a fraction does in the world, from the range it falls into; null where the profile does not say. */
export function physicalOf(channel: Channel, fraction: number): { value: number; unit: string } | null {
  const value = fractionToValue(channel, fraction);
  if (typeof value === 'number') return null;
  const physical = findRange(channel, value.range)?.physical;
  return physical ? { value: physical.from + (physical.to - physical.from) * value.at, unit: physical.unit } : null;
}

/** Rest value of an attribute as a fraction. Virtual colour rests at white, virtual level at nothing. */
export function homeFraction(item: Programmable): number {
  if (item.channel) return clamp(item.channel.home / fullScale(item.channel.bits), 0, 1);
  return item.attribute === 'Dimmer' ? 0 : 1;
}

/** Wheels and what slides into the beam: at "light it" they must let everything through. */
const WHEEL = /^(Color|Gobo|Prism|AnimationWheel)\d+$/;
const CLEAR = /^(open|white|clear|out|none|no (colour|color|gobo|prism|effect))$/i;

/** The slot that lets the whole beam through: where it rests, if that is one, else the first of all. */
function clearSlot(channel: Channel): Range | undefined {
  const lets = (r: Range): boolean =>
    r.picture === 'open' || (r.colour === '#ffffff' && r.colour2 === undefined) || CLEAR.test(r.name.trim());
  const rest = rangeAt(channel, Math.floor(channel.home / 2 ** (channel.bits - 8)));
  return rest && lets(rest) ? rest : channel.ranges.find(lets);
}

/** "Light it": full level, white, shutter open, and what the profile says for the rest. */
export function highlightFraction(item: Programmable): number {
  const { channel, attribute } = item;
  if (!channel) return 1;
  if (channel.highlight !== undefined) return clamp(channel.highlight / fullScale(channel.bits), 0, 1);
  if (attribute === 'Dimmer' || isExtraEmitter(attribute)) return 1;
  const open = channel.ranges.find((r) => r.light === 'open');
  if (open) return valueToFraction(channel, { range: open.name, at: 0.5 }) ?? 0;
  const clear = WHEEL.test(attribute) ? clearSlot(channel) : undefined;
  if (clear) return valueToFraction(channel, { range: clear.name, at: 0.5 }) ?? 0;
  return homeFraction(item);
}

/** Checks what Zod cannot: keys named twice, unknown channels, slots used twice, fine without coarse, ranges that clash. */
export function profileFaults(profile: ProfileRecord): Fault[] {
  const faults: Fault[] = [];
  const say = (code: string, path: string, message: string, received: unknown, remedy: string): void => {
    faults.push({ code, path: `${profile.id}.${path}`, message, received, remedy });
  };
  repeats(profile.channels.map((c) => c.key)).forEach((key) =>
    say('CHANNEL_TWICE', 'channels', `channel key "${key}" is used twice`, key, 'Give each channel its own key.'),
  );
  repeats(profile.modes.map((m) => m.key)).forEach((key) =>
    say('MODE_TWICE', 'modes', `mode key "${key}" is used twice`, key, 'Give each mode its own key.'),
  );
  for (const [i, channel] of profile.channels.entries())
    for (const [j, { picture }] of channel.ranges.entries())
      if (picture && !hasPicture(picture, profile.pictures))
        say(
          'UNKNOWN_PICTURE',
          `channels.${i}.ranges.${j}.picture`,
          `there is no picture "${picture}"`,
          picture,
          'Choose one of the built-in pictures, or one of the profile’s own.',
        );
  profile.channels.forEach((channel, i) => channelFaults(channel, `channels.${i}`, say));
  profile.modes.forEach((mode, i) => modeFaults(profile, mode, `modes.${i}`, say));
  return faults;
}

type Say = (code: string, path: string, message: string, received: unknown, remedy: string) => void;

function channelFaults(channel: Channel, path: string, say: Say): void {
  const full = fullScale(channel.bits);
  for (const name of ['home', 'highlight'] as const) {
    const value = channel[name];
    if (value !== undefined && value > full)
      say('VALUE_TOO_HIGH', `${path}.${name}`, `${value} does not fit ${channel.bits} bits`, value, `Give 0-${full}.`);
  }
  const sorted = [...channel.ranges].sort((a, b) => a.from - b.from);
  sorted.forEach((range, i) => {
    if (range.from > range.to)
      say(
        'RANGE_BACKWARDS',
        `${path}.ranges`,
        `"${range.name}" runs from ${range.from} to ${range.to}`,
        range,
        'Put the lower value first.',
      );
    const next = sorted[i + 1];
    if (next && next.from <= range.to)
      say(
        'RANGE_OVERLAP',
        `${path}.ranges`,
        `"${range.name}" (${range.from}-${range.to}) and "${next.name}" (${next.from}-${next.to}) overlap`,
        next.from,
        `Let "${next.name}" start at ${range.to + 1}.`,
      );
  });
  repeats(channel.ranges.map((r) => r.name)).forEach((name) =>
    say(
      'RANGE_TWICE',
      `${path}.ranges`,
      `the range name "${name}" is used twice`,
      name,
      'Give each range its own name.',
    ),
  );
}

function modeFaults(profile: ProfileRecord, mode: Mode, path: string, say: Say): void {
  const bits = new Map(profile.channels.map((c) => [c.key, c.bits]));
  const used = new Set<string>();
  const use = (key: string, byte: number, cell: number, where: string): void => {
    const known = bits.get(key);
    if (known === undefined)
      return say('UNKNOWN_CHANNEL', where, `there is no channel "${key}"`, key, 'Name one of the profile’s channels.');
    if (byte >= known / 8)
      say(
        'NO_SUCH_BYTE',
        where,
        `"${key}" has ${known} bits: no byte ${byte}`,
        byte,
        'Raise the channel’s bits or leave the slot out.',
      );
    const id = `${key}/${byte}/${cell}`;
    if (used.has(id))
      say('CHANNEL_REUSED', where, `"${key}" stands twice in this mode`, key, 'Use each channel once in a mode.');
    used.add(id);
  };
  mode.slots.forEach((entry, i) => {
    if ('unused' in entry) return;
    if (!('cells' in entry)) return use(entry.channel, entry.byte, 0, `${path}.slots.${i}`);
    for (const [j, slot] of entry.slots.entries())
      use(slot.channel, slot.byte, entry.firstCell, `${path}.slots.${i}.slots.${j}`);
  });
  for (const id of used) {
    const [key, byte, cell] = id.split('/') as [string, string, string];
    if (byte !== '0' && !used.has(`${key}/0/${cell}`))
      say('FINE_WITHOUT_COARSE', path, `"${key}" has a fine slot but no coarse one`, key, 'Add the coarse slot.');
  }
  const footprint = footprintOf(mode);
  if (!profile.flow && footprint > 512)
    say(
      'MODE_TOO_LONG',
      path,
      `${footprint} slots do not fit one universe of 512`,
      footprint,
      'Shorten the mode, or mark the profile as flowing on.',
    );
}

function repeats(keys: readonly string[]): string[] {
  const seen = new Set<string>();
  const twice = new Set<string>();
  for (const key of keys) (seen.has(key) ? twice : seen).add(key);
  return [...twice];
}

/** True when the mode has this attribute for the whole unit or for its cells. */
export const hasAttribute = (layout: ModeLayout, key: string): boolean =>
  layout.programmable.some((p) => p.attribute === splitAttributeKey(key).attribute);
