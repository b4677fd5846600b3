import type { ShowId } from '$core/ids.ts';
import { handle } from '$lib/server/api.ts';
import { ENDPOINTS } from '$lib/server/endpoints.ts';
import { services } from '$lib/server/services.ts';

export const POST = handle(ENDPOINTS.change, async ({ params, body }) => {
  const { put, remove, base, label, author } = body;
  const id = params['id'] as ShowId;
  const applied = await services().shows.edit(id, { change: { put, remove }, base, label, author });
  const revision = applied?.entry.revision ?? (await services().shows.get(id)).revision;
  return { revision, changed: applied !== null, overwrote: applied?.overwrote.map((o) => o.field) ?? [] };
});
