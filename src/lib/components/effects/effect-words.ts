import type { Combine, EffectOrder, EffectPart, EffectSpec, PixelPlane } from '$core/records/effect.ts';

/** What the choices of an effect are called. */
export const DOES_WORDS: Readonly<Record<EffectPart['does'], string>> = {
  level: 'Level',
  colour: 'Colour',
  aim: 'Movement',
  pixels: 'Picture on pixels',
};
export const COMBINE_WORDS: Readonly<Record<Combine, string>> = {
  over: 'over what is there',
  add: 'added to it',
  brightest: 'the brighter of both',
  through: 'lets light through where it is',
  cut: 'cuts light out where it is',
};
export const ORDER_WORDS: Readonly<Record<EffectOrder, string>> = {
  selection: 'as chosen',
  number: 'by number',
  wire: 'along the wire',
  random: 'by chance',
  x: 'left to right',
  y: 'front to back',
  z: 'bottom to top',
  radius: 'from the middle out',
};
export const DIRECTION_WORDS: Readonly<Record<EffectPart['direction'], string>> = {
  forward: 'forward',
  backward: 'backward',
  bounce: 'there and back',
};
export const PLANE_WORDS: Readonly<Record<PixelPlane, string>> = {
  auto: 'where most is to be seen',
  plan: 'from above',
  front: 'from the front',
  side: 'from the side',
  unit: 'each unit by itself',
};
export const LEVELS_WORDS: Readonly<Record<EffectSpec['levels'], string>> = {
  over: 'in place of what plays below',
  scale: 'scales what plays below',
  highest: 'the higher of both',
};

export const optionsOf = <T extends string>(words: Readonly<Record<T, string>>): { value: T; text: string }[] =>
  (Object.entries(words) as [T, string][]).map(([value, text]) => ({ value, text }));
