/** The light of a song: telling its blocks, a dense moment, an edit, its size. */
import { applyChange, recordsOf, type Document } from '../src/core/document/change.ts';
import { writeArchive } from '../src/core/format/archive.ts';
import { PRESETS } from '../src/core/ready/presets.ts';
import { make, type AnyRecord } from '../src/core/records/index.ts';
import { initialLive, makeFrame, compileRig, prepareLive, Programs, render } from '../src/core/show/index.ts';
import { songOn, withSong } from '../src/core/show/live/songs.ts';
import { moved } from '../src/core/timeline/blocks.ts';
import { songPlays } from '../src/core/timeline/light.ts';
import { quantileOf, report, timed } from './measure.ts';
import { lanes, LENGTH_S, song, songShow, walk } from './song-shows.ts';
import { inBrowser } from './song-page.ts';
import { wallShow } from './wall-show.ts';

const SPECS = PRESETS.filter(({ family }) => family !== 'aim');

for (const count of [2000, 20_000]) {
  const own = lanes(count);
  const document: Document = songShow(count);
  const state = withSong(initialLive(0), songOn(song.id, 0, 0), document, 0);
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
  // One block is moved: what plays besides stays compiled.
  const at = 60_000;
  const told0 = songPlays(document, state, at);
  prepareLive(rig, state, (play) => programs.of(rig, document, play), document, { light: told0 });
  const edits = timed(8, (i) => {
    const lane = own[i]!;
    const blocks = lane.blocks.map((b, k) =>
      k === Math.floor(lane.blocks.length / 5) ? { ...b, at: b.at + 0.05 } : b,
    );
    const edited = applyChange(document, { put: [{ ...lane, blocks }], remove: [] });
    const light = songPlays(edited, state, at);
    prepareLive(rig, state, (play) => programs.of(rig, edited, play), edited, { light });
  });
  report(`${count} blocks on 200 lanes: ready after an edit of one, median`, quantileOf(edits, 0.5), 'ms');
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

/** 40 blocks at once, four on each of ten parts of a wall of so many cells; and the same cells in a plain loop. */
for (const cells of [9000, 50_000]) {
  const wall = wallShow(cells, false);
  const walls = recordsOf(wall, 'unit');
  const own = Array.from({ length: 40 }, (_, n) => {
    const { name, spec } = SPECS[n % SPECS.length]!;
    const from = Math.floor(((n % 10) * walls.length) / 10);
    const unitIds = walls.slice(from, Math.floor((((n % 10) + 1) * walls.length) / 10)).map(({ id }) => id);
    const group = make('group', { id: `group:g${n}`, number: n + 1, name: `G${n}`, unitIds });
    const block = {
      key: 'a',
      at: 0,
      length: 60,
      layer: Math.floor(n / 10),
      plays: { is: 'effect' as const, name, spec },
    };
    return [group, make('lane', { id: `lane:d${n}`, number: n + 1, songId: song.id, on: group.id, blocks: [block] })];
  });
  const document = applyChange(wall, { put: [song, ...own.flat()], remove: [] });
  const rig = compileRig(document);
  const state = withSong(initialLive(0), songOn(song.id, 0, 0), document, 0);
  const programs = new Programs();
  const begun = performance.now();
  const light = songPlays(document, state, 1000);
  const live = prepareLive(rig, state, (play) => programs.of(rig, document, play), document, { light });
  report(`40 blocks on ${cells} cells: compiled from nothing`, performance.now() - begun, 'ms');
  const frame = makeFrame(rig.arrays);
  for (let i = 0; i < 40; i++) render(rig.arrays, live, 1000 + i * 25, frame);
  const dense = timed(60, (i) => void render(rig.arrays, live, 1000 + i * 25, frame));
  report(`40 blocks on ${cells} cells: a frame, median`, quantileOf(dense, 0.5), 'ms');
  const [levels, bytes] = [new Float32Array(cells * 3), new Uint8Array(cells * 3)];
  const bare = timed(60, (round) => {
    for (let layer = 0; layer < 4; layer++)
      for (let i = 0; i < levels.length; i++) levels[i] = 0.5 + 0.5 * Math.sin(i * 0.01 + round * 0.1 + layer);
    for (let i = 0; i < levels.length; i++) bytes[i] = levels[i]! * 255;
  });
  report(`40 blocks on ${cells} cells: four sines a cell in a plain loop, median`, quantileOf(bare, 0.5), 'ms');
}

for (const count of [2000, 20_000]) await inBrowser(count);

function named(record: AnyRecord): boolean {
  return record.kind !== 'picture' && record.kind !== 'backdrop' && !(record.kind === 'thing' && record.model !== null);
}
