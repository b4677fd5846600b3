import type { FixtureKind } from '$core/records/profile.ts';

/** Fixture kinds in people's words. */
export const KIND_WORDS: Readonly<Record<FixtureKind, string>> = {
  dimmer: 'dimmer',
  par: 'par',
  bar: 'bar',
  head: 'moving head',
  scanner: 'mirror scanner',
  derby: 'rotating effect',
  strobe: 'strobe',
  blinder: 'blinder',
  hazer: 'hazer',
  fan: 'fan',
  uv: 'ultraviolet',
  laser: 'laser effect',
  motor: 'motor',
  relay: 'relay',
  strip: 'pixel strip',
  matrix: 'pixel matrix',
  lamp: 'smart lamp',
  other: 'other',
};
