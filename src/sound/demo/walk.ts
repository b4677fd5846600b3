import { chord, done, Score, type DemoSong } from './songs.ts';

/** The song of the lantern walk: bells, a slow refrain, a break over the water and a last round. Three minutes of our own. */

export const WALK_BPM = 92;
/** Where its parts begin, in bars of four. */
export const WALK_PARTS = [
  { bar: 0, name: 'Bells', mood: 'calm', turn: null },
  { bar: 8, name: 'Verse', mood: 'easy', turn: null },
  { bar: 20, name: 'Refrain', mood: 'lively', turn: null },
  { bar: 32, name: 'Verse', mood: 'easy', turn: null },
  { bar: 44, name: 'Water', mood: 'calm', turn: 'break' },
  { bar: 52, name: 'Rise', mood: 'lively', turn: 'build' },
  { bar: 56, name: 'Refrain', mood: 'strong', turn: 'drop' },
  { bar: 68, name: 'Home', mood: 'calm', turn: null },
] as const;
export const WALK_BARS = 72;

const CHORDS = [
  [62, 66, 69],
  [59, 62, 66],
  [67, 71, 74],
  [57, 61, 64],
] as const;
const BELLS = [86, 81, 78, 81, 83, 78, 74, 78, 86, 83, 79, 83, 81, 76, 73, 76];
const TUNE = [74, 76, 78, 81, 78, 76, 74, 71, 79, 78, 76, 74, 73, 74, 76, 69];

export function walkSong(): DemoSong {
  const score = new Score(92, 0.6);
  for (let bar = 0; bar < WALK_BARS; bar++) {
    const own = CHORDS[bar % 4]!;
    const part = WALK_PARTS.findLast((p) => p.bar <= bar)!;
    const last = part.bar === 56;
    for (let place = 0; place < 4; place++)
      score.beat(WALK_BPM, (add) => {
        const bell = BELLS[(bar * 4 + place) % 16]!;
        if (part.name === 'Bells' || part.name === 'Home') {
          add('pluck', 0, place === 0 ? 0.4 : 0.28, bell, 1.4);
          if (place === 0 && bar % 2 === 0) chord(add, 'pad', 0, 0.14, own, 7.6);
        }
        if (part.name === 'Verse') {
          add('kick', 0, place === 0 ? 0.8 : place === 2 ? 0.6 : 0);
          if (place % 2 === 1) add('hat', 0, 0.3);
          add('bass', 0, place === 0 ? 0.6 : 0.3, own[0] - 24, 0.9);
          if (place === 0) chord(add, 'pad', 0, 0.16, own, 3.8);
          add('pluck', place % 2 === 0 ? 0 : 0.5, 0.26, bell - 12, 0.8);
        }
        if (part.name === 'Refrain') {
          if (place % 2 === 0) add('kick', 0, 1);
          else add('snare', 0, last ? 0.85 : 0.7);
          add('hat', 0, 0.3);
          add('hat', 0.5, last ? 0.4 : 0.25);
          add('bass', place === 0 ? 0 : 0.5, 0.6, own[0] - 24, 0.5);
          if (place === 0) chord(add, 'chord', 0, 0.36, own, 3.4);
          add('lead', 0, 0.34, TUNE[(bar * 4 + place) % 16]!, 0.9);
          if (last && place === 3) add('lead', 0.5, 0.26, TUNE[(bar * 4) % 16]! + 12, 0.5);
        }
        if (part.name === 'Water') {
          if (place === 0) chord(add, 'pad', 0, 0.2, own, 3.9);
          if (place === 0 || place === 3) add('pluck', place === 0 ? 0 : 0.5, 0.3, bell, 1.8);
        }
        if (part.name === 'Rise') {
          const step = (bar - 52) * 4 + place;
          for (let k = 0; k < (bar < 54 ? 1 : 2); k++) add('snare', k / 2, 0.2 + step * 0.035);
          if (place === 0) chord(add, 'pad', 0, 0.2, own, 3.9);
          if (bar < 55 || place < 3) add('kick', 0, 0.7);
        }
      });
  }
  return done('lamps-on-the-water', 'Lamps on the Water', 4, score);
}
