import type { ShowId } from '$core/ids.ts';
import { handle } from '$lib/server/api.ts';
import { ENDPOINTS } from '$lib/server/endpoints.ts';
import { services } from '$lib/server/services.ts';

const LINES = 100;

export const GET = handle(ENDPOINTS.history, async ({ params }) => {
  const id = params['id'] as ShowId;
  await services().shows.get(id);
  const { lines, size } = await services().history(id, LINES);
  return { lines: lines.map((line) => ({ ...line, at: line.at.toISOString() })), size };
});
