/** The light of a song: telling its blocks, a dense moment, an edit, its size. */
import { standinAddresses } from '../src/addresses.ts';
import { applyChange, documentOf, recordsOf, type Document } from '../src/core/document/change.ts';
import { writeArchive } from '../src/core/format/archive.ts';
import { builtInProfiles } from '../src/core/profile/library.ts';
import { PRESETS } from '../src/core/ready/presets.ts';
import { make, type AnyRecord, type LaneRecord } from '../src/core/records/index.ts';
import { initialLive, makeFrame, compileRig, prepareLive, Programs, render } from '../src/core/show/index.ts';
import { withSong } from '../src/core/show/live/songs.ts';
import { moved } from '../src/core/timeline/blocks.ts';
import { songPlays } from '../src/core/timeline/light.ts';
import { millpondWalk } from '../src/db/seed/millpond.ts';
import { quantileOf, report, timed } from './measure.ts';

const walk = documentOf(millpondWalk(builtInProfiles(), standinAddresses('/bench')));
const LENGTH_S = 300;
const song = make('song', {
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
function lanes(blocks: number): LaneRecord[] {
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

for (const count of [2000, 20_000]) {
  const own = lanes(count);
  const document: Document = applyChange(walk, { put: [song, ...own], remove: [] });
  const on = { songId: song.id, at: 0, ms: 0, playing: true, loop: null, list: null, rate: 1, over: null } as const;
  const state = withSong(initialLive(0), on, document, 0);
  const told = timed(20, (i) => void songPlays(document, state, 1000 + i * 12_000));
  report(`${count} blocks on 200 lanes: told for some seconds, median`, quantileOf(told, 0.5), 'ms');
  const bare = timed(20, () => own.reduce((sum, lane) => sum + lane.blocks.filter(({ at }) => at > 100).length, 0));
  report(`${count} blocks on 200 lanes: gone through alone, median`, quantileOf(bare, 0.5), 'ms');
  const rig = compileRig(document);
  const programs = new Programs();
  const seek = timed(8, (i) => {
    const ms = 7000 + i * 35_000;
    prepareLive(rig, state, (play) => programs.of(rig, document, play), document, {
      light: songPlays(document, state, ms),
    });
  });
  report(`${count} blocks on 200 lanes: ready at any moment, median`, quantileOf(seek, 0.5), 'ms');
  const ms = 60_500;
  const light = songPlays(document, state, ms);
  const live = prepareLive(rig, state, (play) => programs.of(rig, document, play), document, { light });
  const frame = makeFrame(rig.arrays);
  for (let i = 0; i < 60; i++) render(rig.arrays, live, ms + i * 25, frame);
  const dense = timed(100, (i) => void render(rig.arrays, live, ms + i * 25, frame));
  report(
    `${count} blocks: a frame with ${light.length} of them near, 9,000 pixels, median`,
    quantileOf(dense, 0.5),
    'ms',
  );
  const dragged = timed(20, (i) => {
    for (const lane of own.slice(0, 100))
      moved(lane.blocks, new Set([lane.blocks[i % lane.blocks.length]!.key]), 0.5, LENGTH_S);
  });
  report(`${count} blocks: a step of a drag of 100 blocks on 100 lanes, median`, quantileOf(dragged, 0.5), 'ms');
  const without = writeArchive([...walk.values()].filter(named)).length;
  const size = writeArchive([...walk.values(), song, ...own].filter(named)).length - without;
  report(`${count} blocks: in an archive`, size / 1024, 'KiB');
  report(`${count} blocks: as rows of the database`, JSON.stringify(own).length / 1024, 'KiB');
}

function named(record: AnyRecord): boolean {
  return record.kind !== 'picture' && record.kind !== 'backdrop' && !(record.kind === 'thing' && record.model !== null);
}
