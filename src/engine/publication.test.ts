import assert from 'node:assert/strict';
import { test } from 'node:test';
import { turned } from '../core/document/difference.ts';
import type { FromEngine } from '../core/protocol/link.ts';
import { applyLive, initialLive, liveCommandSchema, type LiveState } from '../core/show/index.ts';
import { Publication } from './publication.ts';

test('whoever follows has the live state after each step, also who comes late; nothing is told where nothing changed', () => {
  let live = initialLive(0);
  let universes = [1, 2];
  const told: FromEngine[] = [];
  const publication = new Publication(
    () => ({ showId: 'show:s', live, universes }),
    (message) => told.push(JSON.parse(JSON.stringify(message)) as FromEngine),
  );
  let seen: { live: LiveState; seq: number } | null = null;
  const follow = (): void => {
    for (const message of told.splice(0)) {
      if (message.type === 'state') seen = { live: message.live, seq: message.seq };
      else if (message.type === 'live') {
        assert.equal(message.seq, seen!.seq + 1);
        assert.ok(JSON.stringify(message).length < 700, JSON.stringify(message));
        seen = { live: turned(seen!.live, message.difference, 'is', 'live') as LiveState, seq: message.seq };
      }
    }
    assert.deepEqual(seen!.live, JSON.parse(JSON.stringify(live)));
  };
  publication.now();
  follow();
  const commands = [
    { do: 'play', target: 'scene:a' },
    { do: 'play', target: 'chase:b' },
    { do: 'hand', set: Object.fromEntries(Array.from({ length: 5 }, (_, i) => [`unit:u${i}`, { Dimmer: 0.5 }])) },
    { do: 'hand', set: { 'unit:u3': { Dimmer: 0.6, Pan: 0.1 } } },
    { do: 'hand', set: { 'unit:u3': { Pan: null } } },
    { do: 'release', target: 'scene:a' },
    { do: 'freeze', on: true },
    { do: 'freeze', on: false },
    { do: 'tempo', bpm: 133 },
    { do: 'letGo' },
  ];
  commands.forEach((command, i) => {
    live = applyLive(live, liveCommandSchema.parse(command), 100 * i, `p${i}`);
    publication.now();
    follow();
  });
  publication.now();
  assert.deepEqual(told, [], 'nothing changed');
  universes = [1, 2, 3];
  publication.now();
  assert.equal((told as FromEngine[])[0]!.type, 'state');
  follow();
  const late = publication.whole();
  assert.ok(late.type === 'state' && late.seq === (seen as { seq: number } | null)!.seq);
});
