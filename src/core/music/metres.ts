import { METRES, type BeatActivations, type Decoded } from './bar-pointer.ts';
import { shareOfFirst } from './bars.ts';
import { near } from './network.ts';

/** Bars of so many beats, from a beat (its place among all) on. */
export interface BarRun {
  readonly first: number;
  readonly metre: number;
}

/** How much less likely a bar of another metre is, and one that goes back to that of the song (natural logarithm). */
const [LEAVE, BACK] = [9, 4];

/**
 * In which bars beats are counted where the metre may change on the way. The song's own metre and its beats were decided
 * together (`decode`); with its beats fixed, the likeliest way of counting them is found again by dynamic programming, in
 * which any bar may be followed by one of another metre. So a bar that is two beats short, a bridge in three or a refrain in seven
 * is heard, and what comes after it is counted right. Empty without beats.
 */
export function barsThrough({ beat, downbeat }: BeatActivations, { beats, places, metre }: Decoded): readonly BarRun[] {
  if (beats.length === 0) return [];
  const firsts = beats.map((at) => shareOfFirst(near(beat, at), near(downbeat, at)));
  const states = METRES.flatMap((m) => Array.from({ length: m }, (_, place) => ({ metre: m, place })));
  const at = (m: number, place: number): number => states.findIndex((s) => s.metre === m && s.place === place);
  const enters = METRES.map((m) => at(m, 0));
  const leaves = METRES.map((m) => at(m, m - 1));
  const likely = (state: number, i: number): number =>
    Math.log(states[state]!.place === 0 ? firsts[i]! : 1 - firsts[i]!);
  let scores = states.map((s, i) => (s.metre === metre ? 0 : -LEAVE) - Math.log(s.metre) + likely(i, 0));
  const back: Uint8Array[] = [];
  for (let i = 1; i < beats.length; i++) {
    const from = new Uint8Array(states.length);
    const next = new Array<number>(states.length);
    for (let s = 0; s < states.length; s++) {
      const { metre: m, place } = states[s]!;
      if (place > 0) {
        from[s] = s - 1;
        next[s] = scores[s - 1]! + likely(s, i);
        continue;
      }
      const stays = leaves[enters.indexOf(s)]!;
      let [best, which] = [scores[stays]!, stays];
      for (const other of leaves) {
        const value = scores[other]! - (other === stays ? 0 : m === metre ? BACK : LEAVE);
        if (value > best) [best, which] = [value, other];
      }
      from[s] = which;
      next[s] = best + likely(s, i);
    }
    back.push(from);
    scores = next;
  }
  let state = scores.indexOf(Math.max(...scores));
  const path = [state];
  for (let i = back.length - 1; i >= 0; i--) path.push((state = back[i]![state]!));
  path.reverse();
  const bars: BarRun[] = [];
  path.forEach((s, i) => {
    const { metre: m, place } = states[s]!;
    if (place === 0 && bars.at(-1)?.metre !== m) bars.push({ first: i, metre: m });
  });
  // So few beats that no bar begins among them.
  return bars.length > 0 ? bars : [{ first: Math.max(0, places.indexOf(0)), metre }];
}
