import type { Sound } from './sound.ts';

/** Loudness as a whole: ITU-R BS.1770-4, of one channel (of several mixed to one it is what they come to together). */

const [BLOCK_S, STEP_S] = [0.4, 0.1];
const [ABSOLUTE_LUFS, RELATIVE_LU] = [-70, -10];

/** A filter of second order: what comes in weighted by `b`, what came out by `a`. */
interface Biquad {
  readonly b: readonly [number, number, number];
  readonly a: readonly [number, number];
}

/** The two filters of K-weighting at a rate: a shelf for the head, then what lets the lowest out. */
function kWeighting(rate: number): readonly [Biquad, Biquad] {
  const shelf = ((): Biquad => {
    const [f, gain, q] = [1681.974450955533, 3.999843853973347, 0.7071752369554196];
    const k = Math.tan((Math.PI * f) / rate);
    const vh = 10 ** (gain / 20);
    const vb = vh ** 0.4996667741545416;
    const a0 = 1 + k / q + k * k;
    return {
      b: [(vh + (vb * k) / q + k * k) / a0, (2 * (k * k - vh)) / a0, (vh - (vb * k) / q + k * k) / a0],
      a: [(2 * (k * k - 1)) / a0, (1 - k / q + k * k) / a0],
    };
  })();
  const pass = ((): Biquad => {
    const [f, q] = [38.13547087602444, 0.5003270373238773];
    const k = Math.tan((Math.PI * f) / rate);
    const a0 = 1 + k / q + k * k;
    return { b: [1, -2, 1], a: [(2 * (k * k - 1)) / a0, (1 - k / q + k * k) / a0] };
  })();
  return [shelf, pass];
}

/** Integrated loudness, LUFS; -70 and below is silence. */
export function loudnessOf({ samples, rate }: Sound): number {
  const powers = stepPowers({ samples, rate });
  const perBlock = Math.round(BLOCK_S / STEP_S);
  const blocks: number[] = [];
  for (let i = 0; i + perBlock <= powers.length; i++) {
    let sum = 0;
    for (let k = 0; k < perBlock; k++) sum += powers[i + k]!;
    blocks.push(sum / perBlock);
  }
  const lufs = (power: number): number => -0.691 + 10 * Math.log10(Math.max(power, 1e-12));
  const mean = (list: readonly number[]): number => list.reduce((a, b) => a + b, 0) / list.length;
  const loud = blocks.filter((power) => lufs(power) > ABSOLUTE_LUFS);
  if (loud.length === 0) return ABSOLUTE_LUFS;
  const gate = lufs(mean(loud)) + RELATIVE_LU;
  const kept = loud.filter((power) => lufs(power) > gate);
  return lufs(mean(kept.length > 0 ? kept : loud));
}

/** Mean squares of the weighted sound, a tenth of a second each. */
function stepPowers({ samples, rate }: Sound): number[] {
  const [one, two] = kWeighting(rate);
  const step = Math.max(1, Math.round(rate * STEP_S));
  const powers: number[] = [];
  let [x1, x2, y1, y2, z1, z2] = [0, 0, 0, 0, 0, 0];
  let [sum, count] = [0, 0];
  for (let i = 0; i < samples.length; i++) {
    const x = samples[i]!;
    const y = one.b[0] * x + one.b[1] * x1 + one.b[2] * x2 - one.a[0] * y1 - one.a[1] * y2;
    const z = two.b[0] * y + two.b[1] * y1 + two.b[2] * y2 - two.a[0] * z1 - two.a[1] * z2;
    [x2, x1, y2, y1, z2, z1] = [x1, x, y1, y, z1, z];
    sum += z * z;
    if (++count === step) {
      powers.push(sum / step);
      [sum, count] = [0, 0];
    }
  }
  return powers;
}
