/**
 * A meter for flashes that stands on its own: it reads light as it was sent, and knows nothing of how it was made or
 * held back. WCAG 2.2, 2.3.1: a flash is a pair of opposing changes of relative luminance by 0.1 or more where the
 * darker is below 0.8, or of (R - G - B) x 320 by more than 20 where one of the two is saturated red.
 */
export type Light = readonly [r: number, g: number, b: number];

const luminance = ([r, g, b]: Light): number => 0.2126 * r + 0.7152 * g + 0.0722 * b;
const redness = ([r, g, b]: Light): number => Math.max(0, r - g - b) * 320;
const saturated = ([r, g, b]: Light): boolean => r + g + b > 0 && r / (r + g + b) >= 0.8;

/** Turning points (indices) of a row of values: each lies at least `least` the other way from the one before. */
function turns(values: readonly number[], least: number): number[] {
  const found: number[] = [];
  let [high, low, far] = [0, 0, 0];
  let way: 'none' | 'up' | 'down' = 'none';
  const turn = (at: number, to: typeof way, i: number): void => {
    found.push(at);
    way = to;
    far = i;
  };
  values.forEach((value, i) => {
    if (way === 'none') {
      if (value > values[high]!) high = i;
      if (value < values[low]!) low = i;
      if (value - values[low]! >= least) turn(low, 'up', i);
      else if (values[high]! - value >= least) turn(high, 'down', i);
    } else if (way === 'up') {
      if (value > values[far]!) far = i;
      else if (values[far]! - value >= least) turn(far, 'down', i);
    } else if (value < values[far]!) far = i;
    else if (value - values[far]! >= least) turn(far, 'up', i);
  });
  return found.length > 0 ? [...found, far] : [];
}

/** Moments (indices) at which a change that is half a flash ends. */
function changes(lights: readonly Light[]): { general: number[]; red: number[] } {
  const y = lights.map(luminance);
  const general = turns(y, 0.1).filter((at, i, all) => i > 0 && Math.min(y[at]!, y[all[i - 1]!]!) < 0.8);
  const v = lights.map(redness);
  const red = turns(v, 20.001).filter(
    (at, i, all) => i > 0 && (saturated(lights[at]!) || saturated(lights[all[i - 1]!]!)),
  );
  return { general, red };
}

/** The most flashes (pairs of changes) within any second of one lamp's light, at `rate` frames a second. */
export function flashRates(lights: readonly Light[], rate = 40): { general: number; red: number } {
  const { general, red } = changes(lights);
  const most = (ends: readonly number[]): number =>
    Math.floor(Math.max(0, ...ends.map((from) => ends.filter((end) => end >= from && end < from + rate).length)) / 2);
  return { general: most(general), red: most(red) };
}
