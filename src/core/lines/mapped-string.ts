import type { ProfileId, UnitId } from '../ids.ts';
import type { MappedString } from '../protocol/network.ts';
import { make, type AnyRecord } from '../records/index.ts';
import { propSchema } from '../records/prop.ts';
import { packPlaces } from '../plot/places.ts';

/**
 * The profile and the unit of a string that told where its cells are: its cells in wiring order at their places about
 * the middle of the string's foot, each of its strings at the start slot the device says.
 */
export function stringRecords(
  string: MappedString,
  ids: { readonly profileId: ProfileId; readonly unitId: UnitId; readonly number: number },
): AnyRecord[] {
  const [width, depth, height] = string.sizeM;
  const count = string.cells.length;
  const profile = make('profile', {
    id: ids.profileId,
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
  const unit = make('unit', {
    id: ids.unitId,
    number: ids.number,
    name: string.name,
    profileId: ids.profileId,
    mode: 'rgb',
    patch: first ? { universe: first.universe, address: first.address } : null,
    cellPlaces: packPlaces(string.cells.map(([x, y, z]) => [(x - 0.5) * width, (y - 0.5) * depth, z * height])),
    prop: propSchema.parse({
      shape: { shape: 'given', count },
      strings: strings.map((s, i) => ({
        cells: s.count,
        start: i === 0 ? null : { universe: s.universe - first!.universe, address: s.address },
      })),
    }),
  });
  return [profile, unit];
}
