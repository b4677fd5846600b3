import { handle } from '$lib/server/api.ts';
import { ENDPOINTS } from '$lib/server/endpoints.ts';
import { services } from '$lib/server/services.ts';

export const GET = handle(ENDPOINTS.songPicture, async ({ params }) => {
  const picture = await services().hearing.picture(params['hash']!);
  return new Response(Buffer.from(picture), { headers: { 'content-type': 'application/json' } });
});
