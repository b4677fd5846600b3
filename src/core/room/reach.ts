import { brightness, type BeamSet } from './beams.ts';

/** So many beams light one body at the most: the strongest at its middle. */
export const BEAMS_A_BODY = 8;
/** A beam that brings less than this to a body is not seen on it. */
const DARK = 0.002;

/**
 * Bodies as balls around them, and which beams meet each: `at` four numbers a body (middle in metres, radius), `beams` of
 * each body `BEAMS_A_BODY` places in the set, first those with something in them (`shaped` of them), then the plain ones,
 * `count` in all.
 */
export interface Reached {
  readonly bodies: number;
  readonly at: Float32Array;
  readonly beams: Float32Array;
  readonly count: Float32Array;
  readonly shaped: Float32Array;
}

export const makeReached = (at: Float32Array): Reached => ({
  bodies: at.length / 4,
  at,
  beams: new Float32Array((at.length / 4) * BEAMS_A_BODY),
  count: new Float32Array(at.length / 4),
  shaped: new Float32Array(at.length / 4),
});

const strength = new Float32Array(BEAMS_A_BODY);

/** Finds them anew. Bodies times beams that are lit. */
export function readReached({ bodies, at, beams, count, shaped }: Reached, set: BeamSet): void {
  const lit: number[] = [];
  for (let beam = 0; beam < set.count; beam++) if (brightness(set, beam) * set.intensity[beam]! > DARK) lit.push(beam);
  for (let body = 0; body < bodies; body++) {
    const [x, y, z, radius] = [at[body * 4]!, at[body * 4 + 1]!, at[body * 4 + 2]!, at[body * 4 + 3]!];
    const first = body * BEAMS_A_BODY;
    let found = 0;
    for (const beam of lit) {
      const b = beam * 3;
      const [wx, wy, wz] = [x - set.origin[b]!, y - set.origin[b + 1]!, z - set.origin[b + 2]!];
      const ahead = wx * set.direction[b]! + wy * set.direction[b + 1]! + wz * set.direction[b + 2]!;
      if (ahead < -radius) continue;
      const far = wx * wx + wy * wy + wz * wz;
      const outer = set.outer[beam]!;
      const wide = outer * Math.max(0, ahead) + radius * Math.sqrt(1 + outer * outer);
      if (far - ahead * ahead > wide * wide) continue;
      const near = Math.max(0, Math.sqrt(far) - radius);
      const brings = (brightness(set, beam) * set.intensity[beam]!) / (near * near + 1.5);
      if (brings < DARK || (found === BEAMS_A_BODY && brings <= strength[found - 1]!)) continue;
      let place = found < BEAMS_A_BODY ? found++ : found - 1;
      for (; place > 0 && strength[place - 1]! < brings; place--) {
        strength[place] = strength[place - 1]!;
        beams[first + place] = beams[first + place - 1]!;
      }
      strength[place] = brings;
      beams[first + place] = beam;
    }
    count[body] = found;
    shaped[body] = shapedFirst(set, beams, first, found);
  }
}

/** Puts those with something in them before the others; says how many they are. */
function shapedFirst(set: BeamSet, beams: Float32Array, first: number, found: number): number {
  let shaped = 0;
  for (let i = 0; i < found; i++) {
    const beam = beams[first + i]!;
    if (!set.shaped[beam]) continue;
    beams[first + i] = beams[first + shaped]!;
    beams[first + shaped++] = beam;
  }
  return shaped;
}
