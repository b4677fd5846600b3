import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import { after, chase, scene, showWith, units } from '../../tests/support/rig.ts';
import { applyChange, reverseOf, type ChangeSet, type Document } from '../core/document/change.ts';
import { changeFaults } from '../core/rules/faults.ts';
import { make, type AnyRecord } from '../core/records/index.ts';
import { removalOf } from '../core/rules/removal.ts';
import { initialLive, makeFrame, render, type Program, type RigArrays } from '../core/show/index.ts';
import { Player } from './player.ts';
import { unwired, type ToFrameThread, type WireLive } from './shared.ts';

/** The other end of a player: takes its messages as the frame thread does, and draws. */
class FarEnd {
  #rig!: RigArrays;
  #live!: WireLive;
  #programs = new Map<number, Program>();
  take({ rig, live, programs }: ToFrameThread): this {
    if (rig) this.#rig = rig;
    for (const [ref, program] of programs ?? []) this.#programs.set(ref, program);
    if (live) this.#live = live;
    return this;
  }
  /** Bytes of each universe at a moment. */
  at(ms: number): Map<number, string> {
    const live = unwired(this.#live, (ref) => {
      const program = this.#programs.get(ref);
      assert.ok(program, `program ${ref} was sent`);
      return program;
    });
    const bytes = render(this.#rig, live, ms, makeFrame(this.#rig));
    return new Map(Array.from(this.#rig.universes, (u, i) => [u, bytes.subarray(i * 512, i * 512 + 512).join()]));
  }
}

const document = showWith(
  ...units(
    { slug: 'a', profile: 'fernlight-brambleq', mode: '8ch', universe: 1, address: 1 },
    { slug: 'b', profile: 'generic-dimmer', mode: '1ch', universe: 1, address: 101 },
    { slug: 'c', profile: 'generic-dimmer', mode: '1ch', universe: 2, address: 1 },
  ),
  make('palette', { id: 'palette:p', number: 1, name: 'P', family: 'colour', all: { ColorRGB_Red: 1 } }),
  scene('s', { a: { Dimmer: 1, ColorRGB_Red: 0.5 }, b: { Dimmer: 0.7 }, c: { Dimmer: 0.4 } }),
  scene('t', { a: { ColorRGB_Red: { palette: 'palette:p' } }, b: { Dimmer: 0.2 } }),
  chase('c', ['s', 't'], { fade: 0.5, hold: 1 }),
  make('effect', { id: 'effect:e', number: 1, name: 'E', on: ['unit:a', 'unit:c'], parts: [{ does: 'level' }] }),
);
const playing = after(
  document,
  [0, { do: 'play', target: 'scene:s' }],
  [0, { do: 'play', target: 'chase:c' }],
  [0, { do: 'play', target: 'effect:e' }],
);
const begun = (of: Document = document, live = playing): { player: Player; end: FarEnd } => {
  const player = new Player(initialLive(0));
  const end = new FarEnd().take(player.load([...of.values()], live));
  return { player, end };
};
const put = (...records: AnyRecord[]): ChangeSet => ({ put: records, remove: [] });

describe('an edit while it plays', () => {
  test('of a profile leaves the other units alone; a unit keeps what it still has', () => {
    const { player, end } = begun();
    const before = end.at(5200);
    const profile = document.get('profile:fernlight-brambleq')!;
    assert.ok(profile.kind === 'profile');
    // The dimmer turns into something else: the level is kept aside, the colour stays.
    const channels = profile.channels.map((c) =>
      c.attribute === 'Dimmer' ? { ...c, attribute: 'Control1' as const } : c,
    );
    end.take(player.edit(put({ ...profile, channels }), 5000).message);
    const now = end.at(5200);
    assert.equal(now.get(2), before.get(2), 'the other universe');
    assert.equal(now.get(1)!.split(',')[100], before.get(1)!.split(',')[100], 'the other unit');
    assert.notEqual(now.get(1), before.get(1));
    end.take(player.edit(put(profile), 5100).message);
    assert.deepEqual(end.at(5200), before, 'as it was once it is undone');
  });

  test('of an address takes the light along', () => {
    const { player, end } = begun();
    const [unit, was] = [document.get('unit:b')!, end.at(5200).get(1)!.split(',')];
    end.take(player.edit(put({ ...unit, patch: { universe: 1, address: 301 } } as AnyRecord), 5000).message);
    const now = end.at(5200).get(1)!.split(',');
    assert.deepEqual([now[100], now[300]], ['0', was[100]]);
  });

  test('of one scene sends what shows it, and nothing else', () => {
    const { player } = begun();
    const { message } = player.edit(put({ ...document.get('scene:t')!, fadeInMs: 5 } as AnyRecord), 10);
    assert.equal(message.rig, undefined);
    assert.equal(message.programs!.length, 1, 'the chase');
  });

  test('of a palette sends what refers to it', () => {
    const { player, end } = begun();
    const palette = document.get('palette:p')!;
    const { message } = player.edit(put({ ...palette, all: { ColorRGB_Red: 0.2 } } as AnyRecord), 10);
    assert.equal(message.programs!.length, 1);
    end.take(message);
  });

  test('that removes what plays lets it go, and the rest plays on', () => {
    const { player, end } = begun();
    end.take(player.edit({ put: [], remove: ['effect:e'] }, 10).message);
    assert.deepEqual(
      player.live.playing.map((p) => p.target),
      ['scene:s', 'chase:c'],
    );
    assert.equal(end.at(2000).size, 2);
  });
});

test('after any edits and undos it plays what it would play if it were loaded anew', () => {
  const share = fc.integer({ min: 0, max: 100 }).map((v) => v / 100);
  const edit: fc.Arbitrary<(now: Document) => ChangeSet | null> = fc.oneof(
    fc.tuple(fc.constantFrom('a', 'b', 'c'), share).map(([unit, level]) => (now: Document) => {
      const record = now.get('scene:s');
      if (record?.kind !== 'scene') return null;
      return put({ ...record, values: { ...record.values, [`unit:${unit}`]: { Dimmer: level } } });
    }),
    fc.tuple(fc.constantFrom('b', 'c'), fc.integer({ min: 50, max: 500 })).map(([slug, address]) => (now: Document) => {
      const unit = now.get(`unit:${slug}`);
      return unit?.kind === 'unit' ? put({ ...unit, patch: { universe: 1 + (address % 3), address } }) : null;
    }),
    share.map((red) => (now: Document) => {
      const palette = now.get('palette:p');
      return palette?.kind === 'palette' ? put({ ...palette, all: { ColorRGB_Red: red } }) : null;
    }),
    share.map((size) => (now: Document) => {
      const effect = now.get('effect:e');
      return effect?.kind === 'effect' ? put({ ...effect, parts: [{ ...effect.parts[0]!, size } as never] }) : null;
    }),
    fc.constantFrom('unit:c' as const, 'scene:t' as const).map((id) => (now: Document) => {
      // A removal takes every mention with it, as the rules say.
      if (!now.has(id)) return null;
      const change: ChangeSet = { put: [], remove: [id] };
      return changeFaults(now, change).length > 0 ? null : change;
    }),
    fc.constant(() => 'undo' as never),
  );
  fc.assert(
    fc.property(fc.array(edit, { maxLength: 12 }), (edits) => {
      const { player, end } = begun();
      let now = document;
      const undo: ChangeSet[] = [];
      for (const make of edits) {
        const wanted = make(now) as ChangeSet | 'undo' | null;
        const change = wanted === 'undo' ? undo.pop() : wanted;
        if (!change) continue;
        if (wanted !== 'undo') undo.push(reverseOf(now, change));
        now = applyChange(now, change);
        end.take(player.edit(change, 100).message);
      }
      const anew = begun(now, player.live).end;
      for (const ms of [150, 1300, 9000]) assert.deepEqual(end.at(ms), anew.at(ms));
    }),
    { numRuns: 60 },
  );
});

describe('an edit of where things are', () => {
  const heads = showWith(
    ...units({
      slug: 'h',
      profile: 'quillon-heron',
      mode: '16ch',
      address: 1,
      fields: { position: { x: 0, y: 0, z: 5 }, rotation: { x: 0, y: 180, z: 0 }, hungOn: 'thing:truss' },
    }),
    make('thing', {
      id: 'thing:truss',
      number: 1,
      name: 'Truss',
      shape: 'truss',
      size: { widthM: 4, depthM: 0.3, heightM: 0.3 },
      position: { x: 0, y: 0, z: 5 },
    }),
    make('aim', { id: 'aim:p', number: 1, name: 'P', where: { is: 'point', at: { x: 3, y: -2, z: 0 } } }),
    scene('aimed', { h: { Pan: { aim: 'aim:p' }, Tilt: { aim: 'aim:p' }, Dimmer: 1 } }),
  );
  const live = after(heads, [0, { do: 'play', target: 'scene:aimed' }]);
  const panOf = (end: FarEnd, ms: number): number => {
    const [coarse, fine] = end.at(ms).get(1)!.split(',').map(Number) as [number, number];
    return coarse * 256 + fine;
  };
  const aim = heads.get('aim:p')!;
  const moved = { ...aim, where: { is: 'point', at: { x: -3, y: -2, z: 0 } } } as AnyRecord;

  test('lets heads that follow an aim come over with a fade, without a jump, to where they belong', () => {
    const { player, end } = begun(heads, live);
    const before = panOf(end, 4000);
    end.take(player.edit(put(moved), 4000).message);
    assert.ok(Math.abs(panOf(end, 4000) - before) <= 2, 'it begins where they were');
    let was = before;
    for (let ms = 4025; ms <= 6000; ms += 25) {
      const now = panOf(end, ms);
      assert.ok(Math.abs(now - was) < 1500, `${was} to ${now}`);
      was = now;
    }
    const fresh = begun(applyChange(heads, put(moved)), live);
    assert.equal(panOf(end, 6000), panOf(fresh.end, 6000));
    assert.notEqual(was, before);
  });

  test('one after the other goes on from where they are', () => {
    const { player, end } = begun(heads, live);
    end.take(player.edit(put(moved), 4000).message);
    const halfway = panOf(end, 4300);
    end.take(player.edit(put(aim), 4300).message);
    assert.ok(Math.abs(panOf(end, 4300) - halfway) <= 2, `${panOf(end, 4300)} and not ${halfway}`);
    assert.equal(panOf(end, 8000), panOf(begun(heads, live).end, 8000));
  });

  test('of a truss takes its heads along, and they keep pointing there', () => {
    const { player, end } = begun(heads, live);
    const unit = heads.get('unit:h')! as Extract<AnyRecord, { kind: 'unit' }>;
    const thing = heads.get('thing:truss')! as Extract<AnyRecord, { kind: 'thing' }>;
    const at = { x: 2, y: 1, z: 4 };
    const change = put({ ...thing, position: at }, { ...unit, position: at });
    const before = panOf(end, 4000);
    end.take(player.edit(change, 4000).message);
    assert.ok(Math.abs(panOf(end, 4000) - before) <= 2, 'it begins where it was');
    assert.equal(panOf(end, 7000), panOf(begun(applyChange(heads, change), live).end, 7000));
  });

  test('made blind reaches nothing that plays, also an aim that is by hand', () => {
    const byHand = after(heads, [
      0,
      { do: 'hand', set: { 'unit:h': { Pan: { aim: 'aim:p' }, Tilt: { aim: 'aim:p' } } } },
    ]);
    for (const state of [live, byHand]) {
      const { player, end } = begun(heads, state);
      const before = panOf(end, 4000);
      end.take(player.edit(put(moved), 4000, true).message);
      assert.equal(panOf(end, 6000), before);
    }
  });

  test('of an aim that goes while a scene and the hand follow it: the scene stays where it was, the light goes on', () => {
    const { player, end } = begun(heads, live);
    const before = panOf(end, 4000);
    const removal = removalOf(heads, ['aim:p']);
    end.take(player.edit(removal, 4000).message);
    assert.ok(Math.abs(panOf(end, 9000) - before) <= 1, 'it stays where it was');
  });
});
