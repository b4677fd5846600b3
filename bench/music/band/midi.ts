import type { Hit } from './score.ts';

/** Ticks of a beat at 120 a minute: about half a millisecond. */
const TICKS = 960;
const PER_S = TICKS * 2;

/** A standard MIDI file (format 0) that plays hits at their time: programs on channels of their own, drums on the tenth. */
export function midiOf(hits: readonly Hit[]): Uint8Array {
  const channels = new Map<number, number>();
  const events: { tick: number; bytes: number[] }[] = [];
  for (const { program } of hits) {
    if (program === null || channels.has(program)) continue;
    const channel = channels.size < 9 ? channels.size : Math.min(15, channels.size + 1);
    channels.set(program, channel);
    events.push({ tick: 0, bytes: [0xc0 | channel, program] });
  }
  for (const { at, long, loud, note, program } of hits) {
    const channel = program === null ? 9 : channels.get(program)!;
    const key = Math.max(0, Math.min(127, note));
    const tick = Math.round(at * PER_S);
    events.push({ tick, bytes: [0x90 | channel, key, Math.max(1, Math.min(127, Math.round(loud * 127)))] });
    events.push({ tick: tick + Math.max(1, Math.round(long * PER_S)), bytes: [0x80 | channel, key, 0] });
  }
  // What ends comes before what begins at the same time.
  events.sort((a, b) => a.tick - b.tick || a.bytes[0]! - b.bytes[0]!);
  const track: number[] = [];
  let last = 0;
  for (const { tick, bytes } of events) {
    track.push(...variable(tick - last), ...bytes);
    last = tick;
  }
  track.push(0, 0xff, 0x2f, 0);
  const head = [...ascii('MThd'), 0, 0, 0, 6, 0, 0, 0, 1, TICKS >> 8, TICKS & 255];
  return Uint8Array.from([...head, ...ascii('MTrk'), ...long32(track.length), ...track]);
}

const ascii = (text: string): number[] => [...text].map((c) => c.charCodeAt(0));
const long32 = (n: number): number[] => [24, 16, 8, 0].map((shift) => (n >> shift) & 255);
function variable(n: number): number[] {
  const bytes = [n & 127];
  for (let rest = n >> 7; rest > 0; rest >>= 7) bytes.unshift((rest & 127) | 128);
  return bytes;
}
