import { FaultError } from '$core/faults.ts';
import type { Signal } from '$core/show/index.ts';
import { handle } from '$lib/server/api.ts';
import { ENDPOINTS } from '$lib/server/endpoints.ts';
import { services } from '$lib/server/services.ts';

export const POST = handle(ENDPOINTS.act, async ({ body: { action, on, value }, by }) => {
  if (on !== undefined && value !== undefined)
    throw new FaultError({
      code: 'BAD_VALUE',
      path: 'body.value',
      message: 'an action is held or moved to a value, not both',
      received: value,
      remedy: 'Give `on` or `value`.',
    });
  const fault = await services().engine.act(by, action, signalOf(on, value));
  if (fault) throw new FaultError(fault);
  return { done: true as const };
});

/** A value that a script gives has come from the other side of the half: it fires. */
function signalOf(on: boolean | undefined, value: number | undefined): Signal {
  if (value !== undefined) return { kind: 'value', value, last: value < 0.5 ? 1 : 0 };
  return on === undefined ? { kind: 'press' } : { kind: 'hold', on };
}
