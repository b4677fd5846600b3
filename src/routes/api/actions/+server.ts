import { FaultError } from '$core/faults.ts';
import { movedTo, type Signal } from '$core/show/index.ts';
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

function signalOf(on: boolean | undefined, value: number | undefined): Signal {
  if (value !== undefined) return movedTo(value);
  return on === undefined ? { kind: 'press' } : { kind: 'hold', on };
}
