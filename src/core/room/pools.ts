import { brightness, type BeamSet } from './beams.ts';
import { planesOf, type RoomBox } from './box.ts';

/**
 * Pools of light on the faces of a room as structure of arrays, three numbers each: the middle of the piece of the face
 * that may be lit, half of it across and half of it up; and which beam lights it.
 */
export interface PoolSet {
  count: number;
  readonly most: number;
  readonly at: Float32Array;
  readonly across: Float32Array;
  readonly up: Float32Array;
  readonly beam: Float32Array;
}

/** Mostly a beam lights one face; in a corner up to three. */
const FACES_A_BEAM = 3;

export function makePools(beams: BeamSet): PoolSet {
  const most = beams.count * FACES_A_BEAM;
  return {
    count: 0,
    most,
    at: new Float32Array(most * 3),
    across: new Float32Array(most * 3),
    up: new Float32Array(most * 3),
    beam: new Float32Array(most),
  };
}

/** A beam that is darker than this lights nothing that is seen. */
const DARK = 0.002;
const AXES = ['x', 'y', 'z'] as const;
/** Faces lit at a flatter angle than this are left out: the light is thin there and the pool without an end. */
const FLATTEST = 0.06;

/**
 * Which pieces of the room's faces the beams light. A piece is the box around where the field's cone meets the face, cut
 * to the face; whoever draws it decides point by point how much light there is. Linear in the beams.
 */
export function readPools(pools: PoolSet, beams: BeamSet, room: RoomBox): void {
  const planes = planesOf(room);
  const sizes = {
    x: [-room.widthM / 2, room.widthM / 2],
    y: [-room.depthM / 2, room.depthM / 2],
    z: [0, room.heightM],
  };
  pools.count = 0;
  for (let beam = 0; beam < beams.count; beam++) {
    const at = beam * 3;
    if (brightness(beams, beam) < DARK) continue;
    const half = Math.atan(beams.outer[beam]!);
    let found = 0;
    for (const { axis, at: level, looks } of planes) {
      if (found === FACES_A_BEAM || pools.count === pools.most) break;
      const a = AXES.indexOf(axis);
      const apart = (beams.origin[at + a]! - level) * looks;
      if (apart <= 0.01) continue;
      const [b, c] = [(a + 1) % 3, (a + 2) % 3];
      // The edges of the cone in the plane through the axis and the normal, and across it.
      const falls = -beams.direction[at + a]! * looks;
      const lean = Math.acos(Math.min(1, Math.max(-1, falls)));
      if (lean - half > Math.PI / 2 - FLATTEST) continue;
      const nearest = Math.tan(lean - half) * apart;
      const farthest = Math.tan(Math.min(Math.PI / 2 - FLATTEST, lean + half)) * apart;
      const flat = Math.hypot(beams.direction[at + b]!, beams.direction[at + c]!);
      const [tb, tc] = flat > 1e-6 ? [beams.direction[at + b]! / flat, beams.direction[at + c]! / flat] : [1, 0];
      const middle = (nearest + farthest) / 2;
      const length = Math.max(0.02, (farthest - nearest) / 2);
      // An ellipse is as wide as the cone is at its farthest part, at the most.
      const wide = Math.min(
        length,
        (apart / Math.max(FLATTEST, Math.cos(Math.min(1.5, lean)))) * Math.tan(half) * 1.6 + 0.02,
      );
      const [mb, mc] = [beams.origin[at + b]! + tb * middle, beams.origin[at + c]! + tc * middle];
      const [rb, rc] = [Math.abs(tb) * length + Math.abs(tc) * wide, Math.abs(tc) * length + Math.abs(tb) * wide];
      const [lowB, highB] = cut(mb - rb, mb + rb, sizes[AXES[b]!] as [number, number]);
      const [lowC, highC] = cut(mc - rc, mc + rc, sizes[AXES[c]!] as [number, number]);
      if (lowB >= highB || lowC >= highC) continue;
      const i = pools.count++;
      found++;
      pools.at[i * 3 + a] = level;
      pools.at[i * 3 + b] = (lowB + highB) / 2;
      pools.at[i * 3 + c] = (lowC + highC) / 2;
      pools.across.fill(0, i * 3, i * 3 + 3);
      pools.up.fill(0, i * 3, i * 3 + 3);
      pools.across[i * 3 + b] = (highB - lowB) / 2;
      // Across and up turn about the way the face looks, into the room.
      pools.up[i * 3 + c] = (looks * (highC - lowC)) / 2;
      pools.beam[i] = beam;
    }
  }
}

const cut = (low: number, high: number, [least, most]: readonly [number, number]): [number, number] => [
  Math.max(least, low),
  Math.min(most, high),
];
