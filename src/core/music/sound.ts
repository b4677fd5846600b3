/** One channel of sound: samples -1 to 1, so many a second. */
export interface Sound {
  readonly rate: number;
  readonly samples: Float32Array;
}

/** Channels of one length put together evenly. */
export function mono(channels: readonly Float32Array[], rate: number): Sound {
  const [first, ...others] = channels;
  if (!first) return { rate, samples: new Float32Array(0) };
  if (others.length === 0) return { rate, samples: first };
  const samples = new Float32Array(Math.min(...channels.map((c) => c.length)));
  for (const channel of channels) for (let i = 0; i < samples.length; i++) samples[i] = samples[i]! + channel[i]!;
  const share = 1 / channels.length;
  for (let i = 0; i < samples.length; i++) samples[i] = samples[i]! * share;
  return { rate, samples };
}

/** Zero crossings of the kernel on each side: more is steeper. */
const LOBES = 8;
/** Places between two samples for which the kernel is worked out. */
const PHASES = 512;

/**
 * The same sound at another rate, by a windowed sinc that lets nothing through above half of the lower of both rates. Linear
 * in the samples that come out.
 */
export function resampled({ rate, samples }: Sound, to: number): Sound {
  if (rate === to) return { rate, samples };
  const ratio = rate / to;
  const cut = Math.min(1, to / rate) * 0.95;
  const reach = Math.ceil(LOBES / cut);
  const kernel = sincKernel(cut, reach, PHASES);
  const width = 2 * reach;
  const out = new Float32Array(Math.floor(samples.length / ratio));
  const at = (i: number): number => {
    const place = i * ratio;
    const from = Math.floor(place) - reach + 1;
    const phase = Math.min(PHASES - 1, Math.floor((place - Math.floor(place)) * PHASES));
    const begin = Math.max(0, -from);
    const end = Math.min(width, samples.length - from);
    let sum = 0;
    for (let s = from + begin, k = phase * width + begin; s < from + end; s++, k++) sum += samples[s]! * kernel[k]!;
    return sum;
  };
  if (Number.isInteger(ratio)) decimate(samples, ratio, kernel.subarray(reach - 1, width), out, at);
  else for (let i = 0; i < out.length; i++) out[i] = at(i);
  return { rate: to, samples: out };
}

/**
 * Every `step`-th sample through a kernel that is the same on both sides (`half` of it, from its middle on): in half as many
 * multiplications. Near the ends `at` knows better.
 */
function decimate(
  samples: Float32Array,
  step: number,
  half: Float32Array,
  out: Float32Array,
  at: (i: number) => number,
): void {
  const reach = half.length;
  for (let i = 0; i < out.length; i++) {
    const middle = i * step;
    if (middle < reach || middle + reach >= samples.length) {
      out[i] = at(i);
      continue;
    }
    let sum = samples[middle]! * half[0]!;
    for (let k = 1; k < reach; k++) sum += (samples[middle - k]! + samples[middle + k]!) * half[k]!;
    out[i] = sum;
  }
}

/**
 * A windowed sinc that lets through what is below `cut` of half of the rate, `reach` samples to each side, for so many places
 * between two samples: phases x 2 reach.
 */
export function sincKernel(cut: number, reach: number, phases: number): Float32Array {
  const width = 2 * reach;
  const kernel = new Float32Array(phases * width);
  for (let phase = 0; phase < phases; phase++) {
    let sum = 0;
    for (let k = 0; k < width; k++) {
      const x = k - reach + 1 - phase / phases;
      const sinc = x === 0 ? 1 : Math.sin(Math.PI * x * cut) / (Math.PI * x * cut);
      const window = Math.abs(x) >= reach ? 0 : 0.5 + 0.5 * Math.cos((Math.PI * x) / reach);
      kernel[phase * width + k] = sinc * window;
      sum += sinc * window;
    }
    for (let k = 0; k < width; k++) kernel[phase * width + k] = kernel[phase * width + k]! / sum;
  }
  return kernel;
}

/** Root mean square of all samples. */
export function rms(samples: Float32Array): number {
  let sum = 0;
  for (let i = 0; i < samples.length; i++) sum += samples[i]! * samples[i]!;
  return samples.length === 0 ? 0 : Math.sqrt(sum / samples.length);
}
