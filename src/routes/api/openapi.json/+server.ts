import { json } from '@sveltejs/kit';
import { openapi } from '$lib/server/openapi.ts';

export const GET = (): Response => json(openapi());
