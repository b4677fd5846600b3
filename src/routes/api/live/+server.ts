import { FaultError } from '$core/faults.ts';
import { handle } from '$lib/server/api.ts';
import { ENDPOINTS } from '$lib/server/endpoints.ts';
import { services } from '$lib/server/services.ts';

export const GET = handle(ENDPOINTS.live, async () => ({ live: services().engine.live, now: services().engine.now() }));

export const POST = handle(ENDPOINTS.command, async ({ body, by }) => {
  const fault = await services().engine.command(by, body);
  if (fault) throw new FaultError(fault);
  return { done: true as const };
});
