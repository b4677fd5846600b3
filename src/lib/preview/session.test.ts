import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { standinAddresses } from '../../addresses.ts';
import { builtInProfiles } from '../../core/profile/library.ts';
import { documentOf } from '../../core/document/change.ts';
import {
  applyLive,
  drawValues,
  finish,
  initialLive,
  liveCommandSchema,
  liveStateSchema,
  makeFrame,
  render,
  type LiveState,
  type Program,
} from '../../core/show/index.ts';
import { copperlineRink } from '../../db/seed/copperline.ts';
import { Player } from '../../engine/player.ts';
import { unwired } from '../../engine/shared.ts';
import { PreviewSession } from './session.ts';

const records = copperlineRink(builtInProfiles(), standinAddresses('/tests'));
const document = documentOf(records);
const COMMANDS = [
  { do: 'play', target: 'scene:blue' },
  { do: 'play', target: 'chase:evening' },
  { do: 'play', target: 'effect:rainbow' },
  { do: 'play', target: 'effect:circles' },
  { do: 'mood', mood: 'lively' },
  { do: 'hand', set: { 'unit:spot1': { Pan: 0.31, Dimmer: 0.4 } } },
  {
    do: 'handEffect',
    spec: { rate: 0.7, parts: [{ does: 'level', wave: 'sparkle', width: 0.4 }] },
    on: ['unit:wash1', 'unit:wash2'],
  },
] as const;
const state = COMMANDS.reduce<LiveState>(
  (live, command, i) => applyLive(live, liveCommandSchema.parse(command), i * 40, `p${i}`, document),
  initialLive(0, 118),
);

const programsOf = (message: { programs?: readonly (readonly [number, Program])[] }) => {
  const programs = new Map(message.programs);
  return (ref: number): Program => programs.get(ref)!;
};

describe('what the page previews', () => {
  test('is what the engine would send, byte for byte, at any moment', () => {
    const player = new Player(initialLive(0));
    const message = player.load(records, state);
    const programs = new Map(message.programs);
    const live = unwired(message.live!, (ref) => programs.get(ref)!);
    const frame = makeFrame(message.rig!);
    const session = new PreviewSession();
    session.take({ type: 'document', fresh: true, change: { put: records, remove: [] } });
    session.take({ type: 'live', real: null, blind: state, peek: null, clock: 0 });
    for (const ms of [0, 333, 1234, 7777, 60_001, 3_600_123]) {
      drawValues(message.rig!, live, ms, frame);
      const sent = finish(message.rig!, live, ms, frame);
      const shown = session.frame(ms)!;
      assert.deepEqual(shown.universes, player.universes);
      assert.deepEqual([...shown.bytes], [...sent], `at ${ms} ms`);
    }
  });
  test('also while something goes live, with what was edited blind fading out as it was, and after a restart', () => {
    const player = new Player(initialLive(0));
    const loaded = player.load(records, state);
    const blue = document.get('scene:blue')!;
    const edited = player.edit({ put: [{ ...blue, priority: 42, values: {} } as never], remove: [] }, 900, true);
    const going = liveCommandSchema.parse({
      do: 'goLive',
      playing: [],
      hand: { 'unit:wash1': { Dimmer: 0.7 } },
      handEffects: [],
      fadeMs: 2000,
    });
    const old = player.setLive(player.live);
    const sent = [loaded, edited.message, old].flatMap(({ programs }) => [...(programs ?? [])]);
    const began = unwired(old.live!, programsOf({ programs: sent }));
    const message = player.setLive(applyLive(player.live, going, 1000, 'x', player.played));
    const kept = liveStateSchema.parse(JSON.parse(JSON.stringify(player.live)));
    assert.equal(kept.fading?.held.length, 1);
    const again = new Player(initialLive(0));
    const restarted = again.load([...player.document.values()], kept);
    const rig = restarted.rig!;
    const frame = makeFrame(rig);
    const live = unwired(restarted.live!, programsOf(restarted));
    const session = new PreviewSession();
    session.take({ type: 'document', fresh: true, change: { put: [...player.document.values()], remove: [] } });
    session.take({ type: 'live', real: null, blind: { ...kept, fading: null }, peek: null, clock: 0 });
    // At its first moment nothing but what jumps is other than it was; half way it is between; then it is what went live.
    const slot = 'unit:wash1';
    assert.ok(message.programs!.length > 0 && document.has(slot));
    const [from, half, to] = [1000, 2000, 3000].map((ms) => [...render(rig, live, ms, frame)]);
    assert.deepEqual(to, [...session.frame(3000)!.bytes]);
    assert.notDeepEqual(half, to);
    assert.notDeepEqual(half, from);
    const before = makeFrame(rig);
    drawValues(rig, began, 1000, before);
    drawValues(rig, live, 1000, frame);
    const other = before.current.findIndex((value, i) => rig.snap[i] === 0 && value !== frame.current[i]);
    assert.equal(other, -1);
  });
  test('nothing while nobody is blind', () => {
    const session = new PreviewSession();
    session.take({ type: 'document', fresh: true, change: { put: records, remove: [] } });
    session.take({ type: 'live', real: state, blind: null, peek: null, clock: 0 });
    assert.equal(session.frame(10), null);
  });
  test('explains, gives values and looks; an edit is followed', () => {
    const session = new PreviewSession();
    session.take({ type: 'document', fresh: true, change: { put: records, remove: [] } });
    session.take({ type: 'live', real: state, blind: null, peek: null, clock: 0 });
    const why = session.answer({ what: 'explain', units: ['unit:spot1'], nowMs: 5000 }) as readonly {
      attribute: string;
      influences: readonly { name: string }[];
    }[];
    assert.equal(why.find((e) => e.attribute === 'Pan')?.influences.at(-2)?.name, 'Beams circle slowly');
    const values = session.answer({ what: 'values', units: ['unit:spot1'], nowMs: 5000 }) as Record<
      string,
      Record<string, unknown>
    >;
    assert.equal(values['unit:spot1']?.['Dimmer'], 0.4);
    const look = (): Float32Array =>
      (
        session.answer({ what: 'thumbnail', play: { target: 'scene:blue', spec: null, on: null }, atS: 4 }) as {
          dots: Float32Array;
        }
      ).dots;
    const before = look();
    assert.ok(
      before.some((v, i) => i % 5 > 1 && v > 0.2),
      'something is lit',
    );
    const blue = document.get('scene:blue')!;
    session.take({ type: 'document', fresh: false, change: { put: [{ ...blue, values: {} } as never], remove: [] } });
    assert.ok(!look().some((v, i) => i % 5 > 1 && v > 0.2), 'nothing is lit any more');
  });
});

describe('what is edited blind', () => {
  const blueOf = (player: Player): number => player.programOf(player.live.playing[0]!)!.priority;
  const playing = applyLive(
    initialLive(0),
    liveCommandSchema.parse({ do: 'play', target: 'scene:blue' }),
    0,
    'p',
    document,
  );
  const edit = { put: [{ ...document.get('scene:blue')!, priority: 42 } as never], remove: [] };
  test('does not reach what plays; taken live it does', () => {
    const player = new Player(initialLive(0));
    player.load(records, playing);
    player.edit(edit, 10, true);
    assert.deepEqual([blueOf(player), player.live.held.length], [100, 1]);
    player.setLive(
      applyLive(
        player.live,
        { do: 'goLive', playing: player.live.playing, hand: {}, handEffects: [], fadeMs: 500 },
        20,
        'x',
        document,
      ),
    );
    assert.deepEqual([blueOf(player), player.live.held.length], [42, 0]);
  });
  test('an edit that is not blind counts at once, also over one that was', () => {
    const player = new Player(initialLive(0));
    player.load(records, playing);
    player.edit(edit, 10, true);
    player.edit({ put: [{ ...document.get('scene:blue')!, priority: 77 } as never], remove: [] }, 20);
    assert.deepEqual([blueOf(player), player.live.held.length], [77, 0]);
  });
  test('what nothing plays is not held; a scene removed blind plays on until it is let go', () => {
    const player = new Player(initialLive(0));
    player.load(records, initialLive(0));
    player.edit(edit, 10, true);
    assert.equal(player.live.held.length, 0);
    const other = new Player(initialLive(0));
    other.load(records, playing);
    other.edit({ put: [], remove: ['scene:blue'] }, 10, true);
    assert.equal(other.live.playing.length, 1);
    assert.equal(blueOf(other), 100);
  });
  test('a palette in an effect by hand is held too', () => {
    const byHand = liveCommandSchema.parse({
      do: 'handEffect',
      spec: { rate: 1, parts: [{ does: 'colour', way: 'walk', colours: ['palette:lagoon', '#ff0000'] }] },
      on: ['unit:wash1'],
    });
    const player = new Player(initialLive(0));
    player.load(records, applyLive(initialLive(0), byHand, 0, 'h', document));
    const palette = document.get('palette:lagoon')!;
    player.edit({ put: [{ ...palette, all: { ColorRGB_Red: 1 } } as never], remove: [] }, 10, true);
    assert.deepEqual(player.live.held, [palette]);
    assert.equal(player.played.get('palette:lagoon'), palette);
  });
});

test('programs go to the frame thread once', () => {
  const player = new Player(initialLive(0));
  assert.ok(player.load(records, state).programs!.length > 0);
  const louder = applyLive(player.live, { do: 'grand', level: 0.4 }, 900, 'x', document);
  assert.equal(player.setLive(louder).programs!.length, 0);
});
