import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import {
  decodeSrgb,
  deltaE2000,
  encodeSrgb,
  fromHex,
  fromHueSaturation,
  nearestColour,
  toHex,
  toHueSaturation,
} from './convert.ts';

const near = (a: number, b: number, by = 1e-6): void => assert.ok(Math.abs(a - b) <= by, `${a} is not ${b}`);
const part = fc.integer({ min: 0, max: 255 });
const hex = fc.tuple(part, part, part).map((p) => `#${p.map((v) => v.toString(16).padStart(2, '0')).join('')}`);

describe('sRGB', () => {
  test('follows IEC 61966-2-1 at known points', () => {
    near(decodeSrgb(0.5), 0.2140411, 1e-6);
    near(decodeSrgb(0.04045), 0.0031308, 1e-6);
    near(encodeSrgb(0.18), 0.4613561, 1e-6);
    assert.equal(decodeSrgb(1), 1);
  });
  test('hex goes there and back for every colour', () => {
    fc.assert(fc.property(hex, (text) => assert.equal(toHex(fromHex(text)), text)));
  });
  test('out of range is clipped', () => {
    assert.equal(toHex({ r: 2, g: -1, b: 0 }), '#ff0000');
  });
});

describe('hue and saturation', () => {
  test('name the corners of the wheel', () => {
    assert.equal(toHex(fromHueSaturation(0, 1)), '#ff0000');
    assert.equal(toHex(fromHueSaturation(60, 1)), '#ffff00');
    assert.equal(toHex(fromHueSaturation(-120, 1)), '#0000ff');
    assert.equal(toHex(fromHueSaturation(77, 0)), '#ffffff');
  });
  test('come back', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 359, noNaN: true }),
        fc.double({ min: 0.05, max: 1, noNaN: true }),
        (h, s) => {
          const back = toHueSaturation(fromHueSaturation(h, s));
          near(back.saturation, s, 1e-9);
          near(((back.hueDeg - h + 540) % 360) - 180, 0, 1e-6);
        },
      ),
    );
    assert.deepEqual(toHueSaturation({ r: 0, g: 0, b: 0 }), { hueDeg: 0, saturation: 0 });
  });
});

describe('CIEDE2000', () => {
  test('is nothing between equal colours and the same either way round', () => {
    fc.assert(
      fc.property(hex, hex, (a, b) => {
        near(deltaE2000(fromHex(a), fromHex(a)), 0, 1e-9);
        near(deltaE2000(fromHex(a), fromHex(b)), deltaE2000(fromHex(b), fromHex(a)), 1e-9);
      }),
    );
  });
  test('tells black from white by 100 and is finite everywhere', () => {
    near(deltaE2000(fromHex('#000000'), fromHex('#ffffff')), 100, 0.01);
    fc.assert(fc.property(hex, hex, (a, b) => assert.ok(Number.isFinite(deltaE2000(fromHex(a), fromHex(b))))));
  });
  test('finds the wheel colour a person would', () => {
    const wheel = ['#ffffff', '#f01818', '#ff9a1f', '#28c840', '#2038e8'].map(fromHex);
    assert.equal(nearestColour(fromHex('#e8e0d8'), wheel), 0);
    assert.equal(nearestColour(fromHex('#c00000'), wheel), 1);
    assert.equal(nearestColour(fromHex('#1020a0'), wheel), 4);
    assert.equal(nearestColour(fromHex('#000000'), []), -1);
  });
});
