import { handle } from '$lib/server/api.ts';
import { ENDPOINTS } from '$lib/server/endpoints.ts';
import { soundCards } from '$lib/server/sound-cards.ts';

export const GET = handle(ENDPOINTS.soundCards, async () => {
  const [cards, players] = await Promise.all([soundCards('in'), soundCards('out')]);
  return { cards, players };
});
