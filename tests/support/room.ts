import { make } from '../../src/core/records/index.ts';
import type { LiveState } from '../../src/core/show/index.ts';
import { chase, scene, showWith, slotsAt, units } from './rig.ts';

/** A hall with a bar in it: two dimmers (1.1 in the hall, 1.2 in the bar), a hazer and a derby, scenes and a chase. */
export const AREAS = [
  make('area', { id: 'area:hall', number: 1, name: 'Hall' }),
  make('area', { id: 'area:bar', number: 2, name: 'Bar', parentId: 'area:hall' }),
];
export const RIG = units(
  { slug: 'a', profile: 'generic-dimmer', mode: '1ch', address: 1, fields: { areaId: 'area:hall' } },
  { slug: 'b', profile: 'generic-dimmer', mode: '1ch', address: 2, fields: { areaId: 'area:bar' } },
  { slug: 'haze', profile: 'marrow-millmist', mode: '2ch', address: 10 },
  { slug: 'derby', profile: 'marrow-whirligig', mode: '6ch', address: 20 },
);
export const group = make('group', { id: 'group:g', number: 1, name: 'G', unitIds: ['unit:b'] });
export const show = showWith(
  ...AREAS,
  ...RIG,
  group,
  scene('room', { a: { Dimmer: 0.8 }, b: { Dimmer: 0.8 } }),
  scene('high', { a: { Dimmer: 0.6 }, b: { Dimmer: 0.6 } }, { priority: 200 }),
  scene('own', { b: { Dimmer: 0.2 } }),
  scene('barred', { a: { Dimmer: 1 }, b: { Dimmer: 1 } }, { areaId: 'area:bar' }),
  scene('slow', { a: { Dimmer: 1 }, b: { Dimmer: 1 } }, { fadeInMs: 1000, delayMs: 500 }),
  scene('mist', { haze: { Haze1: { range: 'Haze', at: 0.5 } } }),
  chase('walk', ['room', 'own'], { fade: 0, hold: 1 }),
);
export const at = (state: LiveState, ms: number, document = show): Uint8Array =>
  slotsAt(document, { live: state, at: ms });
export const two = (state: LiveState, ms = 9000): number[] => [...at(state, ms).subarray(0, 2)];
