import type { LinkState } from '$core/lines/index.ts';

/** States of a link in words. */
export const STATE_WORDS: Readonly<Record<LinkState, string>> = {
  live: 'works',
  idle: 'nothing to do',
  unproved: 'sent; nobody can tell whether it arrives',
  doubt: 'worth a look',
  dead: 'does not work',
  off: 'switched off',
};
