import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import { fromKelvin, kelvinToXy } from './kelvin.ts';

describe('white by its temperature', () => {
  const cases: [kelvin: number, x: number, y: number][] = [
    // CIE standard illuminant A, and black bodies from tables.
    [2856, 0.4476, 0.4075],
    [2000, 0.5267, 0.4133],
    [4000, 0.3805, 0.3768],
    [6500, 0.3135, 0.3237],
    [10_000, 0.2807, 0.2884],
  ];
  for (const [kelvin, x, y] of cases)
    test(`${kelvin} K`, () => {
      const found = kelvinToXy(kelvin);
      assert.ok(Math.abs(found.x - x) < 0.002 && Math.abs(found.y - y) < 0.002, JSON.stringify(found));
    });
  test('a candle is red before it is blue, 6500 K is nearly white, the sky is blue', () => {
    const [candle, day, sky] = [1900, 6500, 15_000].map(fromKelvin) as [
      ReturnType<typeof fromKelvin>,
      ReturnType<typeof fromKelvin>,
      ReturnType<typeof fromKelvin>,
    ];
    assert.ok(candle.r === 1 && candle.g < 0.4 && candle.b < 0.05);
    assert.ok(Math.min(day.r, day.g, day.b) > 0.9);
    assert.ok(sky.b === 1 && sky.r < 0.6);
  });
  test('parts are always from 0 to 1, one of them full', () => {
    fc.assert(
      fc.property(fc.double({ min: 0, max: 1e6, noNaN: true }), (kelvin) => {
        const { r, g, b } = fromKelvin(kelvin);
        for (const part of [r, g, b]) assert.ok(part >= 0 && part <= 1);
        assert.equal(Math.max(r, g, b), 1);
      }),
    );
  });
});
