/** Light that runs by itself: planning, frames, from what is heard to the wire, and when it changes. */
import { standinAddresses } from '../src/addresses.ts';
import { NOTHING_ASKED, planSong, troupeOf, type Phrase } from '../src/core/auto/plan.ts';
import { guessRoles } from '../src/core/auto/roles.ts';
import { SongShow } from '../src/core/auto/song-show.ts';
import { stepAuto } from '../src/core/auto/step.ts';
import { applyChange, documentOf, recordsOf, type Document } from '../src/core/document/change.ts';
import { builtInProfiles } from '../src/core/profile/library.ts';
import { make, type SongRecord } from '../src/core/records/index.ts';
import {
  applyLive,
  compilePlay,
  compileRig,
  FlashGuard,
  initialLive,
  makeFrame,
  prepareLive,
  render,
  type LiveState,
} from '../src/core/show/index.ts';
import { gridOf, sectionsOf } from '../src/core/song/grid.ts';
import { copperlineRink } from '../src/db/seed/copperline.ts';
import { millpondWalk } from '../src/db/seed/millpond.ts';
import { seedSongs } from '../src/db/seed/songs.ts';
import { App, hearSacn, temporaryFolder, until } from '../tests/support/app.ts';
import { quantileOf, report, timed } from './measure.ts';
import { mixedShow } from './shows.ts';

const addresses = standinAddresses('/bench');
const rink = documentOf(copperlineRink(builtInProfiles(), addresses));
const millpond = documentOf(millpondWalk(builtInProfiles(), addresses));
const sixty = (() => {
  const { document } = mixedShow(2);
  const units = recordsOf(document, 'unit').slice(0, 60);
  const others = [...document.values()].filter((r) => r.kind === 'show' || r.kind === 'profile');
  return documentOf([...others, ...units]);
})();

/** A song of five minutes, 124 beats a minute, sections of eight bars in all moods. */
function fiveMinutes(): SongRecord {
  const beats = Array.from({ length: 620 }, (_, i) => Math.round((0.3 + (i * 60) / 124) * 1e4) / 1e4);
  const moods = ['easy', 'lively', 'strong', 'peak', 'calm', 'easy', 'strong', 'peak'] as const;
  const sections = Array.from({ length: 19 }, (_, i) => ({
    at: i === 0 ? 0 : beats[i * 32]!,
    name: 'ABCDEABD'[i % 8]!,
    mood: moods[i % 8]!,
    turn: ([null, null, 'build', 'drop', 'break', null, null, 'drop'] as const)[i % 8]!,
  }));
  const heard = { ear: 1, bpm: 124, confidence: { beats: 1, bars: 1, sections: 1 }, beats, sections } as const;
  const fields = {
    id: 'song:five',
    number: 1,
    name: 'Five',
    blob: 'a'.repeat(64),
    type: 'audio/wav',
    bytes: 1,
  } as const;
  const bars = [{ at: beats[0]!, beats: 4 }];
  return make('song', {
    ...fields,
    lengthS: 301,
    heard: { ...heard, bars, sections, beats: [...beats], loudness: -14 },
  });
}

function planning(name: string, document: Document): void {
  const song = fiveMinutes();
  const all = applyChange(document, { put: [song], remove: [] });
  const times = timed(
    20,
    () => void planSong(troupeOf(applyChange(all, { put: [], remove: [] }), NOTHING_ASKED), song),
  );
  report(`${name}: a song of 5 minutes is planned, median`, quantileOf(times, 0.5), 'ms');
  // Beside it: the units are gone through, and as many phrases are made, without a choice.
  const phrases = new SongShow(all, song, NOTHING_ASKED).plan;
  const bare = timed(20, () => {
    const units = recordsOf(all, 'unit').map(({ id, number }) => ({ id, number }));
    JSON.stringify([units, phrases]);
  });
  report(`${name}: the same units and phrases written as text, median`, quantileOf(bare, 0.5), 'ms');
  report(
    `${name}: roles after an edit of something else, median`,
    quantileOf(
      timed(20, (i) => {
        const show = recordsOf(all, 'show')[0]!;
        void guessRoles(applyChange(all, { put: [{ ...show, notes: String(i) }], remove: [] }));
      }),
      0.5,
    ),
    'ms',
  );
}

function frames(name: string, document: Document): void {
  const song = fiveMinutes();
  const all = applyChange(document, { put: [song], remove: [] });
  const show = new SongShow(all, song, NOTHING_ASKED);
  const rig = compileRig(all);
  const frame = makeFrame(rig.arrays);
  const guard = new FlashGuard(rig.arrays, recordsOf(all, 'show')[0]!.safety);
  const at = show.plan.find(({ mood }) => mood === 'peak')!.from + 2;
  const draw = (state: LiveState): number => {
    const live = prepareLive(rig, state, (play) => compilePlay(rig, all, play), all);
    const one = (i: number): void => void render(rig.arrays, live, at * 1000 + i * 25, frame, guard);
    for (let i = 0; i < 200; i++) one(i);
    return quantileOf(timed(200, one), 0.5);
  };
  report(`${name}: a frame with Auto at its peak, median`, draw(show.at(at)), 'ms');
  report(`${name}: a frame in which nothing plays, median`, draw({ ...show.at(at), playing: [] }), 'ms');
  const begun = applyLive(initialLive(0), { do: 'auto', on: true }, 0, 'x', all);
  const stepped = stepAuto(all, begun, 10);
  report(
    `${name}: Auto looks whether anything is due, median`,
    quantileOf(
      timed(500, (i) => void stepAuto(all, stepped, 20 + i)),
      0.5,
    ),
    'ms',
  );
}

/** When it changes, and how long it stays, over songs as they were heard. */
function changes(songs: readonly SongRecord[]): void {
  let [count, onBar, onPhrase, onSection] = [0, 0, 0, 0];
  const lengths: number[] = [];
  for (const song of songs) {
    const { plan } = new SongShow(applyChange(rink, { put: [song], remove: [] }), song, NOTHING_ASKED);
    const { beats, places } = gridOf(song);
    const starts = sectionsOf(song).map(({ at }) => at);
    const bars = beats.filter((_, i) => places[i] === 0);
    const lit = plan.filter(({ why }) => !why.startsWith('dark'));
    const near = (list: readonly number[], at: number): boolean => list.some((x) => Math.abs(x - at) < 0.001);
    lit.slice(1).forEach((phrase: Phrase, i) => {
      count++;
      lengths.push(phrase.from - lit[i]!.from);
      if (near(bars, phrase.from)) onBar++;
      const section = starts.some((at) => Math.abs(at - phrase.from) < 0.2);
      if (section) onSection++;
      const begun = starts.filter((at) => at <= phrase.from + 0.2).at(-1) ?? 0;
      const since = bars.filter((at) => at >= begun - 0.2 && at < phrase.from - 0.001).length;
      if (section || since % 4 === 0) onPhrase++;
    });
  }
  report(`demo songs: changes`, count, 'changes');
  report(`demo songs: changes on a bar line`, (100 * onBar) / count, '%');
  report(`demo songs: changes on a phrase of 4 bars or a section`, (100 * onPhrase) / count, '%');
  report(`demo songs: changes on a section`, (100 * onSection) / count, '%');
  report(`demo songs: longest time without a change`, Math.max(...lengths), 's');
  report(`demo songs: shortest time between two`, Math.min(...lengths), 's');
}

/** When a slot jumped (by more than running light does in a frame) in a packet after a moment; false where none did. */
function jumpAfter(packets: Awaited<ReturnType<typeof hearSacn>>['packets'], start: number): number | false {
  const last = new Map<number, Uint8Array>();
  for (const { universe, slots, at } of packets) {
    const before = last.get(universe);
    if (at > start && before?.some((value, i) => Math.abs(value - slots[i]!) > 60)) return at;
    last.set(universe, slots);
  }
  return false;
}

/** From what is heard live to the packet that is another, at a receiver. */
async function toTheWire(): Promise<void> {
  const own = '127.94.8.1';
  const ear = await hearSacn(own, 5568);
  const app = await App.start();
  try {
    const { id } = await app.openShow();
    const routes = [1, 2, 3].map((universe) =>
      make('route', { id: `route:b${universe}`, universe, outputId: 'output:b', wireUniverse: universe }),
    );
    await app.edit(id, {
      put: [make('output', { id: 'output:b', name: 'Bench', protocol: 'sacn', destinations: [own] }), ...routes],
    });
    await app.command({ do: 'ear', source: 'page:bench' });
    await app.command({ do: 'auto', on: true });
    const said = (mood: string, turn: string | null) =>
      app.command({ do: 'earSays', source: 'page:bench', silent: false, mood, turn });
    const found: number[] = [];
    for (let i = 0; i < 12; i++) {
      await said('calm', 'break');
      await until('calm', async () => (await app.live()).auto?.now?.mood === 'calm', 20);
      await until('it fades out', async () => (await app.live()).auto!.plays.every((p) => p.releasedAt === null), 20);
      await until('packets', () => ear.packets.length > 0);
      const start = performance.timeOrigin + performance.now();
      await said('peak', 'drop');
      found.push((await until('a packet that is another', () => jumpAfter(ear.packets.slice(-600), start), 5)) - start);
    }
    report('a drop that is heard, to the changed packet at the receiver, median', quantileOf(found, 0.5), 'ms');
    report('a drop that is heard, to the changed packet at the receiver, most', Math.max(...found), 'ms');
  } finally {
    ear.close();
    await app.end();
  }
}

for (const [name, document] of [
  ['the rink', rink],
  ['60 fixtures', sixty],
  ['the walk, 9,000 pixels', millpond],
] as const) {
  planning(name, document);
  frames(name, document);
}
const songs = seedSongs('build/songs', temporaryFolder()).records.flatMap((r) => (r.kind === 'song' ? [r] : []));
if (songs.length === 0) throw new Error('the songs of the demo are missing: run npm start once');
changes(songs);
await toTheWire();
