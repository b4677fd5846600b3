import type { EffectPart } from '$core/records/effect.ts';

/** A number of a part that is set by a slider or typed: the ends of what may be typed, and of the slider. */
export interface PartSlide {
  readonly key: string;
  readonly label: string;
  readonly min: number;
  readonly max: number;
  readonly step?: number;
  readonly suffix?: string;
  readonly slideMin?: number;
  readonly slideMax?: number;
}

const share = (key: string, label: string): PartSlide => ({ key, label, min: 0, max: 1 });
/** Half-widths of a movement. */
const degrees = (key: string, label: string, slideMax: number): PartSlide => ({
  key,
  label,
  min: 0,
  max: 360,
  slideMax,
  step: 1,
  suffix: 'deg',
});
const metres = (key: string, label: string): PartSlide => ({
  key,
  label,
  min: 0,
  max: 100,
  slideMax: 8,
  step: 0.1,
  suffix: 'm',
});
const turned = (key: string, label: string): PartSlide => ({
  key,
  label,
  min: -360,
  max: 360,
  slideMin: -180,
  slideMax: 180,
  step: 1,
  suffix: 'deg',
});

/** What a part does, in numbers. */
export function slidesOf(part: EffectPart): readonly PartSlide[] {
  switch (part.does) {
    case 'level':
      return [share('size', 'Size'), share('offset', 'Lowest'), { ...share('width', 'Alight for'), min: 0.01 }];
    case 'colour':
      return [share('size', part.way === 'hue' ? 'Saturation' : 'Softness'), share('offset', 'Begins at')];
    case 'aim':
      return part.in === 'metres'
        ? [metres('acrossM', 'Across'), metres('deepM', 'Deep'), turned('turnDeg', 'Turned by')]
        : [degrees('panDeg', 'Pan', 120), degrees('tiltDeg', 'Tilt', 90), turned('turnDeg', 'Turned by')];
    case 'pixels':
      return [
        share('size', 'Brightness'),
        share('width', 'Width'),
        { key: 'repeat', label: 'Repeats', min: 0.1, max: 64, slideMax: 12, step: 0.1 },
        share('soft', 'Softness'),
      ];
  }
}

/** Which way a picture goes over the plot. */
export const TOWARDS = turned('angleDeg', 'Goes towards');

/** How a part goes over what it plays on, in numbers. */
export const GOING: readonly PartSlide[] = [
  { key: 'groupsOf', label: 'Groups of', min: 1, max: 10_000, slideMax: 16, step: 1 },
  { key: 'times', label: 'Times', min: 0, max: 64, slideMax: 8, step: 0.25, suffix: 'x' },
  { key: 'phase', label: 'Ahead by', min: -64, max: 64, slideMin: 0, slideMax: 1, suffix: 'turns' },
];
