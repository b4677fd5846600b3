import { documentOf, recordsOf, type Document } from '../../document/change.ts';
import type { Id } from '../../ids.ts';
import { patchOf } from '../../patch/of-document.ts';
import type { MappedString } from '../../protocol/network.ts';
import { make, type AnyRecord } from '../../records/index.ts';
import { ipv4Schema } from '../../records/output.ts';
import { propSchema } from '../../records/prop.ts';
import { packPlaces } from '../../plot/places.ts';

/** What making a string's records needs of the show. */
interface StringContext {
  readonly newId: <K extends 'profile' | 'unit' | 'output' | 'route'>(kind: K) => Id<K>;
  readonly number: number;
  /** `host:port` that the string answers at; its light goes to the host, over sACN. */
  readonly address: string;
}

/**
 * All that a string that told where its cells are needs to shine: its profile; the unit, its cells in wiring order at
 * their places about the middle of the string's foot, each of its strings at the start slot the device says; an output
 * to the device and a route for each of its universes. Where the show uses a universe of that number already, it is
 * another one of ours, and the wire keeps the device's.
 */
export function stringRecords(document: Document, string: MappedString, context: StringContext): AnyRecord[] {
  const [width, depth, height] = string.sizeM;
  const count = string.cells.length;
  const profile = make('profile', {
    id: context.newId('profile'),
    maker: 'Mapped string',
    model: string.name,
    fixtureKind: 'strip',
    channels: [
      { key: 'red', name: 'Red', attribute: 'ColorAdd_R' },
      { key: 'green', name: 'Green', attribute: 'ColorAdd_G' },
      { key: 'blue', name: 'Blue', attribute: 'ColorAdd_B' },
    ],
    modes: [
      {
        key: 'rgb',
        name: `${count} cells RGB`,
        slots: [{ cells: count, slots: [{ channel: 'red' }, { channel: 'green' }, { channel: 'blue' }] }],
      },
    ],
    physical: { widthMm: width * 1000, depthMm: depth * 1000, heightMm: height * 1000 },
    flow: true,
  });
  const strings = [...string.strings].sort((a, b) => a.first - b.first);
  const first = strings[0];
  const moved = first ? firstFree(document, strings) - Math.min(...strings.map((s) => s.universe)) : 0;
  const draft = make('unit', {
    id: context.newId('unit'),
    number: context.number,
    name: string.name,
    profileId: profile.id,
    mode: 'rgb',
    patch: first ? { universe: first.universe + moved, address: first.address } : null,
    cellPlaces: packPlaces(string.cells.map(([x, y, z]) => [(x - 0.5) * width, (y - 0.5) * depth, z * height])),
    prop: propSchema.parse({
      shape: { shape: 'given', count },
      strings: strings.map((s, i) => ({
        cells: s.count,
        start: i === 0 ? null : { universe: s.universe - first!.universe, address: s.address },
      })),
    }),
  });
  const host = context.address.slice(0, context.address.lastIndexOf(':'));
  if (!first || !ipv4Schema.safeParse(host).success) return [profile, draft];
  const output = make('output', {
    id: context.newId('output'),
    name: string.name,
    protocol: 'sacn',
    destinations: [host],
  });
  const universes = new Set(
    patchOf(documentOf([profile, draft]))
      .get(draft.id)!
      .spans.map((s) => s.universe),
  );
  const routes = [...universes].map((universe) =>
    make('route', {
      id: context.newId('route'),
      universe,
      outputId: output.id,
      wireUniverse: universe - moved,
    }),
  );
  return [profile, draft, output, ...routes];
}

/** Where the lowest of its universes goes: as the device says where that is free, else behind all that are used. */
function firstFree(document: Document, strings: readonly { readonly universe: number }[]): number {
  const all = strings.map((s) => s.universe);
  const [low, high] = [Math.min(...all), Math.max(...all)];
  const used = new Set<number>(recordsOf(document, 'route').map((r) => r.universe));
  const patch = patchOf(document);
  for (const { id } of recordsOf(document, 'unit'))
    for (const { universe } of patch.get(id)?.spans ?? []) used.add(universe);
  const taken = [...used].some((universe) => universe >= low && universe <= high);
  return taken ? Math.max(...used) + 1 : low;
}
