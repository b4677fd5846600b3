import { handle } from '$lib/server/api.ts';
import { ENDPOINTS } from '$lib/server/endpoints.ts';
import { services } from '$lib/server/services.ts';

export const GET = handle(ENDPOINTS.listShows, async () => {
  const open = await services().openShowId();
  return { shows: (await services().listShows()).map((line) => ({ ...line, open: line.id === open })) };
});

export const POST = handle(ENDPOINTS.createShow, async ({ body }) => ({ id: await services().createShow(body.name) }));
