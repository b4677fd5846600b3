import { handle } from '$lib/server/api.ts';
import { ENDPOINTS } from '$lib/server/endpoints.ts';
import { services } from '$lib/server/services.ts';

export const GET = handle(ENDPOINTS.receivedBlob, ({ params }) => services().files.received(params['hash']!));
