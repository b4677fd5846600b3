import { handle } from '$lib/server/api.ts';
import { ENDPOINTS } from '$lib/server/endpoints.ts';
import { services } from '$lib/server/services.ts';

export const POST = handle(ENDPOINTS.orderStandin, ({ body }) => services().orderStandin(body));
