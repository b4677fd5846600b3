import { usualAims } from '../../core/aim/usual.ts';
import type { Document } from '../../core/document/change.ts';
import type { AimId } from '../../core/ids.ts';
import { make, type AnyRecord } from '../../core/records/index.ts';
import type { UnitValues } from '../../core/records/scene.ts';

/** Aims of the rink: the usual ones, and a row and two arcs on the floor that the beams walk along. */
const slugOf = (name: string): string => name.toLowerCase().replace(/[^a-z]+/g, '-');

export const aims = (document: Document): AnyRecord[] => {
  const usual = usualAims(document, { floorId: 'area:floor', boothId: 'thing:booth' }, () => 'aim:new').map((aim) => ({
    ...aim,
    id: `aim:${slugOf(aim.name)}` as AimId,
  }));
  return [
    ...usual,
    make('aim', {
      id: 'aim:row',
      number: usual.length + 1,
      name: 'Row on the floor',
      folder: 'Rink',
      colour: '#12b5ff',
      anchor: 'area:floor',
      heads: ['group:spots'],
      where: { is: 'spread', from: { x: -6, y: 0, z: 0 }, to: { x: 6, y: 0, z: 0 }, bowM: 0 },
    }),
    ...([-2.6, 2.6] as const).map((bowM, i) =>
      make('aim', {
        id: i === 0 ? 'aim:arc-south' : 'aim:arc-north',
        number: usual.length + 4 + i,
        name: `Arc to the ${i === 0 ? 'counter' : 'booth'}`,
        folder: 'Rink',
        colour: '#9b6bff',
        anchor: 'area:floor',
        heads: ['group:spots'],
        where: { is: 'spread', from: { x: -6.5, y: 0, z: 0 }, to: { x: 6.5, y: 0, z: 0 }, bowM },
      }),
    ),
    make('aim', {
      id: 'aim:ball',
      number: usual.length + 2,
      name: 'Mirror ball',
      folder: 'Rink',
      colour: '#cfe3ff',
      where: { is: 'point', at: { x: 0, y: 2, z: 4.4 } },
    }),
    make('aim', {
      id: 'aim:line',
      number: usual.length + 3,
      name: 'Along the counter',
      folder: 'Rink',
      colour: '#ff7a33',
      anchor: 'thing:counter',
      where: { is: 'spread', from: { x: -4, y: 0, z: 1.1 }, to: { x: 4, y: 0, z: 1.1 }, bowM: 0 },
    }),
  ];
};

/** Pan and tilt that follow an aim. */
export const toAim = (slug: string): UnitValues => ({ Pan: { aim: `aim:${slug}` }, Tilt: { aim: `aim:${slug}` } });
