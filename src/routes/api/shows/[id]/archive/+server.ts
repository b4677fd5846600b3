import type { ShowId } from '$core/ids.ts';
import { handle } from '$lib/server/api.ts';
import { ENDPOINTS } from '$lib/server/endpoints.ts';
import { services } from '$lib/server/services.ts';

export const GET = handle(ENDPOINTS.exportShow, async ({ params, query }) => {
  const id = params['id'] as ShowId;
  const file = await services().exportShow(id, query['songs'] !== 'no');
  const name = `${id.slice('show:'.length)}.kite`;
  return new Response(Buffer.from(file), {
    headers: { 'content-type': 'application/zip', 'content-disposition': `attachment; filename="${name}"` },
  });
});
