import assert from 'node:assert/strict';
import { createHash } from 'node:crypto';
import { readFileSync, writeFileSync } from 'node:fs';
import { test } from 'node:test';
import { drawing } from '../../../tests/support/rig.ts';
import { standinAddresses } from '../../addresses.ts';
import { applyChange, documentOf } from '../../core/document/change.ts';
import { roomSetIn } from '../../core/edits/rooms.ts';
import { builtInProfiles } from '../../core/profile/library.ts';
import type { AnyRecord } from '../../core/records/index.ts';
import { applyLive, initialLive, liveCommandSchema } from '../../core/show/index.ts';
import { copperlineRink } from './copperline.ts';
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

test('the demo shows give the frames they gave', () => {
  const now = {
    copperline: hashes(copperlineRink(builtInProfiles(), standinAddresses('/tests'))),
    millpond: hashes(millpondWalk(builtInProfiles(), standinAddresses('/tests'))),
    // The same programming in a smaller room: only what heads do is another.
    elsewhere: hashes(elsewhere(copperlineRink(builtInProfiles(), standinAddresses('/tests')))),
  };
  if (process.env['AMBER_GOLDEN'] === 'write') writeFileSync(FILE, `${JSON.stringify(now, null, 1)}\n`);
  assert.deepEqual(now, JSON.parse(readFileSync(FILE, 'utf8')));
});
