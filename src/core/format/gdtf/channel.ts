import { attributeInfo, isAttribute } from '../../attributes.ts';
import { guessLight } from '../../profile/guess.ts';
import { freeName, overlapsOf } from '../../profile/ranges.ts';
import type { Channel, PHYSICAL_UNITS, Range } from '../../records/profile.ts';
import type { Say } from '../zip.ts';
import { childrenOf, numberOf, textOf, type Element } from './xml.ts';

type Unit = (typeof PHYSICAL_UNITS)[number];

/** What a wheel's slots look like, by wheel name and slot index from 1. */
export type Wheels = ReadonlyMap<string, readonly { readonly colour?: string; readonly picture?: string }[]>;

export interface ChannelContext {
  readonly wheels: Wheels;
  /** Unit that the file gives an attribute; none where it says nothing. */
  readonly units: ReadonlyMap<string, Unit>;
  readonly notKept: (line: string) => void;
  readonly where: string;
}

/** Names of attributes that are ours under another name. */
const ALIASES: Readonly<Record<string, string>> = {
  ColorAdd_A: 'ColorAdd_RY',
  ColorAdd_L: 'ColorAdd_GY',
  Shutter: 'Shutter1',
  Color: 'Color1',
  Gobo: 'Gobo1',
  Prism: 'Prism1',
  Focus: 'Focus1',
  Frost: 'Frost1',
  Haze: 'Haze1',
  Fog: 'Fog1',
  Fan: 'Fan1',
  Control: 'Control1',
};

/** `128/1` or `32768/2s` as a value and its number of bytes; null for what is neither. */
export function dmxValue(text: string): { value: number; bytes: number } | null {
  const found = /^\s*(\d{1,10})\s*\/\s*([1-4])s?\s*$/.exec(text);
  if (!found) return null;
  const [value, bytes] = [Number(found[1]), Number(found[2])];
  return value < 2 ** (8 * bytes) ? { value, bytes } : null;
}

const coarseOf = (text: string): number | null => {
  const read = dmxValue(text);
  return read ? Math.floor(read.value / 2 ** (8 * (read.bytes - 1))) : null;
};

const scaled = (text: string, bits: number): number | null => {
  const read = dmxValue(text);
  if (!read) return null;
  const shift = bits - read.bytes * 8;
  return Math.floor(shift >= 0 ? read.value * 2 ** shift : read.value / 2 ** -shift);
};

/** Reads a DMXChannel with its first logical channel; null when it has none. `bytes` is how many slots it takes. */
export function readChannel(
  element: Element,
  bytes: number,
  context: ChannelContext,
  say: Say,
): Omit<Channel, 'key'> | null {
  const [logical, ...others] = childrenOf(element, 'LogicalChannel');
  if (!logical) return null;
  for (const other of others)
    context.notKept(`${context.where}: a second logical channel, ${textOf(other, 'Attribute')}`);
  const written = textOf(logical, 'Attribute');
  const attribute = isAttribute(written) ? written : (ALIASES[written] ?? 'NoFeature');
  if (attribute === 'NoFeature' && written !== 'NoFeature')
    context.notKept(`${context.where}: attribute ${written || '(none)'}, kept as a channel without function`);
  const bits = (Math.min(3, bytes) * 8) as 8 | 16 | 24;
  const functions = childrenOf(logical, 'ChannelFunction')
    .flatMap((f) => begin(f, 0, context, say))
    .sort((a, b) => a.from - b.from);
  const initial =
    functions.find((f) => textOf(element, 'InitialFunction').endsWith(`.${textOf(f.element, 'Name')}`)) ?? functions[0];
  const value = (what: string, text: string): number | null => {
    const read = scaled(text, bits);
    if (read === null && text !== '' && !/^none$/i.test(text))
      say(
        'GDTF_DMX_VALUE',
        `${context.where}, ${what}`,
        `“${text.slice(0, 40)}” is no DMX value`,
        text,
        'It is left out: write value/bytes such as 128/1.',
      );
    return read;
  };
  const home = value('Default', textOf(initial?.element, 'Default') || textOf(element, 'Default')) ?? 0;
  const highlight = value('Highlight', textOf(element, 'Highlight'));
  const name = clean(textOf(functions[0]?.element, 'Name')) || attributeInfo(attribute)?.words || attribute;
  return {
    name: functions.length > 1 ? (attributeInfo(attribute)?.words ?? name) : name,
    attribute,
    bits,
    home,
    ...(highlight === null ? {} : { highlight }),
    snap: /^(yes|on)$/i.test(textOf(logical, 'Snap')),
    ranges: readRanges(functions, attribute, context, say),
  };
}

/** Where a function or a set begins, in values 0-255; nothing where what is written is no DMX value, which is said. */
function begin(
  element: Element,
  otherwise: number,
  context: ChannelContext,
  say: Say,
): { element: Element; from: number }[] {
  const written = textOf(element, 'DMXFrom');
  if (written === '') return [{ element, from: otherwise }];
  const from = coarseOf(written);
  if (from !== null) return [{ element, from }];
  say(
    'GDTF_DMX_VALUE',
    `${context.where}, “${clean(textOf(element, 'Name'))}”`,
    `DMXFrom “${written.slice(0, 40)}” is no DMX value`,
    written,
    'It is left out: write value/bytes such as 128/1.',
  );
  return [];
}

const clean = (text: string): string =>
  text
    // eslint-disable-next-line no-control-regex
    .replace(/[\u0000-\u001f\u007f]+/g, ' ')
    .trim()
    .slice(0, 100);

function readRanges(
  functions: readonly { element: Element; from: number }[],
  attribute: string,
  context: ChannelContext,
  say: Say,
): Range[] {
  const ranges: Range[] = [];
  const add = (from: number, to: number, name: string, extra: Partial<Range>): void => {
    if (from > to) return context.notKept(`${context.where}: range “${name}” runs from ${from} to ${to}`);
    const range = { from, to, name: freeName(ranges, name), ...extra };
    if (overlapsOf([...ranges, range]).length > 0)
      return context.notKept(`${context.where}: range “${name}” (${from}-${to}) overlaps another`);
    ranges.push(range);
  };
  functions.forEach(({ element, from }, i) => {
    const to = (functions[i + 1]?.from ?? 256) - 1;
    const own = textOf(element, 'Attribute');
    if (own !== '' && own !== attribute && isAttribute(own) && functions.length > 1)
      context.notKept(`${context.where}: attribute ${own} of “${textOf(element, 'Name')}”, kept as a range`);
    const sets = childrenOf(element, 'ChannelSet')
      .flatMap((s) => begin(s, from, context, say))
      .sort((a, b) => a.from - b.from);
    const named = sets.filter((s) => clean(textOf(s.element, 'Name')) !== '');
    if (named.length === 0) {
      const name = clean(textOf(element, 'Name')) || own;
      if (functions.length > 1 && name !== '') add(from, to, name, look(element, own, attribute, context));
      return;
    }
    sets.forEach((set, j) => {
      const name = clean(textOf(set.element, 'Name'));
      if (name === '') return;
      const found = context.wheels.get(textOf(element, 'Wheel'))?.[(numberOf(set.element, 'WheelSlotIndex') ?? 0) - 1];
      // Open light through a gobo is written as white; it says nothing.
      const { colour, ...plain } = found ?? {};
      const slot = colour === '#ffffff' && !/^Color/.test(attribute) ? plain : found;
      const last = (sets[j + 1]?.from ?? to + 1) - 1;
      const share = { from: (set.from - from) / Math.max(1, to - from), to: (last - from) / Math.max(1, to - from) };
      const whole = look(element, own, attribute, context).physical;
      add(set.from, last, name, {
        // A set that says nothing has its share of what its function says.
        ...(whole ? { physical: part(whole, share) } : {}),
        ...look(set.element, own, attribute, context),
        ...slot,
      });
    });
  });
  return ranges.sort((a, b) => a.from - b.from);
}

function part(whole: NonNullable<Range['physical']>, share: { from: number; to: number }): Range['physical'] {
  const at = (t: number): number => Math.round((whole.from + (whole.to - whole.from) * t) * 1000) / 1000;
  return { from: at(share.from), to: at(share.to), unit: whole.unit };
}

/** Physical ends and light of a function or set, as far as they are said. */
function look(element: Element, own: string, attribute: string, context: ChannelContext): Partial<Range> {
  const [from, to] = [numberOf(element, 'PhysicalFrom'), numberOf(element, 'PhysicalTo')];
  const unit = context.units.get(own || attribute) ?? unitOf(own || attribute);
  const said = from !== null && to !== null && !(from === 0 && to === 1) && !(from === 0 && to === 0 && unit === '');
  const light = /^Shutter\d/.test(attribute)
    ? /Strobe/.test(own)
      ? 'strobe'
      : guessLight(textOf(element, 'Name'))
    : undefined;
  return { ...(said ? { physical: { from, to, unit } } : {}), ...(light ? { light } : {}) };
}

function unitOf(attribute: string): Unit {
  if (/PosRotate|WheelSpin|^(Pan|Tilt)Rotate/.test(attribute)) return 'deg/s';
  if (/Strobe|Shake|Rate$|Pulse/.test(attribute)) return 'hz';
  if (/^(Pan|Tilt|Zoom)$|Pos$/.test(attribute)) return 'deg';
  if (/^CT[OBC]$/.test(attribute)) return 'kelvin';
  return '';
}
