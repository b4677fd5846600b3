import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import {
  BAR_S,
  BPM,
  bytesOf,
  commanded,
  frames,
  litIn,
  PLENTY,
  profileOf,
  restOf,
  rigOf,
  showOf,
  song,
  until,
} from '../../../tests/support/auto-rig.ts';
import { fromHex, toHueSaturation } from '../colour/convert.ts';
import { documentOf, recordsOf } from '../document/change.ts';
import { builtInProfiles } from '../profile/library.ts';
import { MOODS } from '../records/profile.ts';
import {
  applyLive,
  compilePlay,
  compileRig,
  initialLive,
  liveStateSchema,
  makeFrame,
  prepareLive,
  render,
  type LiveCommand,
  type LiveState,
} from '../show/index.ts';
import { gridOf } from '../song/grid.ts';
import { coloursOf } from './colours.ts';
import { Dice } from './dice.ts';
import { NOTHING_ASKED } from './plan.ts';
import { guessRoles, rolesOf } from './roles.ts';
import { SongShow } from './song-show.ts';
import { autoDueMs, stepAuto } from './step.ts';

describe('roles', () => {
  test('are guessed from what units are, and lamps and machines are left alone', () => {
    const document = rigOf([...PLENTY, profileOf('dimmer'), profileOf('hazer')]);
    const roles = guessRoles(document).map(({ id, role }) => [id, role]);
    assert.deepEqual(roles, [
      ['unit:u0', 'wash'],
      ['unit:u1', 'beams'],
      ['unit:u2', 'effects'],
      ['unit:u3', 'whites'],
      ['unit:u4', 'pixels'],
      ['unit:u5', 'house'],
    ]);
  });
  test('of a rig of one dimmer: it is what plays', () => {
    assert.deepEqual(rolesOf(guessRoles(rigOf([profileOf('dimmer')]))).wash, ['unit:u0']);
  });
  test('of no units are none', () => {
    assert.deepEqual(guessRoles(rigOf([])), []);
  });
});

describe('colours', () => {
  test('are few, bright, and of the hue they are asked for', () => {
    for (const mood of MOODS)
      for (let k = 0; k < 20; k++) {
        const colours = coloursOf(new Dice(k, mood), mood, k * 18);
        assert.ok(colours.length >= 1 && colours.length <= 3, `${colours.length}`);
        for (const hex of colours) {
          const { r, g, b } = fromHex(hex);
          assert.ok(Math.max(r, g, b) > 0.98, `${hex} is as bright as a lamp can be`);
          assert.ok(toHueSaturation(fromHex(hex)).saturation > 0.2, `${hex} is a colour`);
        }
      }
  });
});

describe('the plan of a song', () => {
  const document = rigOf([...PLENTY, profileOf('dimmer')]);
  const { plan } = showOf(document, 7);
  test('changes on bar lines, dark beats before drops apart', () => {
    const { beats, places } = gridOf(recordsOf(document, 'song')[0]!);
    for (const { from, why } of plan.slice(1)) {
      const beat = beats.findIndex((at) => Math.abs(at - from) < 1e-6);
      assert.ok(beat >= 0, `${from} is a beat`);
      if (!why.startsWith('dark')) assert.equal(places[beat], 0, `${from} begins a bar`);
    }
    assert.deepEqual(
      plan.map(({ from, to }, i) => to === (plan[i + 1]?.from ?? to) && from < to),
      plan.map(() => true),
      'one after the other',
    );
  });
  test('golden: what this song gets on this rig by the seed 1', () => {
    const lines = showOf(document, 1).plan.map(
      ({ from, mood, colours, cast }) =>
        `${from} ${mood} ${colours.join('+')} ${Object.entries(cast)
          .map(([role, { idea, turn }]) => `${role}:${idea}${turn}`)
          .join(' ')}`,
    );
    assert.deepEqual(lines, [
      '0 easy #00cdff+#7f9fff wash:change0 beams:fan1 effects:glow2 pixels:plasma3',
      '16.5 easy #00cdff+#7f9fff wash:change1 beams:fan2 effects:glow3 pixels:plasma0',
      '32.5 strong #00dcff+#ff9900 wash:run3',
      '36.5 strong #00dcff+#ff9900 wash:run3 pixels:comet3',
      '40.5 strong #00dcff+#ff9900 wash:run3 beams:cross3 pixels:comet3',
      '44.5 strong #00dcff+#ff9900 wash:run3 beams:cross3 effects:glow3 pixels:comet3',
      '48 strong #00dcff+#ff9900 ',
      '48.5 peak #00ffe9+#ff6a97 wash:quick3 beams:sweep1 effects:glow2 pixels:bars3 whites:seldom1',
      '56.5 peak #00ffe9+#ff6a97 wash:quick0 beams:sweep2 effects:glow3 pixels:bars0 whites:seldom2',
      '64.5 easy #ff83fe+#ff69a6 wash:breath1 pixels:snow2',
      '80.5 easy #00cdff+#7f9fff wash:change0 beams:fan1 effects:glow2 pixels:plasma3',
    ]);
  });
  test('what goes on from one phrase to the next is not begun anew', () => {
    const show = showOf(document, 1);
    const wash = (at: number) =>
      show.at(at).playing.filter(({ id, releasedAt }) => releasedAt === null && id.includes(' wash '));
    assert.deepEqual(
      wash(45).map(({ startedAt }) => startedAt),
      [32_500],
    );
    assert.deepEqual(wash(45), wash(33));
  });
  test('is the same for the same seed, another for another', () => {
    assert.deepEqual(showOf(document, 7).plan, plan);
    assert.notDeepEqual(showOf(document, 8).plan, plan);
  });
  test('a section that comes back has the colours and ideas it had', () => {
    const [first, again] = plan.filter(({ moment, why }) => moment.section.name === 'A' && !why.startsWith('another'));
    assert.ok(again!.from > 60);
    assert.deepEqual([again!.colours, again!.cast], [first!.colours, first!.cast]);
  });
  test('a build grows, the beat before a drop is dark, a break rests', () => {
    const grown = plan.filter(({ moment }) => moment.section.name === 'B').map(({ cast }) => Object.keys(cast).length);
    assert.deepEqual(grown.at(-1), 0, 'dark at its end');
    assert.ok(grown[0]! < grown.at(-2)!, `it grows: ${grown.join(' ')}`);
    const drop = plan.find(({ moment }) => moment.section.name === 'C')!;
    assert.equal(drop.fade, 0, 'the drop opens at once');
    const roles = plan.find(({ moment }) => moment.section.name === 'D')!.cast;
    assert.deepEqual(Object.keys(roles).sort(), ['pixels', 'wash']);
  });
  test('of a song without beats is one phrase', () => {
    const quiet = { ...song(), heard: null, lengthS: 30 };
    const show = new SongShow(documentOf([...document.values(), quiet]), quiet, NOTHING_ASKED);
    assert.deepEqual(
      show.plan.map(({ from, to }) => [from, to]),
      [[0, 30]],
    );
  });
});

describe('light', () => {
  test('every profile of the library that gives light gives some, whatever else there is', () => {
    for (const profile of builtInProfiles()) {
      const document = rigOf([profile]);
      const guess = guessRoles(document)[0];
      if (!guess) continue;
      for (const mood of MOODS) {
        const show = showOf(document, 1, { mood });
        const moments = [5, 12, 33, 53, 55, 56.3, 58.1, 60];
        const lit = frames(document, show, moments).filter((bytes) => litIn(document, bytes).length > 0).length;
        const name = `${profile.model} (${guess.role}), ${mood}`;
        assert.ok(lit > 0, `${name} gives no light`);
        // Hits come and go, and a comet is not always to be seen; all else is lit most of the time.
        if (guess.role !== 'whites') assert.ok(lit > moments.length / 3, `${name}: lit in ${lit} of ${moments.length}`);
      }
    }
  });
  test('never on what it may not touch', () => {
    const document = rigOf([...PLENTY, profileOf('dimmer'), profileOf('hazer')]);
    const [house, haze] = [5, 6];
    const rest = restOf(document);
    for (const bytes of frames(document, showOf(document, 3), [2, 20, 40, 50, 55, 70, 90]))
      for (const at of [house, haze])
        assert.deepEqual(bytes.slice(at * 512, at * 512 + 512), rest.slice(at * 512, at * 512 + 512));
  });
  test('a moment is the same however one comes there', () => {
    const document = rigOf(PLENTY);
    const [alone] = frames(document, showOf(document, 3), [55]);
    const rig = compileRig(document);
    const bytesAt = (moments: readonly number[]): Uint8Array => {
      const frame = makeFrame(rig.arrays);
      let last = new Uint8Array();
      for (const at of moments) {
        const live = prepareLive(rig, showOf(document, 3).at(at), (play) => compilePlay(rig, document, play), document);
        last = render(rig.arrays, live, at * 1000, frame).slice();
      }
      return last;
    };
    assert.deepEqual(bytesAt([55]), bytesAt([10, 49, 54.9, 55]));
    assert.ok(alone!.some((byte) => byte > 0));
  });
});

describe('while it runs', () => {
  const document = rigOf([...PLENTY, profileOf('dimmer')]);
  const command = (live: LiveState, given: LiveCommand, ms: number): LiveState => commanded(document, live, given, ms);
  const songOn = (ms: number): LiveState => command(initialLive(0), { do: 'song', songId: 'song:one' }, ms);

  test('it follows the song that is on: changes fall on bars, and it is told what comes next', () => {
    const begun = command(songOn(1000), { do: 'auto', on: true }, 1000);
    const { live, changes } = until(document, begun, 1000, 1000 + 350 + 60_000);
    const at = (bar: number): number => 1350 + 500 + bar * BAR_S * 1000;
    for (const ms of [at(16), at(24)])
      assert.ok(
        changes.some((change) => Math.abs(change - ms) < 2),
        `${ms} in ${changes.join(' ')}`,
      );
    assert.equal(live.auto!.now!.mood, 'peak');
    assert.ok(live.auto!.now!.then!.length > 0);
    assert.ok(
      live.auto!.plays.every(({ on }) => !on!.includes('unit:u5')),
      'the house is left alone',
    );
  });
  test('the same state where nothing changes; another mood or take changes it at once', () => {
    const begun = command(songOn(1000), { do: 'auto', on: true }, 1000);
    assert.equal(stepAuto(document, begun, 2000), begun);
    const held = command(begun, { do: 'autoMood', mood: 'peak' }, 3000);
    assert.equal(held.auto!.now!.mood, 'peak');
    // Another take comes with the next bar.
    const asked = command(begun, { do: 'autoTake' }, 3000);
    assert.deepEqual(asked.auto!.plays, begun.auto!.plays);
    const taken = stepAuto(document, asked, asked.auto!.now!.untilMs!);
    assert.notDeepEqual(
      taken.auto!.plays.filter((p) => p.releasedAt === null).map((p) => p.spec),
      begun.auto!.plays.map((p) => p.spec),
    );
    assert.deepEqual(liveStateSchema.parse(taken), taken, 'it can be kept');
  });
  test('without a song it goes by the tempo, eight bars at a time', () => {
    const begun = command(initialLive(0, BPM), { do: 'auto', on: true }, 5000);
    const { changes } = until(document, begun, 5000, 60_000);
    assert.deepEqual(
      changes.map((ms) => Math.round(ms)),
      [16_000, 32_000, 48_000],
    );
  });
  test('frozen it stands, and goes on from where the music is then', () => {
    const begun = command(initialLive(0, BPM), { do: 'auto', on: true }, 5000);
    const frozen = command(begun, { do: 'freeze', on: true }, 6000);
    assert.equal(autoDueMs(frozen, 6000), null);
    assert.equal(stepAuto(document, frozen, 60_000), frozen);
    const on = command(frozen, { do: 'freeze', on: false }, 60_000);
    assert.notEqual(on.auto!.now!.key, begun.auto!.now!.key);
  });
  test('off it fades out and is gone', () => {
    const begun = command(initialLive(0, BPM), { do: 'auto', on: true }, 5000);
    const off = command(begun, { do: 'auto', on: false }, 6000);
    assert.ok(off.auto!.plays.length > 0 && off.auto!.plays.every((p) => p.releasedAt === 6000));
    assert.equal(until(document, off, 6000, 20_000).live.auto, null);
  });
  test('its light is in the frame, under what is played by hand', () => {
    const begun = command(initialLive(0, BPM), { do: 'auto', on: true }, 0);
    const frameOf = (live: LiveState): Uint8Array => bytesOf(document, live, 9000);
    assert.notDeepEqual(frameOf(begun), frameOf(initialLive(0, BPM)));
    const black = applyLive(
      begun,
      { do: 'hand', set: { 'unit:u0': { Dimmer: 0, ColorAdd_R: 0, ColorAdd_G: 0, ColorAdd_B: 0 } } },
      8000,
      'hand',
      document,
    );
    assert.deepEqual(
      [...frameOf(black).slice(0, 3)].filter((byte) => byte > 0),
      [...frameOf(initialLive(0)).slice(0, 3)].filter((byte) => byte > 0),
    );
  });
});
