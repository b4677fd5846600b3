import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import fc from 'fast-check';
import { after, chase, scene, showWith, units } from '../../tests/support/rig.ts';
import { applyChange, reverseOf, type ChangeSet, type Document } from '../core/document/change.ts';
import { changeFaults } from '../core/rules/faults.ts';
import { make, type AnyRecord } from '../core/records/index.ts';
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
