import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { after, scene, showWith, units } from '../../tests/support/rig.ts';
import { initialLive } from '../core/show/index.ts';
import { make } from '../core/records/index.ts';
import { FrameLoop } from './frame-loop.ts';
import { Player } from './player.ts';
import { FrameStats, type FromFrameThread, type ToFrameThread } from './shared.ts';

/** A frame loop in time of its own: sleeping is what passes it, and work where a test says how long it takes. */
class Bench {
  timeMs = 1_000_000;
  readonly sent: { at: number; slots: number[] }[] = [];
  readonly told: FromFrameThread[] = [];
  readonly inbox: ToFrameThread[] = [];
  readonly did: string[] = [];
  readonly stats = new FrameStats(new SharedArrayBuffer(FrameStats.bytes));
  /** How long sending a frame takes. */
  workMs = 2;
  /** How much later than asked for a sleep ends. */
  oversleptMs = 0;
  readonly loop: FrameLoop;

  constructor(suspect = false) {
    this.loop = new FrameLoop({
      now: () => this.timeMs,
      sleep: (ms) => void (this.timeMs += ms + this.oversleptMs),
      receive: () => this.inbox.shift() ?? null,
      tell: (message) => void this.told.push(message),
      senders: {
        setRoutes: (routes) => void this.did.push(`routes ${routes.length}`),
        setBlocked: (blocked) => void this.did.push(`blocked ${Object.keys(blocked)}`),
        reopen: () => void this.did.push('reopen'),
        terminateAll: () => void this.did.push('terminate'),
        localPorts: () => [40_001],
        sequences: () => ({ r: 7 }),
        stats: () => [],
        send: (bytes, _views, at) => {
          this.sent.push({ at, slots: [...bytes.subarray(0, 4)] });
          this.timeMs += this.workMs;
        },
      },
      stats: this.stats,
      suspect,
    });
  }

  run(turns: number): this {
    for (let i = 0; i < turns; i++) assert.ok(this.loop.turn());
    return this;
  }
  moments(): number[] {
    return this.sent.map(({ at }) => at - 1_000_000);
  }
}

const document = showWith(
  ...units(
    { slug: 'a', profile: 'generic-dimmer', mode: '1ch', universe: 1, address: 1 },
    { slug: 'b', profile: 'generic-dimmer', mode: '1ch', universe: 1, address: 2 },
  ),
  scene('s', { a: { Dimmer: 1 } }, { fadeInMs: 1000 }),
  make('effect', { id: 'effect:e', number: 1, name: 'E', on: ['unit:b'], parts: [{ does: 'level' }] }),
);
const START = 1_000_000;
const begun = (bench = new Bench(), ...targets: string[]): { bench: Bench; player: Player } => {
  const player = new Player(initialLive(START));
  const live = after(document, ...targets.map((target) => [START, { do: 'play', target }] as never));
  const message = player.load([...document.values()], live);
  bench.loop.take({ ...message, routes: [] });
  return { bench, player };
};

describe('the frame loop, in time of its own', () => {
  test('makes frames at an even pace, each of its own moment', () => {
    const { bench } = begun(new Bench(), 'scene:s');
    bench.run(41);
    assert.deepEqual(
      bench.moments(),
      Array.from({ length: 41 }, (_, i) => i * 25),
    );
    assert.deepEqual(
      [0, 10, 20, 40].map((i) => bench.sent[i]!.slots[0]),
      [0, 64, 128, 255],
      'a fade of a second',
    );
    assert.deepEqual([bench.stats.frames, bench.stats.late, bench.stats.skipped], [41, 0, 0]);
    assert.equal(bench.stats.workMs, 2);
  });

  test('is not carried away by sleeps that end late', () => {
    const { bench } = begun(new Bench(), 'scene:s');
    bench.oversleptMs = 3;
    bench.run(81);
    assert.equal(bench.moments().at(-1), 80 * 25 + 3, 'late by one sleep, not by all of them');
    assert.equal(bench.stats.latenesses(80).at(-1), 3);
    bench.oversleptMs = 14;
    bench.run(10);
    assert.equal(bench.stats.late, 10, 'later than half a period');
    assert.equal(bench.stats.skipped, 0);
  });

  test('leaves out what it was too late for and goes on with the present', () => {
    const { bench } = begun(new Bench(), 'scene:s');
    bench.run(2);
    bench.workMs = 190;
    bench.run(1);
    bench.workMs = 2;
    bench.run(2);
    // Begun at 50 and done at 240: the frames of 75 to 225 are left out.
    assert.deepEqual(bench.moments(), [0, 25, 50, 250, 275]);
    assert.equal(bench.stats.skipped, 7);
    assert.equal(bench.sent[3]!.slots[0], 64, 'what is shown is of that moment');
  });

  test('takes the rate of the show with the next frame', () => {
    const { bench } = begun();
    bench.run(2);
    bench.inbox.push({ frameRate: 50 });
    bench.run(3);
    assert.deepEqual(bench.moments(), [0, 25, 50, 70, 90]);
  });

  test('everything that waits takes effect in one frame', () => {
    const { bench, player } = begun();
    bench.run(1);
    const live = after(document, [START, { do: 'hand', set: { 'unit:a': { Dimmer: 0.2 } } }] as never);
    bench.inbox.push(player.setLive(live), player.setLive({ ...live, grand: 0.5 }), { reopen: true });
    bench.run(1);
    assert.deepEqual(bench.sent[1]!.slots.slice(0, 2), [26, 0]);
    assert.deepEqual(bench.did, ['routes 0', 'reopen']);
  });

  test('shows the other thread whole frames, the newest', () => {
    const { bench, player } = begun();
    const message = player.load(
      [...document.values()],
      after(document, [START, { do: 'play', target: 'scene:s' }] as never),
    );
    bench.loop.take(message);
    const seen = new Uint8Array(message.bytes!);
    bench.run(21);
    assert.equal(seen[0], bench.sent.at(-1)!.slots[0]);
    assert.equal(seen[0], 128);
  });

  test('says how it goes twice a second', () => {
    const { bench } = begun();
    bench.run(81);
    const said = bench.told.filter((m) => m.type === 'routes');
    assert.equal(said.length, 4);
    assert.deepEqual(said[0], { type: 'routes', stats: [], sequences: { r: 7 }, ports: [40_001] });
    assert.equal(bench.told.filter((m) => m.type === 'layers').length, 1, 'what does not change is said once');
  });

  test('a layer that fails is taken out and said; another state with the same program leaves it out', () => {
    const { bench, player } = begun();
    const message = player.setLive(
      after(
        document,
        [START, { do: 'play', target: 'scene:s' }] as never,
        [START, { do: 'play', target: 'effect:e' }] as never,
      ),
    );
    const broken = message.programs!.map(([ref, program]) =>
      program.type === 'effect' ? ([ref, { ...program, parts: null as never }] as const) : ([ref, program] as const),
    );
    bench.inbox.push({ ...message, programs: broken });
    bench.run(45);
    const failed = bench.told.findLast((m) => m.type === 'layers')!.failed;
    assert.equal(Object.keys(failed).length, 1);
    assert.match(Object.values(failed)[0]!, /null/);
    assert.equal(bench.sent.at(-1)!.slots[0], 255, 'the rest goes on');
    const said = bench.told.length;
    bench.inbox.push(player.setLive({ ...player.live, grand: 0.5 }));
    bench.run(5);
    assert.equal(bench.sent.at(-1)!.slots[0], 128);
    assert.equal(bench.told.slice(said).filter((m) => m.type === 'layers').length, 0);
  });

  test('a frame that cannot be made is the last good one again, and the fault is said once', () => {
    const { bench, player } = begun(new Bench(), 'scene:s');
    bench.run(21);
    const message = player.liveMessage();
    bench.inbox.push({ ...message, live: { ...message.live!, masters: null as never } });
    bench.run(20);
    assert.deepEqual(bench.sent.at(-1)!.slots, bench.sent[20]!.slots);
    assert.equal(bench.sent.length, 41, 'devices hear from us all the time');
    assert.equal(bench.told.filter((m) => m.type === 'fault').length, 1);
    bench.inbox.push(player.liveMessage());
    bench.run(1);
    assert.equal(bench.sent.at(-1)!.slots[0], 255);
  });

  test('stops with the end of its streams, and no frame more', () => {
    const { bench } = begun(new Bench(), 'scene:s');
    bench.run(3);
    bench.inbox.push({ stop: true });
    assert.equal(bench.loop.turn(), false);
    assert.equal(bench.did.at(-1), 'terminate');
    assert.equal(bench.sent.length, 3);
  });

  test('sends nothing before it has something to show', () => {
    const bench = new Bench();
    bench.run(10);
    assert.equal(bench.sent.length, 0);
    assert.equal(bench.stats.frames, 10);
  });
});
