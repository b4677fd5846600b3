import { handle } from '$lib/server/api.ts';
import { ENDPOINTS } from '$lib/server/endpoints.ts';
import { reachable } from '$lib/server/own-addresses.ts';

export const GET = handle(ENDPOINTS.addresses, async () => ({ addresses: reachable() }));
