import assert from 'node:assert/strict';
import { after, before, test } from 'node:test';
import { make } from '../../src/core/records/index.ts';
import { App, hearSacn, until } from '../support/app.ts';

/** Light that runs by itself, as a receiver on the wire gets it. */
const EAR = '127.204.1.61';
let app: App;
let ear: Awaited<ReturnType<typeof hearSacn>>;
let song: string;
before(async () => {
  ear = await hearSacn(EAR, 5568);
  app = await App.start();
  const { id, records } = await app.openShow();
  song = records.find((r) => r.kind === 'song')!.id;
  const routes = [1, 2, 3].map((universe) =>
    make('route', { id: `route:ear${universe}`, universe, outputId: 'output:ear', wireUniverse: universe }),
  );
  const output = make('output', { id: 'output:ear', name: 'Ear', protocol: 'sacn', destinations: [EAR] });
  assert.equal((await app.edit(id, { put: [output, ...routes] })).status, 200);
});
after(async () => {
  ear?.close();
  await app?.end();
});

/** Universes of which what was received last is not as it was. */
function received(): Map<number, string> {
  const last = new Map<number, string>();
  for (const { universe, slots } of ear.packets) last.set(universe, Buffer.from(slots).toString('hex'));
  return last;
}
const differ = (one: Map<number, string>, other: Map<number, string>): number =>
  [...one].filter(([universe, slots]) => other.get(universe) !== slots).length;

test('on: there is light on the wire that moves, and it says why; off: dark again', async () => {
  await until('something is received', () => received().size > 0);
  const dark = received();
  assert.equal((await app.command({ do: 'auto', on: true })).status, 200);
  await until('it says what it does', async () => (await app.live()).auto?.now?.why);
  await until('light', () => differ(dark, received()) > 0);
  const one = received();
  await until('it moves', () => differ(one, received()) > 0);
  assert.deepEqual((await app.live()).playing, [], 'nothing that anybody plays');
  await app.command({ do: 'auto', on: false });
  await until('it is gone', async () => (await app.live()).auto === null);
  await until('dark', () => differ(dark, received()) === 0);
});

test('with a song it goes by its sections; a new engine goes on in the middle', async () => {
  await app.command({ do: 'song', songId: song, at: 2 });
  await app.command({ do: 'auto', on: true });
  const first = await until('the song', async () => {
    const { auto } = await app.live();
    return auto?.now?.key.startsWith(song) && auto;
  });
  const engine = (await app.health()).processes.engine!;
  process.kill(engine, 'SIGKILL');
  await until('a new engine', async () => {
    const { processes } = await app.health();
    return processes.engine !== null && processes.engine !== engine;
  });
  const again = await until('it goes on', async () => (await app.live()).auto);
  assert.deepEqual([again.on, again.seed], [true, first.seed]);
  await app.command({ do: 'autoMood', mood: 'peak' });
  await until('the mood is held', async () => (await app.live()).auto?.now?.mood === 'peak');
  // Elsewhere in the song it is another phrase.
  const before = (await app.live()).auto!.now!.key;
  await app.command({ do: 'songAt', at: 50 });
  await until('another phrase', async () => (await app.live()).auto?.now?.key !== before);
  await app.command({ do: 'songOff' });
  await until('by the tempo', async () => !(await app.live()).auto?.now?.key.startsWith(song));
});
