import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { FaultError } from '../../core/faults.ts';
import { contentRange, rangeOf } from './ranges.ts';

describe('a range of a file (RFC 9110)', () => {
  for (const [header, wanted] of [
    ['bytes=0-99', [0, 99]],
    ['bytes=10-', [10, 999]],
    ['bytes=-100', [900, 999]],
    ['bytes=-5000', [0, 999]],
    ['bytes=990-5000', [990, 999]],
    ['bytes=1000-', 'outside'],
    ['bytes=-0', 'outside'],
    ['bytes=20-10', null],
    ['bytes=0-1,5-6', null],
    ['lines=1-2', null],
    ['bytes=-', null],
    [null, null],
  ] as const)
    test(String(header), () => assert.deepEqual(rangeOf(header, 1000), wanted));
  test('of a file that comes in says which bytes, or what to say', () => {
    assert.deepEqual(contentRange('bytes 5-9/10', '5'), { from: 5, total: 10 });
    assert.deepEqual(contentRange(null, '10'), { from: 0, total: 10 });
    for (const wrong of ['bytes 5-4/10', 'bytes 5-10/10', 'bytes */10', '5-9', 'bytes 5-9/*', ''])
      assert.throws(() => contentRange(wrong, '5'), FaultError);
    assert.throws(() => contentRange(null, null), FaultError);
  });
});
