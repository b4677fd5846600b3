import { handle } from '$lib/server/api.ts';
import { ENDPOINTS } from '$lib/server/endpoints.ts';
import { soundCards } from '$lib/server/live-ear.ts';

export const GET = handle(ENDPOINTS.soundCards, async () => ({ cards: await soundCards() }));
