import { redirect } from '@sveltejs/kit';

/** The evening starts at the plot: what the rig looks like right now. */
export function load(): never {
  redirect(307, '/plot');
}
