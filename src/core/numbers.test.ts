import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { parseNumber, readWhole } from './numbers.ts';

test('a number is read only when it is one', () => {
  assert.deepEqual(['.5', '-2.', '+3', '1e3', 'Infinity', '0x10', ''].map(parseNumber), [
    0.5,
    -2,
    3,
    null,
    null,
    null,
    null,
  ]);
  fc.assert(fc.property(fc.integer({ min: -1e6, max: 1e6 }), (n) => assert.equal(parseNumber(String(n)), n)));
});

test('whole numbers are read as people write them', () => {
  assert.deepEqual(
    ['12', ' 12 ', '1 234', '1,234', "1'234", '12.0', '-4'].map(readWhole),
    [12, 12, 1234, 1234, 1234, 12, -4],
  );
  for (const text of ['', 'x', '1,2', '3.5', '1e3', '--1', '9'.repeat(30)]) assert.equal(readWhole(text), null, text);
});
