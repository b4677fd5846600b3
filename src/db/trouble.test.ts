import assert from 'node:assert/strict';
import { test } from 'node:test';
import { databaseTrouble } from './trouble.ts';

const coded = (code: string, message = 'x'): Error => Object.assign(new Error(message), { code });
for (const [error, expected] of [
  [coded('57P01', 'terminating connection due to administrator command'), 'away'],
  [coded('08006'), 'away'],
  [coded('ECONNREFUSED'), 'away'],
  [new Error('Connection terminated unexpectedly'), 'away'],
  [coded('53100', 'could not extend file "base/5/1": No space left on device'), 'full'],
  [new Error('Failed query', { cause: coded('53100') }), 'full'],
  [new Error('a', { cause: new Error('b', { cause: coded('57P03') }) }), 'away'],
  [coded('23503', 'violates foreign key constraint'), null],
  [new TypeError('x is not a function'), null],
  ['text', null],
  [null, null],
] as const)
  test(`${error instanceof Error ? `${(error as { code?: string }).code ?? ''} ${error.message}` : String(error)}: ${expected}`, () =>
    assert.equal(databaseTrouble(error), expected));
