import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { PLENTY, rigOf, song } from '../../../tests/support/auto-rig.ts';
import { applyChange, type Document } from '../document/change.ts';
import type { CurvePoint } from '../records/curve.ts';
import { effectSpecSchema } from '../records/effect.ts';
import { make } from '../records/index.ts';
import type { Block } from '../records/lane.ts';
import { PRESETS } from '../ready/presets.ts';
import { seeded } from '../random.ts';
import {
  compilePlay,
  compileRig,
  initialLive,
  makeFrame,
  newPlay,
  prepareLive,
  render,
  type LiveState,
} from '../show/index.ts';
import { songOn, withSong } from '../show/live/songs.ts';
import { steered } from '../show/play/exact.ts';
import { point, valueAt } from '../song/curves.ts';
import { gridOf } from '../song/grid.ts';
import { freeLayer, joined, keysFor, moved, repeated, snapped, split, stretched, without } from './blocks.ts';
import { songBeat, songPlays } from './light.ts';

const grid = gridOf(song());
const block = (fields: Partial<Block> & Pick<Block, 'key'>): Block => ({
  at: 4,
  length: 2,
  layer: 0,
  plays: { is: 'effect', name: 'Tide', spec: PRESETS.find((p) => p.key === 'tide')!.spec },
  fadeIn: 0,
  fadeOut: 0,
  slip: 0,
  curves: {},
  ...fields,
});

/** A curve of each kind. */
function curvesOf(random: () => number): Block['curves'] {
  const curve = (least: number, most: number): CurvePoint[] =>
    [0, 0.7, 1.9].map((at, i) => point(at, least + random() * (most - least), (['line', 'ease', 'step'] as const)[i]));
  return {
    level: curve(0.2, 1),
    size: curve(0.3, 1),
    speed: curve(0.2, 3),
    phase: curve(-1, 1),
    width: [point(0, 0.4), point(1, 1)],
    base: [point(0, 0.1), point(2, 0.4)],
    hue: curve(-1, 1),
  };
}

/** A rig with a song and lanes of random blocks: scenes, chases' like and effects, fades, layers. */
function lit(seed: number): Document {
  const random = seeded(seed);
  const base = rigOf(PLENTY);
  const scene = make('scene', {
    id: 'scene:warm',
    number: 1,
    name: 'Warm',
    fadeInMs: 0,
    values: { 'unit:u0': { Dimmer: 0.8, ColorRGB_Red: 1, ColorRGB_Green: 0.4, ColorRGB_Blue: 0 } },
  });
  const plays = (): Block['plays'] =>
    random() < 0.3
      ? { is: 'play', target: 'scene:warm' }
      : { is: 'effect', name: 'One', spec: PRESETS[Math.floor(random() * PRESETS.length)]!.spec };
  const lanes = [null, 'unit:u0', 'unit:u4'].map((on, n) =>
    make('lane', {
      id: `lane:l${n}`,
      number: n + 1,
      songId: 'song:one',
      on: on as 'unit:u0' | null,
      blocks: Array.from({ length: 12 }, (_, i) => ({
        key: `k${i}`,
        at: Math.round(random() * 600) / 10,
        length: 0.5 + Math.round(random() * 60) / 10,
        layer: i % 2,
        plays: plays(),
        fadeIn: random() < 0.5 ? 0.4 : 0,
        fadeOut: random() < 0.5 ? 0.3 : 0,
        curves: random() < 0.5 ? {} : curvesOf(random),
      })),
    }),
  );
  return applyChange(base, { put: [scene, ...lanes], remove: [] });
}

describe('a song on the engine is a function of its time', () => {
  for (let seed = 1; seed <= 6; seed++)
    test(`seeking equals playing through, whenever it is told (song ${seed})`, () => {
      const document = lit(seed);
      const rig = compileRig(document);
      const bytes = (live: LiveState, toldAt: number, ms: number): Uint8Array => {
        const light = songPlays(document, live, toldAt);
        const prepared = prepareLive(rig, live, (play) => compilePlay(rig, document, play), document, { light });
        return render(rig.arrays, prepared, ms, makeFrame(rig.arrays)).slice();
      };
      const on = { songId: 'song:one', playing: true, loop: null, list: null, rate: 1, over: null } as const;
      const through = withSong(initialLive(0), { ...on, at: 0, ms: 1000 }, document, 1000);
      const random = seeded(seed * 7);
      for (let i = 0; i < 12; i++) {
        const at = 2 + random() * 55;
        const ms = 1000 + at * 1000;
        const whole = bytes(through, ms, ms);
        assert.deepEqual(bytes(through, ms - 2000, ms), whole, `told two seconds before ${at}`);
        // Somebody comes to this moment from elsewhere.
        const sought = withSong(initialLive(0), { ...on, at: at - 0.5, ms: ms - 500 }, document, ms - 500);
        assert.deepEqual(bytes(sought, ms - 100, ms), whole, `sought half a second before ${at}`);
        // At half speed the same moment comes twice as late, and is the same.
        const slow = withSong(initialLive(0), { ...on, rate: 0.5, at: at - 0.5, ms: ms - 1000 }, document, ms - 1000);
        assert.deepEqual(bytes(slow, ms - 100, ms), whole, `at half speed ${at}`);
        // It stands there: the same moment, held, where nothing fades.
        const standing = { ...through, song: { ...through.song!, playing: false, at, ms } };
        assert.ok(
          songPlays(document, standing, ms + 5000).every(({ speed, releasedAt }) => speed === 0 && releasedAt === null),
        );
      }
    });
  test('in a loop its end meets its beginning, and nothing of beyond is to be seen', () => {
    const document = lit(3);
    const loop = { from: 10, to: 14 };
    const live = withSong(
      initialLive(0),
      { songId: 'song:one', at: 10, ms: 0, playing: true, loop, list: null, rate: 1, over: null },
      document,
      0,
    );
    for (const play of songPlays(document, live, 3000)) {
      const [begin, end] = [play.startedAt / 1000, (play.releasedAt! + play.fadeOutMs!) / 1000];
      assert.ok(end <= 4.0005 || begin >= 3.9995, `${play.id}: ${begin} to ${end}`);
    }
  });
  test('a loop that is shorter than what is told goes on all the same', () => {
    const document = lit(4);
    const rig = compileRig(document);
    const loop = { from: 10, to: 10.5 };
    const live = withSong(
      initialLive(0),
      { songId: 'song:one', at: 10, ms: 0, playing: true, loop, list: null, rate: 1, over: null },
      document,
      0,
    );
    const at = (ms: number): Uint8Array => {
      const light = songPlays(document, live, 100);
      const prepared = prepareLive(rig, live, (play) => compilePlay(rig, document, play), document, { light });
      return render(rig.arrays, prepared, ms, makeFrame(rig.arrays)).slice();
    };
    const dark = render(
      rig.arrays,
      prepareLive(rig, initialLive(0), () => null, document),
      0,
      makeFrame(rig.arrays),
    );
    for (const ms of [250, 1250, 3250, 5750])
      assert.notDeepEqual(at(ms), dark, `there is light ${ms} ms on, as in the first round`);
  });
  test('an effect on a lane of the whole rig lights the whole rig', () => {
    const base = rigOf(PLENTY);
    const spec = effectSpecSchema.parse({
      rate: 0.01,
      light: 1,
      parts: [{ does: 'colour', way: 'gradient', colours: ['#ffffff'] }],
    });
    const lane = make('lane', {
      id: 'lane:all',
      number: 1,
      songId: 'song:one',
      blocks: [block({ key: 'a', at: 0, length: 9, plays: { is: 'effect', name: 'On', spec } })],
    });
    const document = applyChange(base, { put: [lane], remove: [] });
    const rig = compileRig(document);
    const live = withSong(initialLive(0), songOn('song:one', 0, 0), document, 0);
    const bytes = (light: ReturnType<typeof songPlays>): Uint8Array =>
      render(
        rig.arrays,
        prepareLive(rig, live, (play) => compilePlay(rig, document, play), document, { light }),
        1000,
        makeFrame(rig.arrays),
      ).slice();
    const [lit, dark] = [bytes(songPlays(document, live, 900)), bytes([])];
    const units = [...rig.units.values()].filter(({ id, unitId }) => id === unitId);
    const changed = lit.filter((byte, i) => byte !== dark[i]).length;
    assert.ok(changed > units.length, `${changed} bytes of ${units.length} units`);
  });
  test('a lane that is not live lies over what pads play, one that is under it; narrower lanes lie over wider ones', () => {
    const base = lit(2);
    const rig = compileRig(base);
    const live = withSong(initialLive(0), songOn('song:one', 20, 0), base, 0);
    const pad = newPlay({ id: 'pad', target: 'scene:warm', startedAt: 0 });
    const order = (document: Document): string[] => {
      const light = songPlays(document, live, 0).filter(
        ({ startedAt, releasedAt }) => startedAt <= 0 && releasedAt! > 0,
      );
      const { layers } = prepareLive(
        rig,
        { ...live, playing: [pad] },
        (play) => compilePlay(rig, document, play),
        document,
        { light },
      );
      return layers.map(({ play }) => play.id.split(' ').slice(0, 2).join(' '));
    };
    const own = order(base);
    assert.equal(own.at(-1), 'pad', own.join());
    const ranks = own.slice(0, -1).map((id) => Number(id.split(' ')[1]));
    assert.deepEqual(
      ranks,
      [...ranks].sort((a, b) => a - b),
      'in the order of their lanes',
    );
    const lane = { ...(base.get('lane:l1') as object), live: false } as never;
    const over = order(applyChange(base, { put: [lane], remove: [] }));
    assert.ok(over.indexOf('pad') < over.indexOf('exact 1') || !over.includes('exact 1'), over.join());
    assert.ok(over.some((id) => id.startsWith('exact')) || own.every((id) => id !== 'song 1'), over.join());
  });
  test('muted lanes are silent; soloed ones are alone; what is lost plays nothing', () => {
    const document = lit(2);
    const live = withSong(
      initialLive(0),
      { songId: 'song:one', at: 20, ms: 0, playing: true, loop: null, list: null, rate: 1, over: null },
      document,
      0,
    );
    const lanesIn = (change: Parameters<typeof applyChange>[1]): Set<string> =>
      new Set(songPlays(applyChange(document, change), live, 0).map(({ id }) => id.split(' ')[1]!));
    const lane = (n: number, fields: object) => ({ ...(document.get(`lane:l${n}`) as object), ...fields }) as never;
    assert.deepEqual(lanesIn({ put: [], remove: [] }), new Set(['0', '1', '2']));
    assert.deepEqual(lanesIn({ put: [lane(0, { muted: true })], remove: [] }), new Set(['1', '2']));
    assert.deepEqual(lanesIn({ put: [lane(1, { solo: true })], remove: [] }), new Set(['1']));
    assert.deepEqual(lanesIn({ put: [lane(2, { lost: 'Bars', on: null })], remove: [] }), new Set(['0', '1']));
  });
});

describe('a curve that does not move is the effect with another number', () => {
  const base = rigOf(PLENTY);
  const rig = compileRig(base);
  const bytesOf = (part: object, fields: Partial<Block> = {}, spec: object = {}): Uint8Array => {
    const plays = {
      is: 'effect' as const,
      name: 'One',
      spec: effectSpecSchema.parse({
        rate: 0.3,
        parts: [RED, { does: 'level', wave: 'wave', spread: 1, ...part }],
        ...spec,
      }),
    };
    const blocks = [block({ key: 'a', at: 2, length: 20, ...fields, plays: fields.plays ?? plays })];
    const lane = make('lane', { id: 'lane:x', number: 1, songId: 'song:one', blocks });
    const document = applyChange(base, { put: [lane], remove: [] });
    const live = withSong(initialLive(0), songOn('song:one', 0, 0), document, 0);
    const light = songPlays(document, live, 7000);
    const prepared = prepareLive(rig, live, (play) => compilePlay(rig, document, play), document, { light });
    return render(rig.arrays, prepared, 7300, makeFrame(rig.arrays)).slice();
  };
  const RED = { does: 'colour', way: 'gradient', colours: ['#ff0000', '#ff0000'] };
  const still = (value: number): CurvePoint[] => [point(0, value)];
  const PULSE = { wave: 'pulse', width: 0.6, size: 0.8, offset: 0.1 };
  for (const [what, curves, like] of [
    ['size', { size: still(0.5) }, () => bytesOf({ ...PULSE, size: 0.4 })],
    ['width', { width: still(0.5) }, () => bytesOf({ ...PULSE, width: 0.3 })],
    ['base', { base: still(0.3) }, () => bytesOf({ ...PULSE, offset: 0.4 })],
    ['speed', { speed: still(2) }, () => bytesOf(PULSE, {}, { rate: 0.6 })],
    ['phase', { phase: still(0.25) }, () => bytesOf(PULSE, { slip: 0.25 })],
  ] as const)
    test(what, () => {
      const steered = bytesOf(PULSE, { curves: { ...curves } as never });
      assert.deepEqual(steered, like());
      assert.notDeepEqual(steered, bytesOf(PULSE), 'and not as it was');
    });
  test('hue: a third of the circle makes red green', () => {
    const of = (colour: string): Block['plays'] => ({
      is: 'effect',
      name: 'One',
      spec: effectSpecSchema.parse({ rate: 0.3, light: 1, parts: [{ ...RED, colours: [colour, colour] }] }),
    });
    const turned = bytesOf({}, { plays: of('#ff0000'), curves: { hue: still(1 / 3) } });
    assert.deepEqual(turned, bytesOf({}, { plays: of('#00ff00') }));
  });
  test('level: at nothing it leaves no trace, at full it is all there', () => {
    const dark = render(
      rig.arrays,
      prepareLive(rig, initialLive(0), () => null, base),
      7300,
      makeFrame(rig.arrays),
    ).slice();
    assert.deepEqual(bytesOf(PULSE, { curves: { level: still(0) } }), dark);
    assert.deepEqual(bytesOf(PULSE, { curves: { level: still(1) } }), bytesOf(PULSE));
  });
});

describe('two songs that fade over', () => {
  test('both are seen, one going, one coming; before and after one alone', () => {
    const base = lit(2);
    const second = [...base.values()]
      .filter((r) => r.kind === 'lane')
      .map((r, i) => ({ ...r, id: `lane:two${i}` as const, songId: 'song:two' as const }));
    const document = applyChange(base, { put: [{ ...song(), id: 'song:two', number: 2 }, ...second], remove: [] });
    const over = { songId: 'song:one', at: 20, ms: 0, rate: 1, untilMs: 14_000 } as const;
    const live = withSong(initialLive(0), songOn('song:two', 4, 10_000, { over }), document, 10_000);
    const told = (ms: number) => songPlays(document, live, ms);
    const level = (play: ReturnType<typeof told>[number], ms: number): number => steered(play.exact!, 'level', ms);
    const during = told(12_000);
    const [going, coming] = [during.filter(({ id }) => / -/.test(id)), during.filter(({ id }) => !/ -/.test(id))];
    assert.ok(going.length > 0 && coming.length > 0, `${going.length} go, ${coming.length} come`);
    assert.equal(new Set(during.map(({ id }) => id)).size, during.length, 'no name twice');
    // Curves of their own may make it less, never more.
    for (const play of going) assert.ok(level(play, 13_999) < 0.01 && level(play, 10_001) <= 1, play.id);
    for (const play of coming) assert.ok(level(play, 10_000) < 0.01, play.id);
    assert.ok(
      told(14_001).every(({ id }) => !/ -/.test(id)),
      'the first has ended',
    );
  });
});

describe('beats of a song', () => {
  test('between beats in proportion, and beyond them at the last pace', () => {
    assert.deepEqual(
      [0, 0.5, 0.75, 1].map((at) => songBeat([0.5, 1, 2], at)),
      [-1, 0, 0.5, 1],
    );
    assert.equal(songBeat([0.5, 1, 2], 4), 4);
    assert.equal(songBeat([], 3), 6);
  });
});

describe('blocks', () => {
  const slip = (b: Block, at: number): number => at - b.at;
  test('split and join are inverse', () => {
    const random = seeded(5);
    for (let i = 0; i < 200; i++) {
      const one = block({
        key: 'a',
        at: Math.round(random() * 1e4) / 1e3,
        length: 0.1 + Math.round(random() * 5000) / 1e3,
        curves: i % 2 ? curvesOf(random) : {},
      });
      const at = one.at + random() * one.length;
      const cut = split([one], new Set(['a']), at, slip);
      const back = joined(cut, new Set(cut.map(({ key }) => key)));
      assert.equal(back.length, 1);
      assert.deepEqual(
        [back[0]!.at, Math.round(back[0]!.length * 1e3), back[0]!.slip],
        [one.at, Math.round(one.length * 1e3), 0],
      );
      for (const of of ['level', 'phase', 'hue'] as const)
        for (const s of [0, 0.3, 0.71, 1.3]) {
          const [is, was] = [back[0]!.curves[of], one.curves[of]];
          // What is soft has another course where it is cut: it is compared where it is straight.
          if (is && was && s < 0.7) assert.ok(Math.abs(valueAt(is, s) - valueAt(was, s)) < 1e-6, `${of} at ${s}`);
        }
      if (cut.length === 2) assert.ok(Math.abs(cut[0]!.at + cut[0]!.length - cut[1]!.at) < 2e-4, 'one after the other');
    }
  });
  test('snapping is idempotent, to beats, halves and thirds; far from all it stays', () => {
    const random = seeded(9);
    for (let i = 0; i < 300; i++) {
      const at = random() * 60;
      for (const parts of [1, 2, 3]) {
        const one = snapped(grid, at, parts, 0.2);
        assert.equal(snapped(grid, one, parts, 0.2), one);
        assert.ok(Math.abs(one - at) <= 0.2);
      }
    }
    assert.equal(snapped(grid, 0.76, 1, 0.1), 0.76);
    assert.equal(snapped(grid, 0.76, 2, 0.1), 0.75);
    assert.equal(snapped({ beats: [] }, 3.3, 1, 1), 3.3);
  });
  test('repeating fills exactly', () => {
    const list = [block({ key: 'a', at: 4, length: 1 }), block({ key: 'b', at: 5, length: 1 })];
    const filled = repeated(list, new Set(['a', 'b']), 11.5);
    const ends = filled.map(({ at, length }) => at + length);
    assert.equal(Math.max(...ends), 11.5);
    assert.equal(
      filled.reduce((sum, { length }) => sum + length, 0),
      7.5,
    );
    assert.equal(new Set(filled.map(({ key }) => key)).size, filled.length);
  });
  test('moved together they stay together, and within the song', () => {
    const list = [block({ key: 'a', at: 1 }), block({ key: 'b', at: 3 })];
    assert.deepEqual(
      moved(list, new Set(['a', 'b']), -5, 60).map(({ at }) => at),
      [0, 2],
    );
    assert.deepEqual(
      moved(list, new Set(['a', 'b']), 500, 60).map(({ at }) => at),
      [56, 58],
    );
    assert.equal(moved(list, new Set(), 1, 60), list);
  });
  test('stretched at both edges, never to nothing; fades fit', () => {
    const list = [block({ key: 'a', fadeIn: 1, fadeOut: 0.8 })];
    const [short] = stretched(list, 'a', 'to', 4.5, 60);
    assert.deepEqual([short!.length, short!.fadeIn, short!.fadeOut], [0.5, 0.5, 0]);
    assert.deepEqual(
      stretched(list, 'a', 'from', 5.5, 60).map(({ at, length }) => [at, length]),
      [[5.5, 0.5]],
    );
    assert.ok(stretched(list, 'a', 'to', 0, 60)[0]!.length > 0);
    assert.ok(stretched(list, 'a', 'from', 99, 60)[0]!.length > 0);
  });
  test('a stretch that is taken goes a layer up; keys are fresh; what is removed is gone', () => {
    const list = [block({ key: 'a' })];
    assert.deepEqual([freeLayer(list, 5, 1), freeLayer(list, 6, 1), freeLayer([], 0, 1)], [1, 0, 0]);
    assert.ok(!list.some(({ key }) => key === keysFor(list)()));
    assert.deepEqual(without(list, new Set(['a'])), []);
    assert.equal(without(list, new Set(['z'])), list);
  });
});
