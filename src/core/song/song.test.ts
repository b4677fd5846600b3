import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import { make, type SongRecord } from '../records/index.ts';
import { mendedSchema, type HeardSong, type MendedSong } from '../records/song.ts';
import { beatsOf, bpmNear, bpmOf, gridOf, metreOf, nearest, sectionAt, sectionsOf } from './grid.ts';
import {
  asHeard,
  barsShifted,
  beatAdded,
  beatMoved,
  beatRemoved,
  doubled,
  halved,
  LEAST_BEAT_S,
  metreFrom,
  metreThroughout,
  oneAt,
  sectionChanged,
  sectionJoined,
  sectionMoved,
  sectionSplit,
  tapped,
  withBeats,
} from './mend.ts';
import { nameOfFile } from './names.ts';

const END = 60;
const steadyBeats = (bpm: number, from: number, to: number): number[] => {
  const beats: number[] = [];
  for (let at = from; at < to; at += 60 / bpm) beats.push(Math.round(at * 10_000) / 10_000);
  return beats;
};
const heardAs = (change: Partial<HeardSong> = {}): HeardSong => ({
  ear: 1,
  bpm: 120,
  confidence: { beats: 1, bars: 1, sections: 1 },
  beats: steadyBeats(120, 0.5, 59),
  bars: [{ at: 0.5, beats: 4 }],
  sections: [
    { at: 0, name: 'A', mood: 'easy', turn: null },
    { at: 20, name: 'B', mood: 'peak', turn: 'drop' },
    { at: 40, name: 'A', mood: 'easy', turn: null },
  ],
  snares: [],
  loudness: -14,
  ...change,
});
const songOf = (heard: HeardSong | null, mended?: MendedSong): SongRecord =>
  make('song', {
    id: 'song:one',
    number: 1,
    name: 'One',
    blob: '0'.repeat(64),
    type: 'audio/wav',
    bytes: 1,
    lengthS: END,
    heard,
    ...(mended ? { mended } : {}),
  });
const plain = songOf(heardAs());
const mend = (song: SongRecord, mended: MendedSong): SongRecord => {
  const parsed = mendedSchema.safeParse(mended);
  assert.ok(parsed.success, parsed.success ? '' : JSON.stringify(parsed.error.issues.slice(0, 2)));
  return { ...song, mended };
};

describe('the grid', () => {
  test('counts bars from where they begin, the beats before them too', () => {
    const { places, bars, metres } = gridOf(songOf(heardAs({ bars: [{ at: 1.5, beats: 4 }] })));
    assert.deepEqual(places.slice(0, 7), [2, 3, 0, 1, 2, 3, 0]);
    assert.deepEqual(bars.slice(0, 7), [0, 0, 1, 1, 1, 1, 2]);
    assert.ok(metres.every((m) => m === 4));
  });
  test('changes its metre where that changes', () => {
    const { places } = gridOf(
      songOf(
        heardAs({
          bars: [
            { at: 0.5, beats: 4 },
            { at: 4.5, beats: 3 },
          ],
        }),
      ),
    );
    assert.deepEqual(places.slice(6, 14), [2, 3, 0, 1, 2, 0, 1, 2]);
  });
  test('of a song that was not heard is empty', () => {
    const { beats, places } = gridOf(songOf(null));
    assert.deepEqual([beats, places], [[], []]);
    assert.equal(bpmOf({ beats: [] }), null);
    assert.equal(metreOf({ metres: [] }), null);
  });
  test('is kept as long as the song is the same', () => {
    assert.equal(gridOf(plain), gridOf({ ...plain, name: 'Other' } as SongRecord));
  });
  test('tells the tempo of beats that are a little uneven', () => {
    const beats = steadyBeats(128, 0.3, 59).map((at, i) => at + (i % 3) * 0.004);
    assert.ok(Math.abs(bpmOf({ beats })! - 128) < 0.3, `${bpmOf({ beats })}`);
    assert.ok(Math.abs(bpmNear({ beats }, 30)! - 128) < 0.6);
  });
});

describe('beats set right', () => {
  test('one is moved between its neighbours, never past them', () => {
    const song = mend(plain, beatMoved(plain, 4, 2.6, END));
    assert.equal(beatsOf(song)[4], 2.6);
    assert.equal(beatsOf(song).length, beatsOf(plain).length);
    const far = mend(plain, beatMoved(plain, 4, 50, END));
    assert.ok(beatsOf(far)[4]! <= beatsOf(far)[5]! - LEAST_BEAT_S + 1e-6);
  });
  test('moved twice it is where it was put last', () => {
    const once = mend(plain, beatMoved(plain, 4, 2.6, END));
    const twice = mend(once, beatMoved(once, 4, 2.45, END));
    assert.equal(beatsOf(twice)[4], 2.45);
    assert.equal(beatsOf(twice).length, beatsOf(plain).length);
  });
  test('removed and added again', () => {
    const without = mend(plain, beatRemoved(plain, 10, END));
    assert.equal(beatsOf(without).length, beatsOf(plain).length - 1);
    const again = mend(without, beatAdded(without, beatsOf(plain)[10]!, END));
    assert.deepEqual(beatsOf(again), beatsOf(plain));
    assert.equal(beatAdded(again, beatsOf(plain)[10]! + 0.02, END), again.mended, 'there is one already');
  });
  test('the first and the last may be taken away', () => {
    const first = mend(plain, beatRemoved(plain, 0, END));
    assert.deepEqual(beatsOf(first), beatsOf(plain).slice(1));
    const last = mend(first, beatRemoved(first, beatsOf(first).length - 1, END));
    assert.deepEqual(beatsOf(last), beatsOf(plain).slice(1, -1));
  });
  test('half as fast keeps the beats that begin bars, twice as fast puts one between', () => {
    const slow = mend(plain, halved(plain, END));
    assert.equal(Math.round(bpmOf(gridOf(slow))!), 60);
    assert.equal(gridOf(slow).places[0], 0);
    const odd = songOf(heardAs({ bars: [{ at: 1, beats: 4 }] }));
    assert.equal(beatsOf(mend(odd, halved(odd, END)))[0], 1);
    const fast = mend(plain, doubled(plain, END));
    assert.equal(Math.round(bpmOf(gridOf(fast))!), 240);
    const back = mend(fast, halved(fast, END));
    assert.deepEqual(beatsOf(back), beatsOf(plain));
  });
  test('taps along a stretch: smoothed, laid on beats that were heard nearby, and nothing else changes', () => {
    const taps = [10.03, 10.98, 12.02, 12.99, 14.01];
    const song = mend(plain, tapped(plain, taps, END));
    const within = beatsOf(song).filter((at) => at > 9.6 && at < 14.4);
    assert.deepEqual(within, [10, 11, 12, 13, 14]);
    assert.deepEqual(
      beatsOf(song).filter((at) => at < 9.5),
      beatsOf(plain).filter((at) => at < 9.5),
    );
    assert.deepEqual(
      beatsOf(song).filter((at) => at > 14.6),
      beatsOf(plain).filter((at) => at > 14.6),
    );
    assert.equal(tapped(plain, [3], END), plain.mended, 'one tap is no row');
  });
  test('taps are the beats of a song in which none were heard', () => {
    const mute = songOf(heardAs({ beats: [], bars: [] }));
    const song = mend(mute, tapped(mute, [1, 1.5, 2.01, 2.49, 3], END));
    assert.equal(beatsOf(song).length, 5);
    assert.ok(Math.abs(bpmOf(gridOf(song))! - 120) < 2);
  });
  test('what was set right stays when the song is heard anew', () => {
    const song = mend(plain, beatMoved(plain, 4, 2.6, END));
    const anew = { ...song, heard: heardAs({ ear: 2, beats: steadyBeats(120.4, 0.52, 59) }) };
    assert.ok(beatsOf(anew).includes(2.6));
    assert.equal(beatsOf(anew).filter((at) => at > 2.3 && at < 2.7).length, 1, 'the same beat is not there twice');
  });
  test('as it was heard: in a stretch, and throughout', () => {
    const one = mend(plain, beatMoved(plain, 4, 2.6, END));
    const two = mend(one, beatMoved(one, 40, 20.6, END));
    const back = mend(two, asHeard(two, 1, 5));
    assert.equal(beatsOf(back)[4], 2.5);
    assert.equal(beatsOf(back)[40], 20.6);
    assert.deepEqual(beatsOf(mend(two, asHeard(two, 0, END))), beatsOf(plain));
  });
});

test('whatever is done, beats rise and records are sound', () => {
  const step = fc.oneof(
    fc.record({ is: fc.constant('move'), i: fc.nat(130), to: fc.double({ min: 0, max: 60, noNaN: true }) }),
    fc.record({ is: fc.constant('add'), to: fc.double({ min: 0, max: 60, noNaN: true }) }),
    fc.record({ is: fc.constant('remove'), i: fc.nat(130) }),
    fc.record({
      is: fc.constant('taps'),
      taps: fc.array(fc.double({ min: 0, max: 60, noNaN: true }), { maxLength: 9 }),
    }),
    fc.record({ is: fc.constantFrom('half', 'double', 'earlier', 'later') }),
    fc.record({ is: fc.constant('one'), to: fc.double({ min: 0, max: 60, noNaN: true }) }),
    fc.record({
      is: fc.constant('metre'),
      to: fc.double({ min: 0, max: 60, noNaN: true }),
      m: fc.integer({ min: 2, max: 7 }),
    }),
    fc.record({ is: fc.constant('heard'), to: fc.double({ min: 0, max: 50, noNaN: true }) }),
  );
  type Any = { is: string; i?: number; to?: number; m?: number; taps?: number[] };
  const done = (song: SongRecord, { is, i = 0, to = 0, m = 4, taps = [] }: Any): MendedSong => {
    const at = Math.min(i, Math.max(0, beatsOf(song).length - 1));
    if (is === 'move') return beatsOf(song).length > 0 ? beatMoved(song, at, to, END) : song.mended;
    if (is === 'add') return beatAdded(song, to, END);
    if (is === 'remove') return beatsOf(song).length > 0 ? beatRemoved(song, at, END) : song.mended;
    if (is === 'taps') return tapped(song, taps, END);
    if (is === 'half') return halved(song, END);
    if (is === 'double') return doubled(song, END);
    if (is === 'earlier') return barsShifted(song, -1);
    if (is === 'later') return barsShifted(song, 1);
    if (is === 'one') return oneAt(song, to);
    if (is === 'metre') return metreFrom(song, to, m);
    return asHeard(song, to, to + 5);
  };
  fc.assert(
    fc.property(fc.array(step, { maxLength: 14 }), (steps) => {
      let song = plain;
      for (const one of steps) song = mend(song, done(song, one as Any));
      const { beats, places, metres, bars } = gridOf(song);
      assert.ok(
        beats.every((at, i) => i === 0 || at > beats[i - 1]!),
        'beats rise',
      );
      assert.equal(places.length, beats.length);
      assert.ok(
        places.every((place, i) => place >= 0 && place < metres[i]!),
        'places lie in their bars',
      );
      assert.ok(
        bars.every((bar, i) => i === 0 || bar >= bars[i - 1]!),
        'bars rise',
      );
    }),
    { numRuns: 300 },
  );
});

describe('bars set right', () => {
  test('are shifted before the first beat: what has no room left there is gone', () => {
    const two = (at: number) => ({ at, beats: 2 });
    const song = songOf(heardAs({ bars: [two(0.5), two(1), { at: 1.5, beats: 4 }] }));
    assert.deepEqual(barsShifted(song, -1).bars, [two(0.5), { at: 1, beats: 4 }]);
    // With room for a bar the first counts from there on, backwards too.
    const roomy = songOf(heardAs({ bars: [two(0.5), { at: 3, beats: 4 }] }));
    assert.deepEqual(barsShifted(roomy, -1).bars, [two(1), { at: 2.5, beats: 4 }]);
  });
  const placeAt = (song: SongRecord, at: number): number => gridOf(song).places[nearest(gridOf(song).beats, at)]!;
  test('the one is where it is said to be, before it and after it', () => {
    const song = mend(plain, oneAt(plain, 10.05));
    assert.deepEqual([placeAt(song, 10), placeAt(song, 8), placeAt(song, 30), placeAt(song, 10.5)], [0, 0, 0, 1]);
  });
  test('the one before the first that was counted, where bars soon have another metre', () => {
    const bars = [
      { at: 1, beats: 2 },
      { at: 1.5, beats: 4 },
    ];
    const song = songOf(heardAs({ bars }));
    const set = mend(song, oneAt(song, 0.5));
    assert.deepEqual([placeAt(set, 0.5), placeAt(set, 1.5), placeAt(set, 3.5)], [0, 0, 0]);
  });
  test('a beat earlier and a beat later are one another’s undoing', () => {
    const later = mend(plain, barsShifted(plain, 1));
    assert.equal(placeAt(later, 1), 0);
    assert.deepEqual(gridOf(mend(later, barsShifted(later, -1))).places, gridOf(plain).places);
    const earlier = mend(plain, barsShifted(plain, -1));
    assert.equal(placeAt(earlier, 2), 0, 'the beat before the one begins bars');
  });
  test('another metre from here on leaves what was before', () => {
    const song = mend(plain, metreFrom(plain, 20.5, 3));
    assert.deepEqual([placeAt(song, 20.5), placeAt(song, 22), placeAt(song, 18.5)], [0, 0, 0]);
    assert.equal(gridOf(song).metres[0], 4);
    const first = mend(plain, metreFrom(plain, 0.5, 5));
    assert.ok(gridOf(first).metres.every((m) => m === 5));
    const back = mend(song, metreThroughout(song, 4));
    assert.ok(gridOf(back).metres.every((m) => m === 4));
  });
  test('a metre before the first that was counted keeps the count before it', () => {
    const late = songOf(heardAs({ bars: [{ at: 30.5, beats: 4 }] }));
    const song = mend(late, metreFrom(late, 10.5, 3));
    assert.deepEqual([placeAt(song, 8.5), placeAt(song, 10.5), placeAt(song, 12), placeAt(song, 30.5)], [0, 0, 0, 0]);
  });
});

describe('sections set right', () => {
  test('moved between their neighbours, split, joined, named', () => {
    const moved = mend(plain, sectionMoved(plain, 1, 24, END));
    assert.equal(sectionsOf(moved)[1]!.at, 24);
    assert.equal(sectionsOf(mend(plain, sectionMoved(plain, 1, 59, END)))[1]!.at, 39);
    const split = mend(plain, sectionSplit(plain, 30, END));
    assert.deepEqual(
      sectionsOf(split).map(({ at, name }) => [at, name]),
      [
        [0, 'A'],
        [20, 'B'],
        [30, 'C'],
        [40, 'A'],
      ],
    );
    assert.equal(sectionSplit(plain, 20.2, END), plain.mended, 'too short');
    const joined = mend(split, sectionJoined(split, 2));
    assert.deepEqual(sectionsOf(joined), sectionsOf(plain));
    assert.equal(sectionsOf(mend(plain, sectionJoined(plain, 0))).length, 2);
    const named = mend(plain, sectionChanged(plain, 1, { name: 'Chorus', mood: 'strong', turn: null }));
    assert.deepEqual(sectionsOf(named)[1], { at: 20, name: 'Chorus', mood: 'strong', turn: null });
    assert.equal(sectionAt(sectionsOf(named), 25), 1);
  });
});

test('a stretch that was set and reaches into another keeps what lies outside', () => {
  const one = mend(plain, withBeats(plain, 10, 20, [11, 13, 15, 17, 19]));
  const two = mend(one, withBeats(one, 14, 16, [14.5]));
  assert.deepEqual(
    beatsOf(two).filter((at) => at >= 10 && at < 20),
    [11, 13, 14.5, 17, 19],
  );
});

test('files give names', () => {
  assert.equal(nameOfFile('/some/where/My_Song .final.mp3'), 'My Song .final');
  assert.equal(nameOfFile('C:\\songs\\x.wav'), 'x');
  assert.equal(nameOfFile('\u0000\u0007.wav'), 'Song');
  assert.equal(nameOfFile(`${'a'.repeat(300)}.wav`).length, 100);
});
