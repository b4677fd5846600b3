/** What a curve can steer, with the range of its values and where nothing is changed. */
export const CURVED = {
  /** Brightness, by which it is multiplied. */
  level: { least: 0, most: 1, usual: 1 },
  /** How large the waves and movements of effects are, by which they are multiplied. */
  size: { least: 0, most: 1, usual: 1 },
  /** How fast what moves by itself goes. */
  speed: { least: 0, most: 8, usual: 1 },
  /** How much farther in its own course it is: seconds, beats or turns as it counts. */
  phase: { least: -64, most: 64, usual: 0 },
  /** How wide waves and pictures of effects are, by which they are multiplied. */
  width: { least: 0.02, most: 1, usual: 1 },
  /** How much light there is at least where waves of effects are low, added. */
  base: { least: 0, most: 1, usual: 0 },
  /** Turns of the colour circle by which colours of effects are turned. */
  hue: { least: -1, most: 1, usual: 0 },
} as const;
export type Curved = keyof typeof CURVED;
export const CURVED_KEYS = Object.keys(CURVED) as Curved[];
