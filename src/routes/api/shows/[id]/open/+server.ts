import type { ShowId } from '$core/ids.ts';
import { handle } from '$lib/server/api.ts';
import { ENDPOINTS } from '$lib/server/endpoints.ts';
import { services } from '$lib/server/services.ts';

export const POST = handle(ENDPOINTS.openShow, async ({ params }) => {
  await services().openShow(params['id'] as ShowId);
  return { open: params['id']! };
});
