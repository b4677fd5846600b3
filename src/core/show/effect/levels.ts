import type { LevelPart } from '../../records/effect.ts';
import { ease, noise, sine, smoothNoise } from './turns.ts';

/** Share of a turn a strobe is alight, of what `width` says: flashes are short. */
const FLASH = 0.4;

/**
 * Waves 0-1 of every element at so many turns, each `behind[i]` turns behind, into `light`. `width` is the share of a
 * turn that is alight; place and `seed` tell random ones apart. Pure, and one loop over the elements.
 */
export function drawWave(
  { wave, width, seed }: Pick<LevelPart, 'wave' | 'width' | 'seed'>,
  behind: Float32Array,
  turns: number,
  light: Float32Array,
): void {
  for (let i = 0; i < light.length; i++) {
    const own = turns - behind[i]!;
    const at = own - Math.floor(own);
    switch (wave) {
      case 'wave':
        light[i] = 0.5 - 0.5 * sine(at + 0.25);
        break;
      case 'triangle':
        light[i] = at < 0.5 ? at * 2 : 2 - at * 2;
        break;
      case 'rise':
        light[i] = at;
        break;
      case 'fall':
        light[i] = 1 - at;
        break;
      case 'pulse':
        light[i] = at < width ? 1 - ease(at / width) : 0;
        break;
      case 'square':
        light[i] = at < width ? 1 : 0;
        break;
      case 'breath':
        // In over two fifths, out over half, with a rest at the end.
        light[i] = at < 0.4 ? ease(at / 0.4) : at < 0.9 ? 1 - ease((at - 0.4) / 0.5) : 0;
        break;
      case 'sparkle': {
        const jittered = own + noise(seed, i, -1);
        const turn = Math.floor(jittered);
        const left = 1 - (jittered - turn);
        light[i] = noise(seed, i, turn | 0) < width ? left * left : 0;
        break;
      }
      case 'flicker':
        light[i] = 1 - width * smoothNoise(seed, i, own * 4);
        break;
      case 'strobe':
        light[i] = at < width * FLASH ? 1 : 0;
    }
  }
}
