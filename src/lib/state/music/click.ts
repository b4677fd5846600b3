/** How a click sounds. */
export interface Click {
  readonly hz: number;
  readonly level: number;
  /** Seconds in which it falls off. */
  readonly long: number;
}

/** Puts a click into a context at a moment of its time. */
export function click(context: AudioContext, at: number, { hz, level, long }: Click): void {
  const tone = context.createOscillator();
  const gain = context.createGain();
  tone.frequency.value = hz;
  gain.gain.setValueAtTime(level, at);
  gain.gain.exponentialRampToValueAtTime(0.001, at + long);
  tone.connect(gain).connect(context.destination);
  tone.start(at);
  tone.stop(at + long + 0.01);
}
