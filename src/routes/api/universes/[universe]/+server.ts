import { FaultError } from '$core/faults.ts';
import { handle } from '$lib/server/api.ts';
import { ENDPOINTS } from '$lib/server/endpoints.ts';
import { services } from '$lib/server/services.ts';

export const GET = handle(ENDPOINTS.universe, async ({ params }) => {
  const universe = Number(params['universe']);
  const slots = services().engine.frame.get(universe);
  if (!slots)
    throw new FaultError({
      code: 'NO_SUCH_UNIVERSE',
      path: 'universe',
      message: `universe ${universe} is not being sent`,
      received: universe,
      remedy: `Choose one of ${services().engine.universes.join(', ') || 'none: no show is open'}.`,
    });
  return { universe, slots: [...slots] };
});
