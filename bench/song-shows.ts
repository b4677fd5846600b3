import { standinAddresses } from '../src/addresses.ts';
import { applyChange, documentOf, recordsOf, type Document } from '../src/core/document/change.ts';
import { builtInProfiles } from '../src/core/profile/library.ts';
import { PRESETS } from '../src/core/ready/presets.ts';
import { make, type LaneRecord } from '../src/core/records/index.ts';
import { millpondWalk } from '../src/db/seed/millpond.ts';

/** The lantern walk with a song of five minutes and very many blocks. */
export const walk = documentOf(millpondWalk(builtInProfiles(), standinAddresses('/bench')));
export const LENGTH_S = 300;
export const song = make('song', {
  id: 'song:bench',
  number: 1,
  name: 'Bench',
  blob: 'a'.repeat(64),
  type: 'audio/wav',
  bytes: 1,
  lengthS: LENGTH_S,
  heard: {
    ear: 1,
    bpm: 120,
    confidence: { beats: 1, bars: 1, sections: 1 },
    beats: Array.from({ length: LENGTH_S * 2 }, (_, i) => 0.25 + i / 2),
    bars: [{ at: 0.25, beats: 4 }],
    sections: [{ at: 0, name: 'A', mood: 'easy' }],
    loudness: -14,
  },
});
const units = recordsOf(walk, 'unit');
const SPECS = PRESETS.filter(({ family }) => family !== 'aim');

/** So many blocks in order on 200 lanes, ready effects on one unit after the other. */
export function lanes(blocks: number): LaneRecord[] {
  const each = blocks / 200;
  return Array.from({ length: 200 }, (_, n) =>
    make('lane', {
      id: `lane:l${n}`,
      number: n + 1,
      songId: song.id,
      on: units[n % units.length]!.id,
      blocks: Array.from({ length: each }, (_, i) => {
        const { name, spec } = SPECS[(n + i) % SPECS.length]!;
        return {
          key: i.toString(36),
          at: (i * LENGTH_S) / each,
          length: (LENGTH_S / each) * 0.9,
          plays: { is: 'effect' as const, name, spec },
          fadeIn: 0.1,
        };
      }),
    }),
  );
}

/** The walk with so many blocks. */
export const songShow = (blocks: number): Document => applyChange(walk, { put: [song, ...lanes(blocks)], remove: [] });
