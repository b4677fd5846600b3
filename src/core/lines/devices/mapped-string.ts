import { documentOf, recordsOf, type Document } from '../../document/change.ts';
import type { Id } from '../../ids.ts';
import { patchOf } from '../../patch/of-document.ts';
import type { MappedString } from '../../protocol/network.ts';
import { make, type AnyRecord, type ProfileRecord, type UnitRecord } from '../../records/index.ts';
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
  const profile = profileOf(string, context);
  const strings = [...string.strings].sort((a, b) => a.first - b.first);
  const moved = strings.length > 0 ? firstFree(document, strings) - Math.min(...strings.map((s) => s.universe)) : 0;
  const unit = unitOf({ ...string, strings }, profile, moved, context);
  return [profile, unit, ...(unit.patch ? waysTo(profile, unit, moved, context) : [])];
}

const profileOf = ({ name, sizeM: [width, depth, height], cells }: MappedString, context: StringContext) =>
  make('profile', {
    id: context.newId('profile'),
    maker: 'Mapped string',
    model: name,
    fixtureKind: 'strip',
    channels: [
      { key: 'red', name: 'Red', attribute: 'ColorAdd_R' },
      { key: 'green', name: 'Green', attribute: 'ColorAdd_G' },
      { key: 'blue', name: 'Blue', attribute: 'ColorAdd_B' },
    ],
    modes: [
      {
        key: 'rgb',
        name: `${cells.length} cells RGB`,
        slots: [{ cells: cells.length, slots: [{ channel: 'red' }, { channel: 'green' }, { channel: 'blue' }] }],
      },
    ],
    physical: { widthMm: width * 1000, depthMm: depth * 1000, heightMm: height * 1000 },
    flow: true,
  });

/** Its universes are `moved` from those the device says. */
function unitOf(
  { name, sizeM: [width, depth, height], cells, strings }: MappedString,
  profile: ProfileRecord,
  moved: number,
  context: StringContext,
): UnitRecord {
  const first = strings[0];
  return make('unit', {
    id: context.newId('unit'),
    number: context.number,
    name,
    profileId: profile.id,
    mode: 'rgb',
    patch: first ? { universe: first.universe + moved, address: first.address } : null,
    cellPlaces: packPlaces(cells.map(([x, y, z]) => [(x - 0.5) * width, (y - 0.5) * depth, z * height])),
    prop: propSchema.parse({
      shape: { shape: 'given', count: cells.length },
      strings: strings.map((s, i) => ({
        cells: s.count,
        start: i === 0 ? null : { universe: s.universe - first!.universe, address: s.address },
      })),
    }),
  });
}

/** An output to the device and its routes; none where it is not known by an address of its own. */
function waysTo(profile: ProfileRecord, unit: UnitRecord, moved: number, context: StringContext): AnyRecord[] {
  const host = context.address.slice(0, context.address.lastIndexOf(':'));
  if (!ipv4Schema.safeParse(host).success) return [];
  const { newId } = context;
  const output = make('output', { id: newId('output'), name: unit.name, protocol: 'sacn', destinations: [host] });
  const { spans } = patchOf(documentOf([profile, unit])).get(unit.id)!;
  const universes = new Set(spans.map((s) => s.universe));
  const routes = [...universes].map((universe) =>
    make('route', { id: newId('route'), universe, outputId: output.id, wireUniverse: universe - moved }),
  );
  return [output, ...routes];
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
