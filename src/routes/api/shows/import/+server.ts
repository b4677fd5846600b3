import { ARCHIVE_LIMITS } from '$core/format/archive.ts';
import { handle, readFile } from '$lib/server/api.ts';
import { ENDPOINTS } from '$lib/server/endpoints.ts';
import { services } from '$lib/server/services.ts';

export const POST = handle(ENDPOINTS.importShow, async ({ request }) => {
  const { showId, copy } = await services().importShow(await readFile(request, ARCHIVE_LIMITS.fileBytes));
  return { id: showId, copy };
});
