import { handle } from '$lib/server/api.ts';
import { ENDPOINTS } from '$lib/server/endpoints.ts';
import { reachable } from '$lib/server/reach.ts';

export const GET = handle(ENDPOINTS.reach, async () => ({ addresses: reachable() }));
