/** One slot each. `scale` is the slot of a virtual level or -1; `flip` 1 means 1 - value. */
export interface ByteEncoders {
  readonly slot: Uint32Array;
  readonly scale: Int32Array;
  readonly flip: Uint8Array;
  readonly offset: Int32Array;
  /** 0 where the level scales as it is, else the table of `gammaTables` (from 1) it goes through first. */
  readonly gamma: Uint8Array;
}

/** Neighbours that are written alike, taken together: `count` slots from `slot` on go to as many bytes from `offset` on. */
export interface ByteRuns extends Omit<ByteEncoders, 'slot'> {
  /** Signed, because it is added to: sums of unsigned numbers are floating ones, at half the speed. */
  readonly slot: Int32Array;
  readonly count: Uint16Array;
}

const LONGEST = 0xffff;

/**
 * Takes neighbours together: the three colours of a pixel lie side by side, in their slots and in their bytes, and are
 * scaled by one level, which then is read and curved once. Linear in the slots.
 */
export function runsOf(one: ByteEncoders): ByteRuns {
  const starts: number[] = [];
  const { slot, scale, flip, offset, gamma } = one;
  for (let i = 0; i < slot.length; i++) {
    const goesOn =
      i > 0 &&
      slot[i] === slot[i - 1]! + 1 &&
      offset[i] === offset[i - 1]! + 1 &&
      scale[i] === scale[i - 1] &&
      flip[i] === flip[i - 1] &&
      gamma[i] === gamma[i - 1] &&
      i - starts.at(-1)! < LONGEST;
    if (!goesOn) starts.push(i);
  }
  const first = <T extends Int32Array | Uint8Array>(into: T, from: ArrayLike<number>): T => {
    starts.forEach((start, run) => (into[run] = from[start]!));
    return into;
  };
  const { length } = starts;
  return {
    slot: first(new Int32Array(length), slot),
    scale: first(new Int32Array(length), scale),
    flip: first(new Uint8Array(length), flip),
    offset: first(new Int32Array(length), offset),
    gamma: first(new Uint8Array(length), gamma),
    count: Uint16Array.from(starts, (start, run) => (starts[run + 1] ?? slot.length) - start),
  };
}
