import type { ProfileRecord, UnitRecord } from '../records/index.ts';
import type { Prop } from '../records/prop.ts';
import { cellCount, shapeDots } from '../prop/cells.ts';
import { unpackPlaces } from './places.ts';
import { rotationOf } from './rotation.ts';

/**
 * Dots of a unit: what is drawn of its cells. `xyz` three numbers a dot in metres, `cells` which cell (from 0, in wiring
 * order) lights it. Mostly one dot a cell; a drawn grid may have more or fewer.
 */
export interface Dots {
  readonly xyz: Float32Array;
  readonly cells: Uint32Array;
}

export interface Size {
  readonly widthM: number;
  readonly depthM: number;
  readonly heightM: number;
}

const DEFAULT_M = 0.3;
const LEAST_M = 0.08;

/** Size of a unit from its profile's measures; never too small to be seen. */
export function unitSize(profile: ProfileRecord | undefined): Size {
  const { widthMm, depthMm, heightMm } = profile?.physical ?? {};
  const metres = (mm: number | undefined): number => Math.max(LEAST_M, (mm ?? DEFAULT_M * 1000) / 1000);
  return { widthM: metres(widthMm), depthM: metres(depthMm), heightM: metres(heightMm ?? depthMm) };
}

const NONE: Dots = { xyz: new Float32Array(0), cells: new Uint32Array(0) };
const ofProp = new WeakMap<Prop, Dots>();
const ofGiven = new WeakMap<UnitRecord, Dots>();

function given(unit: UnitRecord, most: number): Dots {
  let dots = ofGiven.get(unit);
  if (!dots) {
    const xyz = unpackPlaces(unit.cellPlaces!);
    dots = { xyz, cells: Uint32Array.from({ length: xyz.length / 3 }, (_, i) => i) };
    ofGiven.set(unit, dots);
  }
  return dots.cells.length <= most
    ? dots
    : { xyz: dots.xyz.subarray(0, most * 3), cells: dots.cells.subarray(0, most) };
}

function shaped(prop: Prop): Dots {
  let dots = ofProp.get(prop);
  if (!dots) {
    const list = shapeDots(prop.shape);
    const xyz = new Float32Array(list.length * 3);
    list.forEach(({ place }, i) => xyz.set(place, i * 3));
    ofProp.set(prop, (dots = { xyz, cells: Uint32Array.from(list, (d) => d.cell) }));
  }
  return dots;
}

/**
 * Dots in the unit's own frame: the shape of a prop, places that were given one by one, else `count` cells in a row
 * along its width. A unit of a single cell has none: it is drawn as its symbol.
 */
export function ownDots(unit: UnitRecord, profile: ProfileRecord | undefined, count: number): Dots {
  if (unit.prop && unit.prop.shape.shape !== 'given') return shaped(unit.prop);
  const cells = unit.prop ? cellCount(unit.prop.shape) : count;
  if (unit.cellPlaces !== null && cells > 1) return given(unit, cells);
  if (cells < 2) return NONE;
  const { widthM } = unitSize(profile);
  const xyz = new Float32Array(cells * 3);
  for (let i = 0; i < cells; i++) xyz[i * 3] = ((i + 0.5) / cells - 0.5) * widthM;
  return { xyz, cells: Uint32Array.from({ length: cells }, (_, i) => i) };
}

/** Dots in the room. Linear in the dots. */
export function roomDots(unit: UnitRecord, own: Dots): Dots {
  const r = rotationOf(unit.rotation);
  const { x, y, z } = unit.position;
  const xyz = new Float32Array(own.xyz.length);
  for (let i = 0; i < xyz.length; i += 3) {
    const [a, b, c] = [own.xyz[i]!, own.xyz[i + 1]!, own.xyz[i + 2]!];
    xyz[i] = x + r[0]! * a + r[1]! * b + r[2]! * c;
    xyz[i + 1] = y + r[3]! * a + r[4]! * b + r[5]! * c;
    xyz[i + 2] = z + r[6]! * a + r[7]! * b + r[8]! * c;
  }
  return { xyz, cells: own.cells };
}
