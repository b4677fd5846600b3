import type { RigArrays } from './rig.ts';

/** Levels a gamma table tells apart. */
export const GAMMA_STEPS = 4097;

/** White out of the mixed colour: what red, green and blue have in common. */
export function mixColours(rig: RigArrays, current: Float32Array): void {
  const { input, own, output } = rig.mixers;
  for (let i = 0; i < input.length; i++) {
    const from = input[i]!;
    const to = output[i]!;
    const red = current[from]!;
    const green = current[from + 1]!;
    const blue = current[from + 2]!;
    const white = Math.min(red, green, blue);
    const ownWhite = own[i]! < 0 ? 0 : current[own[i]!]!;
    current[to] = red - white;
    current[to + 1] = green - white;
    current[to + 2] = blue - white;
    current[to + 3] = ownWhite > white ? ownWhite : white;
  }
}

/** What a level leaves of the light, through the gamma table given (from 1; 0 for none). */
export const curved = (rig: RigArrays, level: number, gamma: number): number =>
  gamma === 0 ? level : rig.gammaTables[(gamma - 1) * GAMMA_STEPS + ((level * (GAMMA_STEPS - 1) + 0.5) | 0)]!;

/** Attribute values of plain pixels to bytes, scaled by their levels. */
export function encodeCells(rig: RigArrays, current: Float32Array, bytes: Uint8Array): void {
  const { count, level, step, colour, gamma, byte } = rig.cells;
  for (let run = 0; run < count.length; run++) {
    const curve = gamma[run]!;
    const stride = step[run]!;
    let from = colour[run]!;
    let to = byte[run]!;
    let by = level[run]!;
    for (let i = count[run]!; i > 0; i--, from += 3, to += 3, by += stride) {
      const left = curved(rig, current[by]!, curve);
      bytes[to] = (current[from]! * left * 255 + 0.5) | 0;
      bytes[to + 1] = (current[from + 1]! * left * 255 + 0.5) | 0;
      bytes[to + 2] = (current[from + 2]! * left * 255 + 0.5) | 0;
    }
  }
}

/** All other attribute values to bytes: 8, 16 or 24 bit, turned round where a unit is, scaled by a made-up level. */
export function encodeRest(rig: RigArrays, current: Float32Array, bytes: Uint8Array): void {
  const { slot, scale, flip, gamma, offset, count } = rig.rest8;
  for (let run = 0; run < slot.length; run++) {
    const by = scale[run]!;
    const left = by < 0 ? 1 : curved(rig, current[by]!, gamma[run]!);
    const from = slot[run]!;
    const to = offset[run]!;
    const length = count[run]!;
    if (flip[run] === 1)
      for (let i = 0; i < length; i++) bytes[to + i] = ((1 - current[from + i]!) * left * 255 + 0.5) | 0;
    else for (let i = 0; i < length; i++) bytes[to + i] = (current[from + i]! * left * 255 + 0.5) | 0;
  }
  encode16(rig, current, bytes);
}

function encode16(rig: RigArrays, current: Float32Array, bytes: Uint8Array): void {
  const wide = rig.bytes16;
  for (let i = 0; i < wide.slot.length; i++) {
    let value = current[wide.slot[i]!]!;
    if (wide.flip[i] === 1) value = 1 - value;
    const scale = wide.scale[i]!;
    if (scale >= 0) value *= curved(rig, current[scale]!, wide.gamma[i]!);
    const third = wide.offset2[i]!;
    // Whole numbers on both ways, so that no number object is made.
    const raw = third >= 0 ? (value * 0xffffff + 0.5) | 0 : ((value * 0xffff + 0.5) | 0) << 8;
    bytes[wide.offset[i]!] = raw >>> 16;
    const second = wide.offset1[i]!;
    if (second >= 0) bytes[second] = (raw >>> 8) & 0xff;
    if (third >= 0) bytes[third] = raw & 0xff;
  }
}
