import type { LevelPart, LevelWave } from '../../records/effect.ts';
import type { Span } from './span.ts';
import { ease } from '../../units.ts';
import { noise, sine, smoothNoise } from './turns.ts';

/** Share of a turn a strobe is alight, of what `width` says: flashes are short. */
const FLASH = 0.4;

/** What decides a wave besides the moment. */
export type WaveInput = Pick<LevelPart, 'wave' | 'width' | 'seed'>;

/**
 * What a sparkle knows of each element, so that chance is asked once a turn and not in every frame: how far it is ahead
 * of the others, the turn it was asked for last, and whether it is alight in that.
 */
export interface Sparkle {
  readonly ahead: Float64Array;
  readonly turn: Int32Array;
  readonly alight: Uint8Array;
}

export function sparkleOf({ seed, width }: WaveInput, count: number): Sparkle {
  return {
    ahead: Float64Array.from({ length: count }, (_, i) => noise(seed, i, -1)),
    turn: new Int32Array(count),
    alight: Uint8Array.from({ length: count }, (_, i) => (noise(seed, i, 0) < width ? 1 : 0)),
  };
}

type Wave = (input: WaveInput, behind: Float32Array, turns: number, span: Span, sparkle: Sparkle | null) => void;

/** A wave of which only the place in the turn matters. */
const shaped =
  (shape: (at: number, width: number) => number): Wave =>
  ({ width }, behind, turns, { from, to, light, lightAt }) => {
    for (let i = from, out = lightAt; i < to; i++, out++) {
      const own = turns - behind[i]!;
      light[out] = shape(own - Math.floor(own), width);
    }
  };

const sparkle: Wave = ({ width, seed }, behind, turns, { from, to, light, lightAt }, known) => {
  const { ahead, turn: asked, alight } = known!;
  for (let i = from, out = lightAt; i < to; i++, out++) {
    const own = turns - behind[i]! + ahead[i]!;
    const turn = Math.floor(own);
    if ((turn | 0) !== asked[i]) {
      asked[i] = turn | 0;
      alight[i] = noise(seed, i, turn | 0) < width ? 1 : 0;
    }
    const left = 1 - (own - turn);
    light[out] = alight[i] === 1 ? left * left : 0;
  }
};

const flicker: Wave = ({ width, seed }, behind, turns, { from, to, light, lightAt }) => {
  for (let i = from, out = lightAt; i < to; i++, out++)
    light[out] = 1 - width * smoothNoise(seed, i, (turns - behind[i]!) * 4);
};

const WAVES: Readonly<Record<LevelWave, Wave>> = {
  wave: shaped((at) => 0.5 - 0.5 * sine(at + 0.25)),
  triangle: shaped((at) => (at < 0.5 ? at * 2 : 2 - at * 2)),
  rise: shaped((at) => at),
  fall: shaped((at) => 1 - at),
  pulse: shaped((at, width) => (at < width ? 1 - ease(at / width) : 0)),
  square: shaped((at, width) => (at < width ? 1 : 0)),
  // In over two fifths, out over half, with a rest at the end.
  breath: shaped((at) => (at < 0.4 ? ease(at / 0.4) : at < 0.9 ? 1 - ease((at - 0.4) / 0.5) : 0)),
  sparkle,
  flicker,
  strobe: shaped((at, width) => (at < width * FLASH ? 1 : 0)),
};

/**
 * Waves 0-1 of a span of elements at so many turns, each `behind[i]` turns behind, into its light. `width` is the share
 * of a turn that is alight; place and `seed` tell random ones apart. Pure: what a `sparkle` knows, it could find out.
 */
export function drawWave(
  input: WaveInput,
  behind: Float32Array,
  turns: number,
  span: Span,
  known: Sparkle | null,
): void {
  WAVES[input.wave](input, behind, turns, span, known);
}
