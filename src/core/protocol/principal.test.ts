import assert from 'node:assert/strict';
import { test } from 'node:test';
import { FaultError } from '../faults.ts';
import { mustBeAllowed, principalSchema, refusal, RIGHTS, SCRIPT, type Principal } from './principal.ts';

test('an owner may do everything, another desk only work what it is given', () => {
  const desk: Principal = { role: 'desk', name: 'Visiting desk' };
  for (const right of RIGHTS) {
    assert.equal(refusal(SCRIPT, right), null);
    if (right === 'act') mustBeAllowed(desk, right);
    else
      assert.throws(
        () => mustBeAllowed(desk, right),
        (e: unknown) =>
          e instanceof FaultError && e.faults[0]!.code === 'NOT_ALLOWED' && e.faults[0]!.received === desk.name,
      );
  }
});
test('nobody is of a role that is not known', () => {
  assert.ok(!principalSchema.safeParse({ role: 'toString', name: 'x' }).success);
  assert.ok(!principalSchema.safeParse({ role: 'owner', name: '' }).success);
});
