import assert from 'node:assert/strict';
import { createHash } from 'node:crypto';
import { readFileSync, writeFileSync } from 'node:fs';
import { test } from 'node:test';
import { drawing } from '../../../tests/support/rig.ts';
import { standinAddresses } from '../../addresses.ts';
import { applyChange, documentOf } from '../../core/document/change.ts';
import { roomSetIn } from '../../core/edits/rooms.ts';
import { builtInProfiles } from '../../core/profile/library.ts';
import { make, type AnyRecord } from '../../core/records/index.ts';
import { applyLive, initialLive, liveCommandSchema, makeFrame, render } from '../../core/show/index.ts';
import { copperlineRink } from './copperline.ts';
import { SongFrames } from '../../core/timeline/frames.ts';
import { walkSong } from '../../sound/demo/walk.ts';
import { millpondWithSong } from './millpond-song.ts';
import { millpondWalk } from './millpond.ts';

/**
 * Frames of the demo shows at fixed moments, as SHA-256 of all their bytes: whatever changes them is seen. They are
 * written anew with AMBER_GOLDEN=write, and looked at before they are committed.
 */
const FILE = 'tests/samples/golden-frames.json';
const MOMENTS_MS = [0, 250, 1000, 2500, 7300, 61_234] as const;

function elsewhere(records: readonly AnyRecord[]): AnyRecord[] {
  const document = documentOf(records);
  const { change } = roomSetIn(
    document,
    {
      measures: { name: 'Cellar club', widthM: 12, depthM: 9, heightM: 3.6, walls: true },
      things: new Map([['thing:booth', { x: 1, y: 3.4 }]]),
      floor: { id: 'area:floor', min: { x: -4, y: -3 }, max: { x: 4, y: 2 } },
    },
    { room: 'room:club', left: () => 'room:rink' },
  );
  return [...applyChange(document, change).values()];
}

function hashes(records: readonly AnyRecord[]): Record<string, string[]> {
  const document = documentOf(records);
  const found: Record<string, string[]> = {};
  const playables = records.filter((r) => r.kind === 'scene' || r.kind === 'chase' || r.kind === 'effect');
  const lists = [...playables.map((p) => [p.id]), playables.map((p) => p.id), ['mood:calm'], ['mood:peak']];
  for (const [i, targets] of lists.entries()) {
    let state = initialLive(0, 120);
    for (const target of targets)
      state = applyLive(state, liveCommandSchema.parse({ do: 'play', target }), 0, `p${target}`, document);
    const { live, at } = drawing(document, state);
    found[targets.length > 1 ? 'everything' : targets[0]!] = MOMENTS_MS.map((ms) =>
      createHash('sha256').update(at(ms)).digest('hex').slice(0, 16),
    );
    assert.ok(
      live.layers.every((layer) => layer.failed === null),
      `list ${i}`,
    );
  }
  return found;
}

const SONG_MOMENTS_S = [3.2, 30.1, 55.5, 90.2, 120.3, 140.7, 145.9, 146.05, 170.4, 186];
function songHashes(): Record<string, string[]> {
  const played = walkSong();
  const fields = { id: 'song:walk', number: 1, name: played.name, blob: '0'.repeat(64), type: 'audio/wav' } as const;
  const song = make('song', { ...fields, bytes: 1, lengthS: played.seconds });
  const show = millpondWalk(builtInProfiles(), standinAddresses('/tests'));
  const document = documentOf(millpondWithSong(show, [song]));
  const frames = new SongFrames(document, 'song:walk');
  const frame = makeFrame(frames.rig.arrays);
  const found = SONG_MOMENTS_S.map((at) => {
    const bytes = render(frames.rig.arrays, frames.at(at * 1000), at * 1000, frame);
    return createHash('sha256').update(bytes).digest('hex').slice(0, 16);
  });
  assert.equal(new Set(found).size, found.length, 'every moment has light of its own');
  return { [played.name]: found };
}

test('the demo shows give the frames they gave', () => {
  const now = {
    copperline: hashes(copperlineRink(builtInProfiles(), standinAddresses('/tests'))),
    // A song of the walk, by its lanes: bells, verse, refrain, water, rise, the dark beat, the last refrain, home.
    walk: songHashes(),
    millpond: hashes(millpondWalk(builtInProfiles(), standinAddresses('/tests'))),
    // The same programming in a smaller room: only what heads do is another.
    elsewhere: hashes(elsewhere(copperlineRink(builtInProfiles(), standinAddresses('/tests')))),
  };
  if (process.env['AMBER_GOLDEN'] === 'write') writeFileSync(FILE, `${JSON.stringify(now, null, 1)}\n`);
  assert.deepEqual(now, JSON.parse(readFileSync(FILE, 'utf8')));
});
