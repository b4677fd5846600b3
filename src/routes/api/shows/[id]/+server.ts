import type { ShowId } from '$core/ids.ts';
import { handle } from '$lib/server/api.ts';
import { ENDPOINTS } from '$lib/server/endpoints.ts';
import { services } from '$lib/server/services.ts';

export const GET = handle(ENDPOINTS.readShow, async ({ params }) => {
  const { revision, document } = await services().shows.get(params['id'] as ShowId);
  return { revision, records: [...document.values()] };
});

export const DELETE = handle(ENDPOINTS.deleteShow, async ({ params }) => {
  await services().deleteShow(params['id'] as ShowId);
  return { deleted: params['id']! };
});
