import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { bytesOf, commanded, PLENTY, profileOf, rigOf, until } from '../../../tests/support/auto-rig.ts';
import { applyChange, type Document } from '../document/change.ts';
import { make } from '../records/index.ts';
import type { Mood } from '../records/profile.ts';
import {
  applyLive,
  beatAt,
  initialLive,
  liveStateSchema,
  msAt,
  type LiveCommand,
  type LiveState,
} from '../show/index.ts';
import { autoDueMs, stepAuto } from './step.ts';

const document = rigOf([...PLENTY, profileOf('dimmer')]);
const BPM = 120;
const BAR_MS = 2000;
const command = (live: LiveState, given: LiveCommand, ms: number, on: Document = document): LiveState =>
  commanded(on, live, given, ms);
const started = (ms = 1000, on = document): LiveState =>
  command(command(initialLive(0, BPM), { do: 'ear', source: 'standin' }, ms, on), { do: 'auto', on: true }, ms, on);
const says = (
  live: LiveState,
  mood: Mood | null,
  ms: number,
  { turn = null, silent = false }: { turn?: 'build' | 'drop' | 'break' | null; silent?: boolean } = {},
  on = document,
): LiveState => command(live, { do: 'earSays', source: 'standin', silent, mood, turn, metre: null }, ms, on);
/** Beats that are announced, as an ear does. */
function heard(live: LiveState, fromMs: number, toMs: number): LiveState {
  let now = live;
  for (let at = fromMs; at < toMs; at += 500)
    now = command(now, { do: 'heardBeat', source: 'standin', at: at + 40, beat: null, bpm: BPM, confidence: 1 }, at);
  return now;
}
const ends = (live: LiveState): number => live.auto!.plays.filter((p) => p.releasedAt === null).length;

describe('live music', () => {
  test('another mood comes with the next bar line, and its ideas come back with it', () => {
    const easy = heard(says(started(), 'easy', 1100), 1500, 6000);
    assert.equal(until(document, easy, 6000, 6000).live.auto!.now!.mood, 'easy');
    const asked = says(easy, 'strong', 6300);
    assert.equal(asked.auto!.now!.mood, 'easy', 'not at once');
    const bar = asked.auto!.now!.untilMs!;
    assert.ok(Math.abs(beatAt(asked.tempo, bar) % 4) < 0.02, `${beatAt(asked.tempo, bar)} is a bar line`);
    assert.ok(bar - 6300 <= BAR_MS + 20);
    const strong = stepAuto(document, asked, bar);
    assert.equal(strong.auto!.now!.mood, 'strong');
    const again = says(heard(strong, bar, bar + 9000), 'easy', bar + 9100);
    const back = until(document, again, bar + 9100, bar + 12_000).live.auto!.now!;
    assert.deepEqual([back.mood, back.cast, back.colours], ['easy', easy.auto!.now!.cast, easy.auto!.now!.colours]);
  });
  test('a drop opens at once; a build grows; a break rests', () => {
    const strong = heard(says(started(), 'strong', 1100), 1500, 6000);
    const resting = until(document, says(strong, 'easy', 6300, { turn: 'break' }), 6300, 8600).live;
    assert.ok(resting.auto!.now!.cast.every(({ role }) => ['wash', 'wash2', 'pixels'].includes(role)));
    const building = heard(says(resting, 'easy', 8700, { turn: 'build' }), 9000, 10_400);
    const early = until(document, building, 10_400, 10_500).live.auto!.now!.cast.length;
    const later = until(document, heard(building, 10_500, 24_000), 24_000, 24_500).live.auto!.now!.cast.length;
    assert.ok(early < later, `${early} roles, then ${later}`);
    const dropped = says(heard(building, 10_500, 24_000), 'peak', 24_140, { turn: 'drop' });
    assert.equal(dropped.auto!.now!.mood, 'peak');
    assert.ok(
      dropped.auto!.plays.some((p) => p.releasedAt === null && p.fadeInMs === 0),
      'without a fade',
    );
  });
  test('silence: it rests, and after the set time a chosen scene is seen', () => {
    const scene = make('scene', {
      id: 'scene:house',
      number: 1,
      name: 'House look',
      values: { 'unit:u5': { Dimmer: 0.4 } },
    });
    const taught = make('variant', {
      id: 'variant:v',
      number: 1,
      name: 'Taught',
      silence: { afterS: 8, sceneId: 'scene:house' },
    });
    const own = applyChange(document, { put: [scene, taught], remove: [] });
    let live = command(started(1000, own), { do: 'autoVariant', variantId: 'variant:v' }, 1050, own);
    live = says(live, 'strong', 1100, {}, own);
    live = says(live, null, 9000, { silent: true }, own);
    const soon = until(own, live, 9000, 12_000).live;
    assert.deepEqual([soon.auto!.now!.mood, soon.auto!.now!.why], ['calm', 'silence']);
    assert.equal(autoDueMs(soon, 12_000)! <= 17_000, true, 'it is looked at again when silence has lasted');
    const house = until(own, soon, 12_000, 17_100).live;
    assert.equal(house.auto!.now!.why, 'silence: House look');
    assert.deepEqual(
      house.auto!.plays.filter((p) => p.releasedAt === null).map((p) => p.target),
      ['scene:house'],
    );
    // Music again: with the next bar it plays.
    const again = until(own, says(house, 'easy', 30_000, {}, own), 30_000, 32_100).live;
    assert.equal(again.auto!.now!.mood, 'easy');
  });
  test('an ear that falls silent for good, speech or noise: it goes on calmly and says why', () => {
    const live = heard(says(started(), 'strong', 1100), 1500, 8000);
    const due = autoDueMs(until(document, live, 8000, 8001).live, 8001)!;
    assert.ok(due <= 18_100, 'it is looked at when no beat was heard for ten seconds');
    const later = until(document, live, 8000, 19_000).live.auto!.now!;
    assert.equal(later.mood, 'calm');
    assert.match(later.why, /no beat is heard/);
  });
  test('another ear has nothing to say', () => {
    const live = started();
    const other = { do: 'earSays', source: 'page:x1', silent: true, mood: null, turn: null, metre: null } as const;
    assert.equal(applyLive(live, other, 2000, 'x', document).ear, live.ear);
  });
});

describe('a waltz that is heard', () => {
  test('has bars of three: what changes, changes on those', () => {
    const waltz = { do: 'earSays', source: 'standin', silent: false, mood: 'easy', turn: null, metre: 3 } as const;
    const live = heard(command(started(), waltz, 1100), 1500, 6000);
    const { changes } = until(document, live, 6000, 40_000);
    assert.ok(changes.length > 0);
    for (const ms of changes.filter((at) => at < 15_000))
      assert.ok(Math.abs(((beatAt(live.tempo, ms) + 1.5) % 3) - 1.5) < 0.02, `${beatAt(live.tempo, ms)} begins a bar`);
  });
});

describe('in hand', () => {
  const known = (live: LiveState): LiveState => command(live, { do: 'song', songId: 'song:one' }, 1000);
  const at = (bar: number): number => 1000 + 350 + 500 + bar * BAR_MS;

  test('held, it stays whatever the music does; let go, it is where the music is', () => {
    const begun = command(known(initialLive(0, BPM)), { do: 'auto', on: true }, 3000);
    const held = command(begun, { do: 'autoHold', on: true }, 4000);
    const later = until(document, held, 4000, at(26)).live;
    assert.deepEqual(later.auto!.now!.cast, begun.auto!.now!.cast);
    assert.match(later.auto!.now!.why, /held/);
    const free = command(later, { do: 'autoHold', on: false }, at(26));
    assert.equal(free.auto!.now!.mood, 'peak');
    assert.deepEqual(liveStateSchema.parse(later), later, 'it can be kept');
  });
  test('next: other ideas from the next bar on, for this section whenever it comes', () => {
    const begun = command(known(initialLive(0, BPM)), { do: 'auto', on: true }, 3000);
    const asked = command(begun, { do: 'autoNext' }, 5000);
    assert.deepEqual(asked.auto!.plays, begun.auto!.plays, 'not at once');
    const bar = asked.auto!.now!.untilMs!;
    const next = stepAuto(document, asked, bar);
    assert.notDeepEqual(next.auto!.now!.cast, begun.auto!.now!.cast);
    assert.equal(next.auto!.now!.section, begun.auto!.now!.section);
    // The same section at the end of the song.
    const end = until(document, next, bar, at(41)).live.auto!.now!;
    assert.equal(end.section, 'A');
    assert.deepEqual(
      end.cast.map((c) => c.idea),
      next.auto!.now!.cast.map((c) => c.idea),
    );
  });
  test('more and less: a step of mood from what the music has', () => {
    const begun = command(known(initialLive(0, BPM)), { do: 'auto', on: true }, 3000);
    assert.equal(command(begun, { do: 'autoLean', lean: 2 }, 3100).auto!.now!.mood, 'strong');
    assert.equal(command(begun, { do: 'autoLean', lean: -2 }, 3100).auto!.now!.mood, 'calm');
  });
  test('colours that are chosen are all there is', () => {
    const begun = command(known(initialLive(0, BPM)), { do: 'auto', on: true }, 3000);
    const red = command(begun, { do: 'autoColours', colours: ['#ff0000'] }, 3100);
    const colours = red
      .auto!.plays.filter((p) => p.releasedAt === null)
      .flatMap((p) => p.spec?.parts.flatMap((part) => ('colours' in part ? part.colours : [])) ?? []);
    assert.deepEqual([...new Set(colours)], ['#ff0000']);
  });
  test('not this again: it is not cast any more in that mood; all forbidden, nothing plays and it says so', () => {
    const begun = command(known(initialLive(0, BPM)), { do: 'auto', on: true }, 3000);
    const { role, idea } = begun.auto!.now!.cast.find((c) => c.role === 'wash')!;
    const forbidden = (never: string[]): Document => {
      const roles = { [role]: { never } };
      const variant = make('variant', { id: 'variant:v', number: 1, name: 'V', moods: { easy: { roles } } });
      return applyChange(document, { put: [variant], remove: [] });
    };
    const one = forbidden([idea]);
    const chosen = command(begun, { do: 'autoVariant', variantId: 'variant:v' }, 4000, one);
    const now = chosen.auto!.now!.cast.find((c) => c.role === role)!;
    assert.notEqual(now.idea, idea);
    const all = forbidden(['still', 'breath', 'change', 'run', 'quick', 'chase']);
    const only = command(chosen, { do: 'autoRoles', roles: ['wash'] }, 5000, all);
    assert.equal(ends(only), 0);
    assert.match(only.auto!.now!.why, /may play/);
  });
  test('off keeps what was asked for; on again it counts', () => {
    const begun = command(started(), { do: 'autoLean', lean: 1 }, 1100);
    const off = until(document, command(begun, { do: 'auto', on: false }, 2000), 2000, 9000).live;
    assert.deepEqual([off.auto!.on, off.auto!.lean, off.auto!.plays], [false, 1, []]);
    assert.equal(stepAuto(document, off, 9500), off, 'and it rests');
    assert.equal(command(off, { do: 'auto', on: true }, 10_000).auto!.lean, 1);
  });
  test('roles that groups say', () => {
    const group = make('group', { id: 'group:g', number: 1, name: 'Lamps', unitIds: ['unit:u5'], role: 'wash' });
    const own = applyChange(document, { put: [group], remove: [] });
    const live = command(initialLive(0, BPM), { do: 'auto', on: true }, 0, own);
    assert.ok(live.auto!.plays.some((p) => p.on?.includes('unit:u5')));
    // A group that is emptied while it plays lets its units go.
    const emptied = applyChange(own, { put: [{ ...group, unitIds: [] }], remove: [] });
    const after = stepAuto(emptied, live, 3000);
    assert.ok(after.auto!.plays.every((p) => p.releasedAt !== null || !p.on?.includes('unit:u5')));
  });
  test('it lies under a scene of the lowest priority that was played before it', () => {
    const values = { 'unit:u0': { Dimmer: 0.2, ColorRGB_Red: 1, ColorRGB_Green: 0, ColorRGB_Blue: 0 } };
    const scene = make('scene', { id: 'scene:low', number: 1, name: 'Low', values, priority: 0 });
    const own = applyChange(document, { put: [scene], remove: [] });
    const played = command(initialLive(0, BPM), { do: 'play', target: 'scene:low' }, 0, own);
    const alone = bytesOf(own, played, 9000).slice(0, 512);
    const live = command(played, { do: 'auto', on: true }, 5000, own);
    assert.deepEqual(bytesOf(own, live, 9000).slice(0, 512), alone);
  });
});

describe('own things of the show', () => {
  test('a scene with the tag of a mood, and an aim in a folder called like one, take part by themselves', () => {
    const show = make('show', {
      id: 'show:auto',
      name: 'Auto',
      tags: [{ key: 'c', name: 'Peak', colour: '#ff0000', shape: 'disc' }],
    });
    const scene = make('scene', {
      id: 'scene:mine',
      number: 1,
      name: 'Mine',
      tags: ['c'],
      values: { 'unit:u0': { Dimmer: 1 } },
    });
    const aim = make('aim', {
      id: 'aim:floor',
      number: 1,
      name: 'Floor',
      folder: 'Rink/peak',
      where: { is: 'point', at: { x: 0, y: 0, z: 0 } },
    });
    const own = applyChange(document, { put: [show, scene, aim], remove: [] });
    const found = new Set<string>();
    let live = command(
      command(initialLive(0, BPM), { do: 'auto', on: true }, 0, own),
      { do: 'autoMood', mood: 'peak' },
      0,
      own,
    );
    for (let take = 0; take < 40; take++) {
      live = until(own, command(live, { do: 'autoTake' }, take * 3000, own), take * 3000, take * 3000 + 2500).live;
      for (const { idea } of live.auto!.now!.cast) found.add(idea);
    }
    assert.ok(found.has('scene:mine'), [...found].join(' '));
    assert.ok(found.has('aim:floor'), [...found].join(' '));
    // One that is deleted while it plays is played no more.
    const gone = applyChange(own, { put: [], remove: ['scene:mine', 'aim:floor'] });
    const after = stepAuto(gone, live, 200_000).auto!.now!.cast.map((c) => c.idea);
    assert.ok(!after.includes('scene:mine') && !after.includes('aim:floor'));
  });
});

describe('tempi that nobody dances to', () => {
  for (const bpm of [20, 400])
    test(`${bpm} a minute: phrases of bars, neither rushed nor without end`, () => {
      const begun = command(initialLive(0, bpm), { do: 'auto', on: true }, 100);
      const { changes } = until(document, begun, 100, 200_000);
      const gaps = changes.slice(1).map((ms, i) => ms - changes[i]!);
      assert.ok(gaps.length >= 3 && gaps.every((gap) => gap > 5900 && gap < 41_000), gaps.join(' '));
      for (const ms of changes)
        assert.ok(Math.abs((beatAt(begun.tempo, ms) + 2) % 4) - 2 < 0.01, `${ms} is a bar line`);
      assert.ok(msAt(begun.tempo, 4) > 0);
    });
});
