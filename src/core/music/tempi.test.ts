import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { seeded } from '../random.ts';
import { changeTempi, PERIODS, STEPS_S } from './tempi.ts';

const n = PERIODS.length;
const bpm = PERIODS.map((period) => (60 * STEPS_S) / period);
/** How likely each tempo is after one of them alone. */
const after = (tempo: number): Float64Array => {
  const scores = new Float64Array(n).fill(-1e6);
  scores[tempo] = 0;
  changeTempi(scores, new Uint8Array(n));
  return scores;
};
const changes = PERIODS.map((_, tempo) => after(tempo));

describe('tempi that follow one another', () => {
  test('come from the best of all, as a look at every pair finds it', () => {
    const random = seeded(7);
    for (let round = 0; round < 50; round++) {
      const scores = Float64Array.from({ length: n }, () => random() * (round % 2 === 0 ? 5 : 200));
      const now = scores.slice();
      const from = new Uint8Array(n);
      changeTempi(now, from);
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
  test('that are slow are less likely for as long as they last', () => {
    const stays = (tempo: number): number => Math.log(changes[tempo]!.reduce((sum, log) => sum + Math.exp(log), 0));
    for (let i = 0; i < n; i++) {
      const aSecond = stays(i) / (PERIODS[i]! / STEPS_S);
      if (bpm[i]! >= 95) assert.ok(Math.abs(aSecond) < 1e-9, `${bpm[i]}: ${aSecond}`);
      if (bpm[i]! <= 85) assert.ok(Math.abs(aSecond + 1.5) < 1e-9, `${bpm[i]}: ${aSecond}`);
    }
  });
});
