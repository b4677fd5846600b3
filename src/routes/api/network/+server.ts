import { FaultError } from '$core/faults.ts';
import { handle } from '$lib/server/api.ts';
import { ENDPOINTS } from '$lib/server/endpoints.ts';
import { services } from '$lib/server/services.ts';

export const GET = handle(ENDPOINTS.network, async () => ({ network: services().engine.network }));

export const POST = handle(ENDPOINTS.askNetwork, async ({ body, by }) => {
  const { fault, answer } = await services().engine.ask(by, body);
  if (fault) throw new FaultError(fault);
  return { answer };
});
