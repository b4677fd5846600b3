import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { seeded } from '../random.ts';
import { changeTempi, PERIODS, STEPS_S, withBeats } from './tempi.ts';

const n = PERIODS.length;
const bpm = PERIODS.map((period) => (60 * STEPS_S) / period);
/** How likely each tempo is after each of them alone. */
const changesOf = (withBeat: Float64Array): Float64Array[] =>
  PERIODS.map((_, tempo) => {
    const scores = new Float64Array(n).fill(-1e6);
    scores[tempo] = 0;
    changeTempi(scores, new Uint8Array(n), withBeat);
    return scores;
  });
const changes = changesOf(withBeats());

describe('tempi that follow one another', () => {
  test('come from the best of all, as a look at every pair finds it', () => {
    const random = seeded(7);
    for (let round = 0; round < 50; round++) {
      const scores = Float64Array.from({ length: n }, () => random() * (round % 2 === 0 ? 5 : 200));
      const now = scores.slice();
      const from = new Uint8Array(n);
      changeTempi(now, from, withBeats());
      for (let i = 0; i < n; i++) {
        const all = changes.map((row, j) => scores[j]! + row[i]!);
        const best = Math.max(...all);
        assert.ok(Math.abs(now[i]! - best) < 1e-9, `${bpm[i]}: ${now[i]} is not ${best}`);
        assert.ok(Math.abs(all[from[i]!]! - best) < 1e-9, `${bpm[i]} does not come from ${bpm[from[i]!]}`);
      }
    }
  });
  test('are one in all, less likely the farther away, the same up as down', () => {
    for (const [tempo, row] of changes.entries()) {
      const sum = row.reduce((total, log) => total + Math.exp(log), 0);
      if (bpm[tempo]! >= 95) assert.ok(Math.abs(sum - 1) < 1e-9, `after ${bpm[tempo]}: ${sum}`);
      for (let i = 1; i < n; i++) {
        const nearer = i <= tempo ? row[i]! > row[i - 1]! : row[i]! < row[i - 1]!;
        assert.ok(nearer, `after ${bpm[tempo]}: ${bpm[i - 1]} ${row[i - 1]}, ${bpm[i]} ${row[i]}`);
      }
    }
  });
  test('that are slow, or make long bars, are less likely for as long as they last', () => {
    for (const [metre, slow] of [
      [1, 85],
      [4, 85],
      [6, 90],
      [7, 105],
    ] as const) {
      const rows = changesOf(withBeats(metre));
      for (let i = 0; i < n; i++) {
        const all = Math.log(rows[i]!.reduce((sum, log) => sum + Math.exp(log), 0));
        const aSecond = all / (PERIODS[i]! / STEPS_S);
        if (bpm[i]! >= slow + 10) assert.ok(Math.abs(aSecond) < 1e-9, `${bpm[i]} in ${metre}: ${aSecond}`);
        if (bpm[i]! <= slow) assert.ok(Math.abs(aSecond + 1.5) < 1e-9, `${bpm[i]} in ${metre}: ${aSecond}`);
      }
    }
  });
});
