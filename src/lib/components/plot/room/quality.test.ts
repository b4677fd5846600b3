import assert from 'node:assert/strict';
import { test } from 'node:test';
import { Quality } from './quality.ts';

/** After its first pictures, which tell nothing. */
function warm(): Quality {
  const quality = new Quality();
  for (let i = 0; i < 3; i++) assert.equal(quality.took(2000), false);
  return quality;
}
/** So many pictures that each take as long; how often the scale changed. */
const run = (quality: Quality, pictures: number, ms: number): number =>
  Array.from({ length: pictures }, () => quality.took(ms)).filter(Boolean).length;

test('steps down while pictures are slow, to the coarsest and no further', () => {
  const quality = warm();
  assert.equal(quality.scale, 1);
  assert.equal(run(quality, 11, 80), 0, 'a few slow ones are no reason');
  assert.equal(run(quality, 1, 80), 1);
  assert.equal(quality.scale, 0.7);
  run(quality, 1000, 80);
  assert.equal(quality.scale, 0.25);
});

test('far down at once where it is very slow', () => {
  const quality = warm();
  assert.equal(run(quality, 3, 400), 1);
  assert.equal(quality.scale, 0.35);
});

test('stays where it keeps up, and one hitch among many changes nothing', () => {
  const quality = warm();
  run(quality, 500, 30);
  assert.equal(quality.scale, 1);
  for (let i = 0; i < 60; i++) quality.took(i % 12 === 0 ? 300 : 20);
  assert.equal(quality.scale, 1);
});

test('tries the finer step after a while of time to spare, less and less often', () => {
  const quality = warm();
  const untilFiner = (): number => {
    for (let pictures = 1; ; pictures++) if (quality.took(8)) return pictures;
  };
  run(quality, 12, 80);
  const first = untilFiner();
  assert.equal(quality.scale, 1);
  run(quality, 12, 80);
  assert.equal(quality.scale, 0.7);
  assert.ok(untilFiner() >= first * 1.9, 'what was too slow twice waits longer');
});
