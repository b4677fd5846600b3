import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { make, type InputRecord } from '../../core/records/index.ts';
import { Actor, initialLive, type LiveCommand } from '../../core/show/index.ts';
import { InputMemory } from '../shared.ts';
import { InputDesk } from './inputs.ts';
import type { HeardUniverse } from './sources.ts';

const input = (over: Partial<Parameters<typeof make<'input'>>[1]> = {}): InputRecord =>
  make('input', {
    id: 'input:a',
    name: 'Guest',
    protocol: 'sacn',
    use: 'htp',
    universes: [{ wireUniverse: 7, universe: 1 }],
    ...over,
  });
const packet = (sequence: number, first: number, over: Partial<HeardUniverse> = {}): HeardUniverse => ({
  protocol: 'sacn',
  wireUniverse: 7,
  sourceId: 'guest',
  sourceName: 'Guest',
  priority: 100,
  sequence,
  terminated: false,
  preview: false,
  slots: new Uint8Array(512).fill(first, 0, 1),
  from: '10.0.0.9',
  ...over,
});

function desk(record: InputRecord) {
  let now = 0;
  const commands: LiveCommand[] = [];
  const actor = new Actor({
    document: () => new Map(),
    live: () => initialLive(0),
    command: (command) => commands.push(command),
  });
  const made = new InputDesk(
    () => now,
    (who, action, signal) => void actor.act(action, signal, now, who),
  );
  const { memory, entries } = made.setInputs([record]);
  const shared = new InputMemory(memory);
  return {
    made,
    entries,
    commands,
    take: (heard: HeardUniverse) => made.take(heard),
    at: (ms: number) => {
      now = ms;
      made.tidy();
    },
    first: () => shared.read(0)?.[0] ?? null,
    marks: (count: number) => [...(shared.marks(0)?.subarray(0, count) ?? [])],
  };
}

test('a desk that gives priorities by slot takes over only those that are high enough', () => {
  const d = desk(input({ use: 'takeover', priority: 100 }));
  d.take(packet(1, 90));
  assert.deepEqual(d.marks(3), [], 'all of it');
  d.take(packet(2, 0, { startCode: 0xdd, slots: Uint8Array.of(150, 40, 0, 100) }));
  assert.deepEqual(d.marks(5), [1, 0, 0, 1, 0]);
  assert.equal(d.first(), 90);
});

describe('a desk that comes in', () => {
  test('is handed to the frame thread, and let go when it falls silent for 2.5 s', () => {
    const d = desk(input());
    assert.deepEqual(d.entries, [{ universe: 1, use: 'htp' }]);
    assert.equal(d.first(), null);
    d.take(packet(1, 90));
    assert.equal(d.first(), 90);
    d.at(2400);
    assert.equal(d.first(), 90);
    d.at(2600);
    assert.equal(d.first(), null);
    assert.equal(d.made.health()[0]!.sources.length, 0);
  });
  test('that ends its stream is let go at once', () => {
    const d = desk(input());
    d.take(packet(1, 90));
    d.take(packet(2, 0, { terminated: true }));
    assert.equal(d.first(), null);
  });
  test('takes over only from its priority on', () => {
    const d = desk(input({ use: 'takeover', priority: 110 }));
    d.take(packet(1, 90));
    assert.deepEqual([d.first(), d.made.health()[0]!.merged], [null, false]);
    d.take(packet(2, 91, { priority: 110 }));
    assert.deepEqual([d.first(), d.made.health()[0]!.merged], [91, true]);
  });
  test('of two sources the higher priority is taken, equals are merged slot by slot', () => {
    const d = desk(input());
    d.take(packet(1, 90));
    d.take(packet(1, 40, { sourceId: 'other', sourceName: 'Other', priority: 150 }));
    assert.equal(d.first(), 40);
    d.take(packet(2, 200, { sourceId: 'third', sourceName: 'Third', priority: 150 }));
    assert.equal(d.first(), 200);
  });
  test('late packets are dropped, a wrapped sequence is not', () => {
    const d = desk(input());
    d.take(packet(254, 1));
    d.take(packet(255, 2));
    d.take(packet(0, 3));
    assert.equal(d.first(), 3);
    d.take(packet(255, 9));
    assert.equal(d.first(), 3);
  });
  test('other senders, other universes and preview streams are left alone', () => {
    const d = desk(input({ from: '10.0.0.9' }));
    d.take(packet(1, 90, { from: '10.0.0.8' }));
    d.take(packet(1, 90, { wireUniverse: 8 }));
    d.take(packet(1, 90, { preview: true }));
    assert.equal(d.first(), null);
  });
  test('that is only shown is not merged, and its slots are there to be seen', () => {
    const d = desk(input({ use: 'show' }));
    assert.deepEqual(d.entries, []);
    d.take(packet(1, 90, { preview: true }));
    assert.equal(d.made.received().get(1)![0], 90);
  });
  test('keeps what it received when something else of the show changes', () => {
    const d = desk(input());
    d.take(packet(1, 90));
    const { memory } = d.made.setInputs([input({ notes: 'other words' })]);
    assert.equal(new InputMemory(memory).read(0)![0], 90);
  });
});

describe('slots that work something', () => {
  const control = (does: InputRecord['controls'][number]['does']) =>
    desk(input({ use: 'control', universes: [], controls: [{ wireUniverse: 7, address: 1, does }] }));
  const all = (does: InputRecord['controls'][number]['does'], values: number[]): LiveCommand[] => {
    const d = control(does);
    values.forEach((value, i) => d.take(packet(i + 1, value)));
    return d.commands;
  };
  test('the grand master follows at once; the same value again is no command', () => {
    assert.deepEqual(all({ do: 'level', of: { what: 'grand' } }, [255, 255, 51]), [
      { do: 'grand', level: 1 },
      { do: 'grand', level: 0.2 },
    ]);
  });
  test('a desk that is switched on with a fader up starts nothing; crossing the half does', () => {
    assert.deepEqual(all({ do: 'play', target: 'scene:s', held: true }, [255, 200, 100, 140]), [
      { do: 'release', target: 'scene:s' },
      { do: 'play', target: 'scene:s' },
    ]);
    assert.deepEqual(all({ do: 'dark' }, [200, 10]), [{ do: 'dark', on: false }]);
    assert.deepEqual(all({ do: 'releaseAll' }, [0, 255, 0]), [{ do: 'releaseAll' }]);
  });
  test('tempo from 20 on, and a unit that is let go at nothing', () => {
    assert.deepEqual(all({ do: 'tempo' }, [0, 100]), [{ do: 'tempo', bpm: 120 }]);
    assert.deepEqual(all({ do: 'level', of: { what: 'unit', id: 'unit:a' } }, [0, 255, 0]), [
      { do: 'hand', set: { 'unit:a': { Dimmer: 1 } } },
      { do: 'hand', set: { 'unit:a': { Dimmer: null } } },
    ]);
  });
});
