import assert from 'node:assert/strict';
import { rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { after, before, test } from 'node:test';
import { writeArchive } from '../../src/core/format/archive.ts';
import { documentOf } from '../../src/core/document/change.ts';
import { removalOf } from '../../src/core/rules/removal.ts';
import { make } from '../../src/core/records/index.ts';
import { App, hearSacn, temporaryFolder, until } from '../support/app.ts';
import { kite } from '../support/kite.ts';

/** The light of a song: as it is on the wire, and as the headless command renders it. */
const EAR = '127.204.1.62';
const folder = temporaryFolder();
let app: App;
let ear: Awaited<ReturnType<typeof hearSacn>>;
before(async () => {
  ear = await hearSacn(EAR, 5568);
  app = await App.start();
});
after(async () => {
  ear?.close();
  await app?.end();
  rmSync(folder, { recursive: true });
});

test('blocks begin and end at their moments on the wire, with the bytes that are rendered headless; deleted things leave names', async () => {
  const { id, records } = await app.openShow();
  const song = records.find((r) => r.kind === 'song' && r.name === 'Night Ferry')!;
  assert.ok(song.kind === 'song');
  const unit = records.find((r) => r.kind === 'unit' && r.name === 'Wash north 1')!;
  assert.ok(unit.kind === 'unit' && unit.patch && 'universe' in unit.patch);
  const { universe, address } = unit.patch;
  const scene = make('scene', { id: 'scene:flash', number: 90, name: 'Flash', values: { [unit.id]: { Dimmer: 1 } } });
  const blocks = [3, 3.5, 4, 4.5].map((at, i) => ({
    key: `b${i}`,
    at,
    length: 0.2,
    plays: { is: 'play' as const, target: scene.id },
  }));
  const lane = make('lane', { id: 'lane:one', number: 1, songId: song.id, on: unit.id, blocks });
  const output = make('output', { id: 'output:ear', name: 'Ear', protocol: 'sacn', destinations: [EAR] });
  const route = make('route', { id: 'route:ear', universe, outputId: output.id, wireUniverse: universe });
  const edited = await app.edit(id, { put: [scene, lane, output, route] });
  assert.equal(edited.status, 200, JSON.stringify(edited.body));
  await until('packets', () => ear.packets.length > 0);
  const slots = (packet: (typeof ear.packets)[number]): string =>
    [...packet.slots.slice(address - 1, address + 6)].join();
  const dark = slots(ear.packets.at(-1)!);

  await app.command({ do: 'song', songId: song.id, at: 2 });
  const { song: on } = await app.live();
  const begun = on!.ms - on!.at * 1000;
  await until('it is played through', () => (ear.packets.at(-1)?.at ?? 0) > begun + 5200);
  const heard = ear.packets.filter(({ at }) => at >= begun + 2900 && at < begun + 5000);
  const changes = heard.flatMap((packet, i) =>
    i > 0 && slots(packet) !== slots(heard[i - 1]!) ? [(packet.at - begun) / 1000] : [],
  );
  const wanted = [3, 3.2, 3.5, 3.7, 4, 4.2, 4.5, 4.7];
  assert.equal(changes.length, wanted.length, changes.join(' '));
  // A frame late at most, and what the machine takes to send and to hear it.
  wanted.forEach((at, i) => assert.ok(changes[i]! - at > -0.005 && changes[i]! - at < 0.08, changes.join(' ')));

  const now = await app.openShow();
  writeFileSync(
    path.join(folder, 'rink.kite'),
    writeArchive(now.records.filter((r) => r.kind !== 'backdrop' && r.kind !== 'picture')),
  );
  const { code, out, fault } = await kite(
    'song',
    'render',
    path.join(folder, 'rink.kite'),
    '--song',
    'Night Ferry',
    '--from',
    '3.1',
    '--to',
    '3.3',
    '--fps',
    '10',
  );
  assert.equal(code, 0, JSON.stringify(fault));
  const frames = (out as { frames: { universes: Record<string, number[]> }[] }).frames.map(({ universes }) =>
    universes[universe]!.slice(address - 1, address + 6).join(),
  );
  const lit = slots(heard.find(({ at }) => at > begun + 3100)!);
  assert.deepEqual([frames[0], frames[2]], [lit, dark]);

  const removal = removalOf(documentOf((await app.openShow()).records), [scene.id]);
  // The scene goes: its blocks say what they were, and the lane stays.
  assert.equal((await app.edit(id, { put: [...removal.put], remove: [...removal.remove] })).status, 200);
  const left = (await app.openShow()).records.find((r) => r.id === lane.id)!;
  assert.ok(left.kind === 'lane');
  assert.deepEqual(
    left.blocks.map(({ plays }) => plays),
    blocks.map(() => ({ is: 'gone', name: 'Flash' })),
  );
  writeFileSync(
    path.join(folder, 'left.kite'),
    writeArchive((await app.openShow()).records.filter((r) => r.kind !== 'backdrop' && r.kind !== 'picture')),
  );
  const checked = await kite('song', 'check', path.join(folder, 'left.kite'));
  const own = (checked.out as { songs: { song: string; faults: { code: string }[] }[] }).songs.find(
    (s) => s.song === 'Night Ferry',
  )!;
  assert.deepEqual(
    own.faults.map((f) => f.code),
    blocks.map(() => 'BLOCK_EMPTY'),
  );
});

test('marks are listed as text, read from a file with a line that is broken, and written into an archive', async () => {
  const archive = path.join(folder, 'left.kite');
  const file = path.join(folder, 'cues.txt');
  writeFileSync(file, 'from;to;label\n1,5;2;Bells\nnot a moment\n[00:04.00]slow lanterns\n');
  const out = path.join(folder, 'marked.kite');
  const read = await kite('song', 'marks', archive, '--song', 'Night Ferry', '--import', file, '--out', out);
  assert.equal(read.code, 1, 'a line could not be read');
  const said = read.out as { read: number; written: string };
  assert.deepEqual([said.read, said.written], [2, out]);
  const listed = await kite('song', 'marks', out, '--song', 'Night Ferry');
  assert.equal(listed.code, 0);
  assert.equal((listed.out as { text: string }).text, '1.5000\t2.0000\tBells\n4.0000\t4.0000\tslow lanterns\n');
  const unknown = await kite('song', 'marks', archive, '--song', 'Nothing');
  assert.equal(unknown.code, 2);
  assert.match(JSON.stringify(unknown.fault), /UNKNOWN_SONG.*Night Ferry/);
});

test('lanes that cannot be are refused with their place, and nothing is lost', async () => {
  const { id } = await app.openShow();
  const lane = (await app.openShow()).records.find((r) => r.kind === 'lane')!;
  assert.ok(lane.kind === 'lane');
  const [block] = lane.blocks;
  for (const [wrong, place] of [
    [{ length: 0 }, /blocks\.0\.length/],
    [{ length: -3 }, /blocks\.0\.length/],
    [{ at: -1 }, /blocks\.0\.at/],
    [{ layer: 9 }, /blocks\.0\.layer/],
    [
      {
        curves: {
          level: [
            { at: 2, value: 0 },
            { at: 1, value: 1 },
          ],
        },
      },
      /blocks\.0\.curves\.level\.1\.at/,
    ],
    [{ curves: { hue: [{ at: 0, value: 7 }] } }, /blocks\.0\.curves\.hue\.0\.value/],
  ] as const) {
    const { status, body } = await app.edit(id, { put: [{ ...lane, blocks: [{ ...block!, ...wrong }] }] as never });
    assert.equal(status, 400, JSON.stringify(body));
    assert.match(JSON.stringify(body), place);
  }
  const kept = (await app.openShow()).records.find((r) => r.id === lane.id);
  assert.deepEqual(kept, lane);
  // Past the end and over one another they are kept, and named by the check.
  const over = [
    { ...block!, key: 'x', at: 900, length: 5 },
    { ...block!, key: 'y', at: 902, length: 5 },
  ];
  assert.equal((await app.edit(id, { put: [{ ...lane, blocks: over }] })).status, 200);
  const file = path.join(folder, 'over.kite');
  writeFileSync(
    file,
    writeArchive((await app.openShow()).records.filter((r) => r.kind !== 'backdrop' && r.kind !== 'picture')),
  );
  const { out } = await kite('song', 'check', file, '--song', 'Night Ferry');
  const [own] = (out as { songs: { faults: { code: string; remedy: string }[] }[] }).songs;
  const codes = new Set(own!.faults.map(({ code }) => code));
  assert.ok(codes.has('BLOCK_OUTSIDE') && codes.has('BLOCK_OVERLAPS'), [...codes].join());
  assert.ok(own!.faults.every(({ remedy }) => remedy.length > 0));
});
