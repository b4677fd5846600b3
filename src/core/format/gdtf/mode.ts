import { freeKey } from '../../profile/keys.ts';
import type { Channel } from '../../records/profile.ts';
import type { Say } from '../zip.ts';
import { readChannel, type ChannelContext } from './channel.ts';
import type { FlatSlot } from './slots.ts';
import { childOf, childrenOf, numberOf, parts, textOf, type Element } from './xml.ts';

const MOST_SLOTS = 65_536;

/** Where the cells of each referenced geometry begin, by the geometry's name, in slots from 0. */
function referencesIn(top: Element | undefined): Map<string, number[]> {
  const found = new Map<string, number[]>();
  for (const [kind, element] of parts(top)) {
    if (kind !== 'GeometryReference') continue;
    const offset = numberOf(childOf(element, 'Break'), 'DMXOffset') ?? 1;
    const name = textOf(element, 'Geometry');
    found.set(name, [...(found.get(name) ?? []), offset - 1]);
  }
  return found;
}

/**
 * A mode slot by slot; null where it cannot be used, which is said. Parts it names that the file does not have are told
 * as not kept.
 */
export function readMode(
  element: Element,
  name: string,
  geometries: Element | undefined,
  book: ChannelBook,
  context: ChannelContext,
  say: Say,
): (FlatSlot | null)[] | null {
  const where = `DMXMode "${name}"`;
  const tops = [...parts(geometries)].map(([, e]) => e);
  const top = tops.find((e) => textOf(e, 'Name') === textOf(element, 'Geometry'));
  const geometry = textOf(element, 'Geometry');
  const missing = new Set<string>();
  const lost = (name: string, of: string): void => {
    if (name === '' || missing.has(name)) return;
    missing.add(name);
    context.notKept(`${of}: there is no geometry “${name.slice(0, 60)}” in the file: which cells it has is not known`);
  };
  if (!top) lost(geometry, where);
  const names = new Set(tops.map((e) => textOf(e, 'Name')));
  const references = referencesIn(top);
  for (const name of references.keys()) if (!names.has(name)) lost(name, where);
  /** A part inside a referenced geometry repeats with it. */
  const templateOf = (geometry: string): string | null => {
    if (references.has(geometry)) return geometry;
    for (const template of references.keys()) {
      const root = tops.find((e) => textOf(e, 'Name') === template);
      if ([...parts(root)].some(([, e]) => textOf(e, 'Name') === geometry)) return template;
    }
    return null;
  };
  const list = childrenOf(childOf(element, 'DMXChannels'), 'DMXChannel');
  const cellOf = siblings(list, (geometry) => templateOf(geometry) !== null);
  const firstCell = new Map<string, number>();
  let nextCell = Math.max(0, ...cellOf.values()) + 1;
  for (const [template, starts] of references) {
    firstCell.set(template, nextCell);
    nextCell += starts.length;
  }
  const flat: (FlatSlot | null)[] = [];
  for (const [i, dmx] of list.entries()) {
    const at = `${where}, DMXChannel ${i + 1}`;
    const written = textOf(dmx, 'Offset');
    if (written === '' || /none/i.test(written)) {
      context.notKept(`${at}: a virtual channel without slots`);
      continue;
    }
    const brk = textOf(dmx, 'DMXBreak');
    if (brk !== '' && brk !== '1' && brk !== 'Overwrite') {
      context.notKept(`${at}: it has an address of its own (break ${brk})`);
      continue;
    }
    const offsets = written.split(',').map((t) => Number(t.trim()));
    if (offsets.length > 3 || offsets.some((o) => !Number.isInteger(o) || o < 1 || o > MOST_SLOTS)) {
      say(
        'GDTF_OFFSET',
        at,
        `the offset "${written.slice(0, 40)}" is not one to three slots`,
        written,
        'The mode is left out.',
      );
      return null;
    }
    const read = readChannel(dmx, offsets.length, { ...context, where: at }, say);
    if (!read) {
      say('GDTF_NO_FUNCTION', at, 'has no logical channel', null, 'The mode is left out.');
      return null;
    }
    const geometry = textOf(dmx, 'Geometry');
    if (!names.has(geometry)) lost(geometry, at);
    const template = templateOf(geometry);
    const starts = template === null ? [0] : references.get(template)!;
    const cell = template === null ? (cellOf.get(geometry) ?? 0) : firstCell.get(template)!;
    const taken = (key: string): boolean => flat.some((s) => s?.channel === key && s.cell === cell);
    const key =
      read.attribute === 'NoFeature' && read.ranges.length === 0 && read.name === 'Not used'
        ? null
        : book.keyFor(read, taken);
    for (const [n, start] of starts.entries()) {
      for (const [byte, offset] of offsets.entries()) {
        const place = start + offset - 1;
        if (place < 0 || place >= MOST_SLOTS) {
          say('GDTF_OFFSET', at, `slot ${place + 1} does not exist`, place + 1, 'The mode is left out.');
          return null;
        }
        if (flat[place]) {
          say(
            'GDTF_SLOT_TWICE',
            at,
            `slot ${place + 1} is taken by "${flat[place].channel}" already`,
            place + 1,
            'The mode is left out.',
          );
          return null;
        }
        while (flat.length <= place) flat.push(null);
        if (key !== null) flat[place] = { channel: key, byte, cell: cell === 0 ? 0 : cell + n };
      }
    }
  }
  return flat;
}

/** Parts of the fixture that have the same attributes as others beside them are cells, in the order they come. */
function siblings(list: readonly Element[], referenced: (geometry: string) => boolean): Map<string, number> {
  const attributes = new Map<string, string[]>();
  for (const dmx of list) {
    const geometry = textOf(dmx, 'Geometry');
    if (referenced(geometry)) continue;
    const names = childrenOf(dmx, 'LogicalChannel').map((l) => textOf(l, 'Attribute'));
    attributes.set(geometry, [...(attributes.get(geometry) ?? []), ...names]);
  }
  const alike = new Map<string, string[]>();
  for (const [geometry, names] of attributes) {
    const signature = names.join(' ');
    alike.set(signature, [...(alike.get(signature) ?? []), geometry]);
  }
  const cells = new Map<string, number>();
  for (const group of alike.values()) if (group.length > 1) for (const g of group) cells.set(g, cells.size + 1);
  return cells;
}

/** The channels found so far, and which of them say the same: modes share them. */
export class ChannelBook {
  readonly channels: Channel[] = [];
  readonly #alike = new Map<string, Channel[]>();

  /** The key of a channel like this one that is free in the mode being read, or of a new one. */
  keyFor(read: Omit<Channel, 'key'>, taken: (key: string) => boolean): string {
    const signature = JSON.stringify([read.attribute, read.name, read.snap, read.ranges]);
    const alike = this.#alike.get(signature) ?? [];
    const known = alike.find((c) => !taken(c.key));
    if (known) {
      // The mode with the finest slots tells rest and highlight best.
      if (read.bits > known.bits) Object.assign(known, { bits: read.bits, home: read.home, highlight: read.highlight });
      return known.key;
    }
    const key = freeKey(
      read.name,
      this.channels.map((c) => c.key),
      'channel',
    );
    const channel = { key, ...read };
    this.channels.push(channel);
    this.#alike.set(signature, [...alike, channel]);
    return key;
  }
}
