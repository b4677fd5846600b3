import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import {
  bytesOf,
  commanded,
  frames,
  randomSong,
  rigOf,
  showOf,
  until,
  litIn,
} from '../../../tests/support/auto-rig.ts';
import { applyChange, getRecord, recordsOf, type Document } from '../document/change.ts';
import type { LitId } from '../ids.ts';
import { builtInProfiles } from '../profile/library.ts';
import { seeded } from '../random.ts';
import { make } from '../records/index.ts';
import { MOODS } from '../records/profile.ts';
import { PLAYED_ROLES } from '../records/variant.ts';
import { FlashWatch } from '../show/guard/flash-watch.ts';
import { compilePlay, compileRig, FlashGuard, initialLive, makeFrame, prepareLive, render } from '../show/index.ts';
import { patchedUnit } from '../patch/of-document.ts';
import { guessRoles } from './roles.ts';

/** Random rigs of the whole library, with groups, areas of their own and things asked for at random. */
const LIBRARY = builtInProfiles();
function randomRig(seed: number): { document: Document; random: () => number } {
  const random = seeded(seed);
  const count = 1 + Math.floor(random() * 12);
  const profiles = Array.from({ length: count }, () => LIBRARY[Math.floor(random() * LIBRARY.length)]!);
  let document = rigOf(profiles);
  for (let g = 1; g <= 3; g++) {
    const unitIds = profiles.flatMap((_, i) => (random() < 0.3 ? [`unit:u${i}` as const] : []));
    const group = make('group', { id: `group:g${g}`, number: g, name: `Group ${g}`, unitIds });
    document = applyChange(document, { put: [group], remove: [] });
  }
  return { document, random };
}
/** Slots of units, as universe and place. */
const differing = (document: Document, a: Uint8Array, b: Uint8Array): Set<LitId> => {
  const universes = [...compileRig(document).arrays.universes];
  const found = new Set<LitId>();
  for (const { id } of guessRoles(document)) {
    const unit = getRecord(document, 'unit', id)!;
    for (const { universe, from, to } of patchedUnit(document, unit).spans) {
      const base = universes.indexOf(universe) * 512;
      for (let i = from - 1; i < to; i++) if (a[base + i] !== b[base + i]) found.add(id);
    }
  }
  return found;
};
const RIGS = 25;

describe('over random rigs of the whole library', () => {
  test('nothing is touched outside roles that play, areas and groups that take part', () => {
    for (let seed = 1; seed <= RIGS; seed++) {
      const { document, random } = randomRig(seed);
      const roles = PLAYED_ROLES.filter(() => random() < 0.6);
      const place = `group:g${1 + Math.floor(random() * 3)}` as const;
      let live = commanded(document, initialLive(0), { do: 'auto', on: true }, 1000);
      live = commanded(document, live, { do: 'autoRoles', roles }, 1100);
      live = commanded(document, live, { do: 'autoPlace', place, mood: 'none' }, 1200);
      live = commanded(document, live, { do: 'autoMood', mood: MOODS[seed % 5]! }, 1300);
      const rest = bytesOf(document, initialLive(0), 0);
      const left = new Set<string>(getRecord(document, 'group', place)!.unitIds);
      const mayPlay = new Set(
        guessRoles(document).flatMap(({ id, role }) =>
          !left.has(id) && (roles as readonly string[]).includes(role) ? [id] : [],
        ),
      );
      for (const ms of [4000, 9000, 17_000])
        for (const id of differing(document, bytesOf(document, until(document, live, 1300, ms).live, ms), rest))
          assert.ok(mayPlay.has(id), `seed ${seed}, ${ms} ms: ${id} is touched`);
    }
  });
  test('a group with a mood of its own has that', () => {
    for (let seed = 1; seed <= 8; seed++) {
      const { document } = randomRig(seed + 100);
      const show = showOf(document, seed, { places: { 'group:g1': 'peak', 'group:g2': 'calm' } });
      for (const phrase of show.plan)
        for (const { id, mood } of phrase.places) assert.equal(mood, id === 'group:g1' ? 'peak' : 'calm');
    }
  });
  test('over random music all of it is safe to look at, frame by frame as it is sent', () => {
    for (let seed = 1; seed <= 8; seed++) {
      const song = randomSong(seed);
      const document = applyChange(randomRig(seed + 200).document, { put: [song], remove: [] });
      const show = showOf(document, seed, { lean: (seed % 5) - 2, places: { 'group:g1': 'peak' } });
      const rig = compileRig(document);
      const frame = makeFrame(rig.arrays);
      const { safety } = recordsOf(document, 'show')[0]!;
      const guard = new FlashGuard(rig.arrays, safety);
      const watch = new FlashWatch(rig.arrays, safety.flashesPerSecond);
      const from = seed * 3;
      let [phrase, live] = [NaN, null as ReturnType<typeof prepareLive> | null];
      for (let at = from; at < from + 20; at += 1 / 40) {
        if (show.phraseAt(at) !== phrase || !live) {
          phrase = show.phraseAt(at);
          live = prepareLive(rig, show.at(at), (play) => compilePlay(rig, document, play), document);
        }
        render(rig.arrays, live, at * 1000, frame, guard);
        const share = watch.look(frame.current, at);
        assert.ok(share <= safety.share + 0.01, `seed ${seed}, ${at} s: ${share} of what is seen flashes too fast`);
      }
    }
  });
  test('something of every rig that gives light plays, in every mood', () => {
    for (let seed = 1; seed <= RIGS; seed++) {
      const { document } = randomRig(seed + 500);
      const givesLight = guessRoles(document).some(({ role }) => role !== 'house');
      if (!givesLight) continue;
      for (const mood of MOODS) {
        const show = showOf(document, seed, { mood });
        const lit = frames(document, show, [3, 4, 5, 6.1, 7.3, 12.2]).some(
          (bytes) => litIn(document, bytes).length > 0,
        );
        assert.ok(lit, `seed ${seed}, ${mood}`);
      }
    }
  });
  test('what is asked for is never lost: the same commands give the same light', () => {
    for (let seed = 1; seed <= 6; seed++) {
      const { document } = randomRig(seed + 900);
      const play = (): Uint8Array => {
        let live = commanded(document, initialLive(0), { do: 'auto', on: true }, 1000);
        live = commanded(document, live, { do: 'autoLean', lean: 2 }, 1500);
        live = commanded(document, live, { do: 'autoColours', colours: ['#ff0000'] }, 1600);
        live = commanded(document, live, { do: 'autoNext' }, 1700);
        return bytesOf(document, until(document, live, 1700, 20_000).live, 20_000);
      };
      assert.deepEqual(play(), play());
    }
  });
});
