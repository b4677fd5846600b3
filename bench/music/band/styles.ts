/** How styles of music go: data for the composer. Patterns are strings of steps, `x` a hit, `o` a soft one, `.` none. */

/** Steps of one instrument of the drums; a string that is shorter than the bar repeats. */
export type Pattern = Readonly<Record<string, string>>;

export interface Style {
  /** Beats a minute, slowest and fastest. */
  readonly bpm: readonly [number, number];
  readonly metres: readonly number[];
  /** Steps of a beat. */
  readonly grid: 2 | 3 | 4;
  /** Drums of bars of four (of `metres[0]` where that is another), one chosen; none: no drums. */
  readonly drums: readonly Pattern[];
  readonly bass: Bass;
  readonly comp: readonly Comp[];
  /** General MIDI programs for chords, tune and what lies under. */
  readonly chords: readonly number[];
  readonly tune: readonly number[];
  readonly under: readonly number[];
  readonly basses: readonly number[];
  /** How far people are off, seconds (a deviation). */
  readonly human: readonly [number, number];
  /** Where the second half of a beat is, 0.5 straight. */
  readonly swing?: readonly [number, number];
  /** Chords come a half beat early so often. */
  readonly early?: number;
  readonly free?: boolean;
}
export type Bass = 'none' | 'root' | 'fifths' | 'walk' | 'off' | 'half' | 'drive' | 'tumbao' | 'loose';
export type Comp = 'hold' | 'beats' | 'off' | 'half' | 'arp' | 'strum' | 'stabs' | 'waltz' | 'none';

/** General MIDI keys of the drums by the letters of patterns. */
export const DRUMS: Readonly<Record<string, number>> = {
  k: 36,
  s: 38,
  r: 37,
  c: 39,
  h: 42,
  f: 44,
  o: 46,
  y: 49,
  d: 51,
  t: 45,
  b: 56,
  m: 70,
  q: 63,
  u: 64,
  v: 75,
  j: 54,
};

const KEYS = [0, 1, 2, 4, 5, 16, 18] as const;
const GUITARS = [24, 25, 26, 27, 28] as const;
const HARD = [29, 30, 27] as const;
const STRINGS = [48, 49, 50, 44] as const;
const PADS = [88, 89, 90, 91, 94, 95, 50, 51] as const;
const LEADS = [80, 81, 82, 84, 87, 62, 63] as const;
const VOICES = [52, 53, 54, 65, 66, 56, 73, 71, 22, 40, 68] as const;
const FINGER = [32, 33, 34, 35] as const;
const SYNTH = [38, 39, 87] as const;
const BACK4 = '....x.......x...';
const FOUR = 'x...';

const band = {
  chords: [...KEYS, ...GUITARS],
  tune: VOICES,
  under: [...STRINGS, 16, 52],
  basses: FINGER,
  human: [0.003, 0.012],
} as const;
const club = { chords: [...PADS, 4, 16, 81], tune: LEADS, under: PADS, basses: SYNTH, human: [0, 0.002] } as const;
const still = { chords: [0, 4, 24, 46, 48], tune: [...VOICES, 0, 46], under: STRINGS, basses: [32, 43, 42] } as const;

export const STYLES: Readonly<Record<string, Style>> = {
  house: {
    ...club,
    bpm: [116, 132],
    metres: [4],
    grid: 4,
    drums: [
      { k: FOUR, c: BACK4, o: '..x.', h: 'x.xx' },
      { k: FOUR, c: BACK4, o: '..x.', m: 'xoxo' },
      { k: FOUR, s: BACK4, h: '..x...x...x..xx.', q: '..x..x...x..x...' },
    ],
    bass: 'off',
    comp: ['stabs', 'off', 'hold'],
    early: 0.2,
  },
  techno: {
    ...club,
    bpm: [122, 150],
    metres: [4],
    grid: 4,
    drums: [
      { k: FOUR, h: '..x.' },
      { k: FOUR, o: '..x.', r: '...x..x....x..x.', h: 'xoxo' },
      { k: 'x...x...x...x.x.', c: BACK4, h: 'xxxx' },
    ],
    bass: 'drive',
    comp: ['stabs', 'arp', 'none'],
  },
  trance: {
    ...club,
    bpm: [128, 145],
    metres: [4],
    grid: 4,
    drums: [{ k: FOUR, c: BACK4, o: '..x.', h: 'xoxo' }],
    bass: 'off',
    comp: ['arp', 'hold'],
  },
  disco: {
    ...band,
    bpm: [104, 130],
    metres: [4],
    grid: 4,
    drums: [
      { k: FOUR, s: BACK4, o: '..x.', h: 'x.x.' },
      { k: FOUR, s: BACK4, h: 'xoxo', j: '..x.' },
    ],
    bass: 'half',
    comp: ['stabs', 'strum', 'off'],
  },
  rock: {
    ...band,
    chords: [...GUITARS, ...HARD],
    bpm: [84, 165],
    metres: [4],
    grid: 4,
    drums: [
      { k: 'x.......x.......', s: BACK4, h: 'x.x.' },
      { k: 'x.....x.x.......', s: BACK4, h: 'x.x.' },
      { k: 'x..x....x.x.....', s: BACK4, d: 'x.x.' },
      { k: 'x.......x.x.....', s: BACK4, o: 'x...' },
    ],
    bass: 'half',
    comp: ['strum', 'half', 'hold'],
  },
  punk: {
    ...band,
    chords: HARD,
    bpm: [150, 225],
    metres: [4],
    grid: 2,
    drums: [
      { k: 'x...x...', s: '..x...x.', h: 'x' },
      { k: 'x..xx...', s: '..x...x.', d: 'x.' },
      { k: 'x.x.', s: '..x...x.', o: 'x.' },
    ],
    bass: 'half',
    comp: ['half', 'beats'],
  },
  metal: {
    ...band,
    chords: HARD,
    bpm: [95, 165],
    metres: [4, 4, 7, 5],
    grid: 4,
    drums: [
      { k: 'x', s: BACK4, d: 'x...' },
      { k: 'x.xx', s: BACK4, h: 'x.x.' },
    ],
    bass: 'drive',
    comp: ['half', 'beats'],
  },
  pop: {
    ...band,
    bpm: [84, 132],
    metres: [4],
    grid: 4,
    drums: [
      { k: 'x.......x.......', s: BACK4, h: 'x.x.' },
      { k: 'x.....x...x.....', c: BACK4, h: 'xoxo' },
      { k: 'x...x...x...x...', s: BACK4, h: '..x.' },
    ],
    bass: 'loose',
    comp: ['hold', 'beats', 'arp', 'strum'],
    early: 0.25,
  },
  synthpop: {
    ...club,
    bpm: [96, 140],
    metres: [4],
    grid: 4,
    drums: [
      { k: 'x.......x.x.....', s: BACK4, h: 'x.x.' },
      { k: FOUR, s: BACK4, h: 'xoxo' },
    ],
    bass: 'drive',
    comp: ['arp', 'hold'],
  },
  funk: {
    ...band,
    bpm: [88, 122],
    metres: [4],
    grid: 4,
    drums: [
      { k: 'x..x..x...x..x..', s: '....x..o.o..x..o', h: 'xoxo' },
      { k: 'x.x.......x.....', s: '....x..o....x.o.', h: 'x.xx' },
    ],
    bass: 'loose',
    comp: ['stabs', 'off'],
    early: 0.3,
    swing: [0.5, 0.56],
  },
  hiphop: {
    ...band,
    basses: [...SYNTH, ...FINGER],
    bpm: [78, 104],
    metres: [4],
    grid: 4,
    drums: [
      { k: 'x.....x..xx.....', s: BACK4, h: 'x.x.' },
      { k: 'x..x......x.....', s: '....x.......x..o', h: 'xoxo' },
    ],
    bass: 'loose',
    comp: ['hold', 'stabs', 'arp'],
    swing: [0.5, 0.62],
  },
  halftime: {
    ...club,
    bpm: [62, 80],
    metres: [4],
    grid: 4,
    drums: [
      { k: 'x.....x.........', s: BACK4, h: 'x' },
      { k: 'x..x......x..x..', c: BACK4, h: 'x.xx' },
    ],
    bass: 'loose',
    comp: ['hold', 'arp'],
  },
  reggae: {
    ...band,
    bpm: [62, 96],
    metres: [4],
    grid: 4,
    drums: [
      { k: '........x.......', r: '........x.......', h: 'x.x.' },
      { k: FOUR, r: '........x.......', h: 'xoxo' },
      { k: 'x.......x.......', s: '........x.......', h: '..x.' },
    ],
    bass: 'loose',
    comp: ['off'],
  },
  dembow: {
    ...club,
    bpm: [84, 108],
    metres: [4],
    grid: 4,
    drums: [
      { k: FOUR, s: '...x..x.', h: 'x.x.' },
      { k: FOUR, r: '...x..x.', m: 'xoxo' },
    ],
    bass: 'root',
    comp: ['stabs', 'hold', 'off'],
  },
  samba: {
    ...band,
    bpm: [88, 125],
    metres: [2, 4],
    grid: 4,
    drums: [{ k: 'o...x...', m: 'xoox', j: 'xoxo', r: 'x.x..x.x.x.x..x.' }],
    bass: 'fifths',
    comp: ['stabs', 'strum'],
    early: 0.4,
  },
  bossa: {
    ...band,
    bpm: [104, 150],
    metres: [4],
    grid: 2,
    drums: [{ k: 'x..xx..x', r: 'x..x..x.', h: 'x' }],
    bass: 'fifths',
    comp: ['stabs'],
    early: 0.4,
  },
  salsa: {
    ...band,
    chords: [0, 1, 4],
    tune: [56, 57, 61, 73],
    bpm: [150, 215],
    metres: [4],
    grid: 2,
    drums: [
      { b: 'x.x.x.x.', v: 'x..x..x.', q: '..x...xx' },
      { b: 'x.xxx.xx', v: '..x.x...', u: '......xx' },
    ],
    bass: 'tumbao',
    comp: ['stabs', 'off'],
    early: 0.5,
  },
  swing: {
    ...band,
    chords: [0, 4, 26],
    tune: [56, 65, 66, 71],
    basses: [32],
    bpm: [104, 232],
    metres: [4],
    grid: 3,
    drums: [
      { d: 'x..x.xx..x.x', f: '...x.....x..' },
      { d: 'x..x.x', f: '...x.....x..', k: 'o..', s: '.....o......' },
    ],
    bass: 'walk',
    comp: ['stabs', 'hold'],
    early: 0.3,
  },
  shuffle: {
    ...band,
    bpm: [78, 140],
    metres: [4],
    grid: 3,
    drums: [
      { k: 'x.....x.....', s: '...x.....x..', h: 'x.x' },
      { k: 'x.....x.x...', s: '...x.....x..', d: 'x.x' },
    ],
    bass: 'walk',
    comp: ['strum', 'beats', 'half'],
  },
  slowtriplets: {
    ...band,
    bpm: [48, 78],
    metres: [4],
    grid: 3,
    drums: [{ k: 'x.....x..x..', s: '...x.....x..', h: 'x' }],
    bass: 'root',
    comp: ['half', 'hold', 'arp'],
  },
  drumandbass: {
    ...club,
    bpm: [160, 182],
    metres: [4],
    grid: 4,
    drums: [
      { k: 'x.........x.....', s: BACK4, h: 'x.x.' },
      { k: 'x.x.......x.....', s: '....x..o.o..x...', h: 'xoxo' },
    ],
    bass: 'loose',
    comp: ['hold', 'stabs'],
  },
  breaks: {
    ...club,
    bpm: [120, 142],
    metres: [4],
    grid: 4,
    drums: [{ k: 'x.x.......xx....', s: '....x..o.o..x..o', h: 'x.x.' }],
    bass: 'loose',
    comp: ['stabs', 'hold'],
  },
  ballad: {
    ...band,
    bpm: [54, 86],
    metres: [4, 4, 3],
    grid: 4,
    drums: [
      { k: 'x.......x.......', s: BACK4, h: 'x.x.' },
      { k: 'x.........x.....', r: BACK4, h: 'x.x.' },
    ],
    bass: 'root',
    comp: ['arp', 'hold', 'beats'],
    under: STRINGS,
  },
  country: {
    ...band,
    chords: [24, 25, 27],
    tune: [25, 40, 22, 105],
    bpm: [92, 200],
    metres: [4, 2],
    grid: 2,
    drums: [
      { k: 'x.', s: '..x.', h: 'x' },
      { k: 'x...', s: 'oox.' },
      { k: 'x.x.', s: '.x.x' },
    ],
    bass: 'fifths',
    comp: ['off', 'strum'],
  },
  polka: {
    ...band,
    chords: [21, 58, 0],
    tune: [21, 71, 56],
    basses: [58, 32],
    bpm: [100, 132],
    metres: [2],
    grid: 2,
    drums: [{ k: 'x.x.', s: '.x.x' }],
    bass: 'fifths',
    comp: ['off'],
  },
  march: {
    ...band,
    chords: [61, 57, 60],
    tune: [56, 73, 72, 61],
    basses: [58],
    bpm: [98, 132],
    metres: [2, 4],
    grid: 4,
    drums: [
      { k: 'x...', s: '..x.xoxo' },
      { k: 'x...x...', s: 'x.xx', y: 'x.......' },
    ],
    bass: 'fifths',
    comp: ['off', 'beats'],
  },
  waltz: {
    ...still,
    human: [0.004, 0.014],
    bpm: [82, 195],
    metres: [3],
    grid: 2,
    drums: [{ k: 'x.....', s: '..o.o.' }, {}, { k: 'x.....', h: '..x.x.' }, { d: 'x.x.x.', k: 'x.....' }],
    bass: 'root',
    comp: ['waltz', 'waltz', 'arp', 'hold'],
  },
  jazzwaltz: {
    ...band,
    bpm: [110, 190],
    metres: [3],
    grid: 3,
    drums: [{ d: 'x..x.xx..', f: '...x.....', k: 'x........' }],
    bass: 'walk',
    comp: ['stabs', 'hold'],
  },
  six: {
    ...band,
    bpm: [110, 230],
    metres: [6],
    grid: 2,
    drums: [
      { k: 'x.....', s: '......x.....', h: 'x.' },
      { k: 'x.......x...', s: '......x.....', h: 'x.' },
    ],
    bass: 'root',
    comp: ['arp', 'beats', 'strum'],
  },
  compound: {
    ...band,
    bpm: [50, 132],
    metres: [2, 4],
    grid: 3,
    drums: [
      { k: 'x..', s: '...x..', h: 'x' },
      { b: 'x.x.xx.x.x.x', k: 'x..', m: 'x' },
      { j: 'x.x', k: 'x.....' },
    ],
    bass: 'root',
    comp: ['half', 'arp', 'strum'],
  },
  odd: {
    ...band,
    bpm: [96, 215],
    metres: [5, 7, 5, 7, 5],
    grid: 2,
    drums: [{ h: 'x' }, { h: 'x.' }, { d: 'x.' }],
    bass: 'root',
    comp: ['beats', 'arp', 'stabs', 'strum'],
  },
  chip: {
    ...club,
    chords: [80, 81],
    tune: [80, 82],
    bpm: [108, 190],
    metres: [4, 4, 3],
    grid: 4,
    drums: [{ k: 'x.......x.......', s: BACK4, h: 'x.x.' }, { k: FOUR, s: BACK4, h: '..x.' }, {}],
    bass: 'off',
    comp: ['arp'],
  },
  orchestra: {
    ...still,
    chords: [48, 49, 61, 60],
    human: [0.006, 0.02],
    bpm: [58, 150],
    metres: [4, 3, 2, 6],
    grid: 2,
    drums: [{}],
    bass: 'root',
    comp: ['beats', 'hold', 'half', 'waltz'],
    free: true,
  },
  piano: {
    ...still,
    chords: [0, 1, 4],
    tune: [0, 1, 4],
    human: [0.006, 0.02],
    bpm: [54, 140],
    metres: [4, 3, 4, 2],
    grid: 4,
    drums: [{}],
    bass: 'root',
    comp: ['arp', 'half', 'waltz', 'hold'],
    free: true,
  },
  picked: {
    ...still,
    chords: [24, 25, 46],
    human: [0.004, 0.014],
    bpm: [64, 150],
    metres: [4, 3],
    grid: 2,
    drums: [{}, { m: 'xo' }],
    bass: 'fifths',
    comp: ['arp', 'strum'],
    free: true,
  },
  bells: {
    ...still,
    chords: [9, 11, 14, 10, 98],
    tune: [9, 10, 11, 73, 14],
    human: [0.002, 0.01],
    bpm: [80, 200],
    metres: [4, 3, 2],
    grid: 2,
    drums: [{}, { j: 'xo' }, { j: 'x.', k: 'x...' }],
    bass: 'fifths',
    comp: ['beats', 'arp', 'off'],
  },
  choir: {
    ...still,
    chords: [52, 53, 19, 16],
    tune: [52, 53, 68],
    human: [0.006, 0.02],
    bpm: [60, 110],
    metres: [4, 3],
    grid: 2,
    drums: [{}, { k: 'x...x...' }],
    bass: 'root',
    comp: ['beats', 'hold'],
    free: true,
  },
  ambient: {
    ...club,
    human: [0.001, 0.006],
    bpm: [70, 120],
    metres: [4],
    grid: 4,
    drums: [{}, { h: '..o.' }, { k: 'o.......o.......', m: 'o.oo' }],
    bass: 'root',
    comp: ['arp', 'hold'],
  },
};
