import type { ShowId } from '$core/ids.ts';
import { handle } from '$lib/server/api.ts';
import { ENDPOINTS } from '$lib/server/endpoints.ts';
import { services } from '$lib/server/services.ts';

export const POST = handle(ENDPOINTS.redo, async ({ params }) => {
  const applied = await services().shows.redo(params['id'] as ShowId, { author: 'script' });
  return { revision: applied!.entry.revision, changed: true, overwrote: [], label: applied!.entry.label };
});
