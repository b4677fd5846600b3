import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { seeded } from '../random.ts';
import { BANDS } from './features.ts';
import { HARMONY, harmonyChanges, PastHarmony } from './harmony.ts';
import { heardWhole, LiveNetwork, readWeights } from './network.ts';
import { floatsOf } from './half.ts';

const [FIRST, CHANNELS, BLOCKS, KERNEL] = [8, 20, 9, 5];
const COUNT =
  FIRST * 9 +
  FIRST +
  FIRST * FIRST * 9 +
  FIRST +
  CHANNELS * FIRST * 6 +
  CHANNELS +
  CHANNELS * HARMONY +
  BLOCKS * (CHANNELS * CHANNELS * KERNEL + CHANNELS + CHANNELS * CHANNELS + CHANNELS) +
  CHANNELS * 3 +
  3;
const random = seeded(5);
const some = (count: number, scale: number): Float32Array =>
  Float32Array.from({ length: count }, () => (random() * 2 - 1) * scale);
const row = some(COUNT, 0.15);
const FRAMES = 90;
const mel = some(FRAMES * BANDS, 1).map(Math.abs);
const harmony = some((FRAMES / 2) * HARMONY, 1).map(Math.abs);

/** The same network, written as its definition reads: slow, channels first, every convolution by its sum. */
function reference(causal: boolean): { beat: number[]; downbeat: number[] } {
  let at = 0;
  const take = (count: number): Float32Array => row.subarray(at, (at += count));
  const elu = (x: number): number => (x > 0 ? x : Math.expm1(x));
  type Picture = number[][][];
  const bands = (input: Picture, outs: number): Picture => {
    const [w, bias] = [take(outs * input.length * 9), take(outs)];
    const wide = input[0]![0]!.length;
    return Array.from({ length: outs }, (_, o) =>
      Array.from({ length: FRAMES }, (_, f) => {
        const sums = Array.from({ length: wide - 2 }, (_, b) => {
          let sum = bias[o]!;
          for (let i = 0; i < input.length; i++)
            for (let t = 0; t < 3; t++)
              for (let k = 0; k < 3; k++)
                sum +=
                  (input[i]![f + t - (causal ? 2 : 1)]?.[b + k] ?? 0) * w[((o * input.length + i) * 3 + t) * 3 + k]!;
          return elu(sum);
        });
        return Array.from({ length: Math.floor(sums.length / 3) }, (_, p) => Math.max(...sums.slice(p * 3, p * 3 + 3)));
      }),
    );
  };
  const one = [Array.from({ length: FRAMES }, (_, f) => [...mel.subarray(f * BANDS, (f + 1) * BANDS)])];
  const second = bands(bands(one, FIRST), FIRST);
  const [third, thirdBias, byHarmony] = [take(CHANNELS * FIRST * 6), take(CHANNELS), take(CHANNELS * HARMONY)];
  let rows = Array.from({ length: CHANNELS }, (_, o) =>
    Array.from({ length: FRAMES }, (_, f) => {
      let sum = thirdBias[o]!;
      for (let i = 0; i < FIRST; i++)
        for (let k = 0; k < 6; k++) sum += second[i]![f]![k]! * third[(o * FIRST + i) * 6 + k]!;
      for (let h = 0; h < HARMONY; h++) sum += harmony[(f >> 1) * HARMONY + h]! * byHarmony[o * HARMONY + h]!;
      return elu(sum);
    }),
  );
  for (let block = 0; block < BLOCKS; block++) {
    const [wide, wideBias] = [take(CHANNELS * CHANNELS * KERNEL), take(CHANNELS)];
    const [thin, thinBias] = [take(CHANNELS * CHANNELS), take(CHANNELS)];
    const mid = Array.from({ length: CHANNELS }, (_, o) =>
      Array.from({ length: FRAMES }, (_, f) => {
        let sum = wideBias[o]!;
        for (let i = 0; i < CHANNELS; i++)
          for (let k = 0; k < KERNEL; k++)
            sum +=
              (rows[i]![f + (k - (causal ? KERNEL - 1 : 2)) * 2 ** block] ?? 0) *
              wide[(o * CHANNELS + i) * KERNEL + k]!;
        return elu(sum);
      }),
    );
    rows = rows.map((list, o) =>
      list.map((x, f) => x + thinBias[o]! + mid.reduce((sum, m, i) => sum + m[f]! * thin[o * CHANNELS + i]!, 0)),
    );
  }
  const [out, bias] = [take(CHANNELS * 3), take(3)];
  const outcome = (o: number): number[] =>
    Array.from({ length: FRAMES }, (_, f) => {
      const sum = rows.reduce((all, list, i) => all + elu(list[f]!) * out[o * CHANNELS + i]!, bias[o]!);
      return 1 / (1 + Math.exp(-sum));
    });
  return { beat: outcome(0), downbeat: outcome(1) };
}

function near(found: ArrayLike<number>, wanted: readonly number[]): void {
  wanted.forEach((x, f) => assert.ok(Math.abs(found[f]! - x) < 1e-5, `frame ${f}: ${found[f]}, not ${x}`));
}

describe('the network', () => {
  const weights = readWeights(row);
  test('of songs is what its definition says', () => {
    const { beat, downbeat } = heardWhole(weights, mel, harmony);
    const wanted = reference(false);
    near(beat, wanted.beat);
    near(downbeat, wanted.downbeat);
    assert.ok(Math.max(...beat) - Math.min(...beat) > 0.01, 'it says something');
  });
  test('live is what its definition says, from the past alone', () => {
    const live = new LiveNetwork(weights);
    const said = Array.from({ length: FRAMES }, (_, f) =>
      live.next(
        mel.subarray(f * BANDS, (f + 1) * BANDS),
        harmony.subarray((f >> 1) * HARMONY, ((f >> 1) + 1) * HARMONY),
      ),
    );
    const wanted = reference(true);
    near(
      said.map(({ beat }) => beat),
      wanted.beat,
    );
    near(
      said.map(({ downbeat }) => downbeat),
      wanted.downbeat,
    );
  });
  test('takes no weights that are too few or too many', () => {
    assert.throws(() => readWeights(row.subarray(1)), RangeError);
    assert.throws(() => readWeights(new Float32Array(COUNT + 1)), RangeError);
  });
});

test('16-bit floats are read', () => {
  const bytes = [0x00, 0x3c, 0x00, 0xc0, 0x01, 0x00, 0x00, 0x7c, 0x55, 0x35];
  const [one, minusTwo, least, most, third] = floatsOf(btoa(String.fromCharCode(...bytes)));
  assert.deepEqual([one, minusTwo, least, most], [1, -2, Math.fround(2 ** -24), Infinity]);
  assert.ok(Math.abs(third! - 1 / 3) < 1e-3, `${third}`);
});

describe('changes of harmony', () => {
  const classes = (c: number): number[] => Array.from({ length: 12 }, (_, i) => (i === c ? 1 : 0));
  const chroma = Float32Array.from(Array.from({ length: 120 }, (_, f) => classes(f < 60 ? 0 : 7)).flat());

  test('are highest where the chord becomes another, and none within one', () => {
    const changes = harmonyChanges(chroma, chroma);
    for (let k = 0; k < HARMONY; k++) {
      assert.ok(changes[60 * HARMONY + k]! > 0.99, `reach ${k}: ${changes[60 * HARMONY + k]}`);
      assert.ok(changes[3 * HARMONY + k]! < 1e-6, `reach ${k}: ${changes[3 * HARMONY + k]}`);
    }
  });
  test('of a stream come from the past alone, however long it goes on', () => {
    const past = new PastHarmony();
    const said = Array.from({ length: 1000 }, (_, f) => {
      const now = classes(Math.floor(f / 60) % 2 === 0 ? 0 : 7);
      return past.next(now, now);
    });
    // Five half frames after a change the last five are another chord than the five before.
    for (const change of [60, 600, 960]) {
      assert.ok(said[change + 4]![0]! > 0.99, `after ${change}: ${said[change + 4]![0]}`);
      assert.ok(said[change - 1]![0]! < 1e-6, `before ${change}: ${said[change - 1]![0]}`);
    }
  });
});
