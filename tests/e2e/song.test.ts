import assert from 'node:assert/strict';
import { readFileSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { after, before, test } from 'node:test';
import type { Page } from 'playwright-core';
import { writeArchive } from '../../src/core/format/archive.ts';
import type { LaneRecord, SongRecord } from '../../src/core/records/index.ts';
import { gridOf, sectionsOf } from '../../src/core/song/grid.ts';
import { temporaryFolder, until } from '../support/app.ts';
import { Stage } from '../support/browser.ts';
import { kite } from '../support/kite.ts';

/** A song made with what the program offers: proposed, filled from the ear, repeated, kept, marked, steered, compared. */
let stage: Stage;
let page: Page;
const folder = temporaryFolder();
before(async () => {
  stage = await Stage.start();
  page = await stage.open('/music');
  await page
    .getByRole('navigation', { name: 'Songs' })
    .getByRole('button', { name: /Night Ferry/ })
    .click();
  await page.getByRole('button', { name: 'Light', exact: true }).click();
});
after(async () => {
  await stage?.end();
  rmSync(folder, { recursive: true });
});

const records = async () => (await stage.app.openShow()).records;
const lanes = async (songId = 'song:night-ferry'): Promise<LaneRecord[]> =>
  (await records()).flatMap((r) => (r.kind === 'lane' && r.songId === songId ? [r] : []));
const song = async (id = 'song:night-ferry'): Promise<SongRecord> =>
  (await records()).find((r) => r.id === id) as SongRecord;
const count = async (): Promise<number> => (await lanes()).reduce((sum, { blocks }) => sum + blocks.length, 0);
const tab = (name: string) =>
  page.getByRole('tab', { name, exact: true }).or(page.getByRole('button', { name, exact: true }));
const light = () => page.getByRole('region', { name: 'Light of the song' });
const undo = () => page.getByRole('button', { name: 'Undo', exact: true });
/** A section is chosen by a press above it. */
async function choose(section: number): Promise<void> {
  const own = await song();
  const { at } = sectionsOf(own)[section]!;
  const box = (await page.locator('.whole canvas').boundingBox())!;
  await page.mouse.click(box.x + ((at + 1.5) / own.lengthS!) * box.width, box.y + 30);
}

test('Auto proposes a section as blocks within it; one undo takes all of it back', async () => {
  await tab('Stretch').first().click();
  await choose(1);
  await page.getByRole('button', { name: 'Propose it' }).click();
  await until('blocks', async () => (await count()) > 2);
  const own = await song();
  const [from, to] = [sectionsOf(own)[1]!.at, sectionsOf(own)[2]!.at];
  for (const { blocks } of await lanes())
    for (const { at, length } of blocks) assert.ok(at >= from - 0.01 && at + length <= to + 0.01, `${at} ${length}`);
  await undo().click();
  await until('nothing', async () => (await lanes()).length === 0);
});

test('filled from the ear: on each snare of a section, and one lane after the other on beats', async () => {
  await page.getByLabel('Lane for').selectOption({ label: 'All washes' });
  await page.getByLabel('In the hand').selectOption({ label: 'Flash' });
  await choose(1);
  await page.getByLabel('Fill at').selectOption('snare');
  await page.getByRole('button', { name: /^Put Flash at/ }).click();
  await until('flashes', async () => (await count()) > 4);
  const [lane] = await lanes();
  assert.ok(lane!.blocks.every(({ fadeOut, length }) => fadeOut > 0 && length <= 0.2501));
  await undo().click();
  await page.getByLabel('Lane for').selectOption({ label: 'Counter bars' });
  await page.getByLabel('Lane for').selectOption({ label: 'Beam spots' });
  await until('lanes', async () => (await lanes()).length === 3);
  await page.getByLabel('Fill at').selectOption('beats');
  await page.getByLabel('Fill on').selectOption('lanes');
  await page.getByRole('button', { name: /^Put Flash at/ }).click();
  await until('dealt out', async () => (await lanes()).every(({ blocks }) => blocks.length > 3));
  const all = (await lanes()).flatMap(({ blocks }) => blocks.map(({ at }) => at)).sort((a, b) => a - b);
  const beats = gridOf(await song()).beats;
  assert.ok(all.every((at) => beats.some((beat) => Math.abs(beat - at) < 0.001)));
  assert.equal(new Set(all).size, all.length, 'each beat once');
});

test('a section is copied, pasted, repeated in another, and kept as a passage for another song', async () => {
  await choose(1);
  const before = await count();
  await page.getByLabel('Repeat it in').selectOption({ index: 4 });
  await until('repeated', async () => (await count()) === 2 * before);
  const own = await song();
  const target = sectionsOf(own)[3]!;
  const there = (await lanes()).flatMap(({ blocks }) => blocks).filter(({ at }) => at >= target.at - 0.01);
  assert.ok(
    there.length >= before,
    `${there.length} of ${before} in ${target.name} ${target.at}: ${JSON.stringify((await lanes()).map(({ blocks }) => blocks.map(({ at }) => at)))} ${JSON.stringify(sectionsOf(own).map(({ at }) => at))}`,
  );
  await page.getByLabel('Keep it as').fill('Round');
  await page.getByRole('button', { name: 'Keep', exact: true }).click();
  await until('a passage', async () => (await records()).some((r) => r.kind === 'passage' && r.name === 'Round'));
  await page.getByRole('button', { name: 'Light', exact: true }).click();
  await page
    .getByRole('navigation', { name: 'Songs' })
    .getByRole('button', { name: /Two Gears/ })
    .click();
  await page.getByRole('button', { name: 'Light', exact: true }).click();
  await tab('Stretch').first().click();
  await page.getByRole('button', { name: 'Put Round here' }).click();
  await until('in another song', async () => (await lanes('song:two-gears')).length === 3);
  const beats = gridOf(await song('song:two-gears')).beats;
  // In the beats of that song, which is slower.
  for (const { blocks } of await lanes('song:two-gears'))
    for (const { at } of blocks)
      assert.ok(
        beats.some((beat) => Math.abs(beat - at) < 0.01),
        String(at),
      );
  await undo().click();
  await page.getByRole('button', { name: 'Light', exact: true }).click();
  await page
    .getByRole('navigation', { name: 'Songs' })
    .getByRole('button', { name: /Night Ferry/ })
    .click();
  await page.getByRole('button', { name: 'Light', exact: true }).click();
});

test('marks are tapped, brought in as text with a line that is broken, moved and written as text', async () => {
  await tab('Marks').first().click();
  await page.getByRole('button', { name: 'Mark here' }).click();
  await until('a mark', async () => (await song()).marks.length === 1);
  const text = 'from\tto\tlabel\n12.5\t14\tBells ring\n9\t8\tBackwards\n0:20.25\t21\tDoors\n';
  await page
    .getByLabel('Bring in')
    .setInputFiles({ name: 'cues.txt', mimeType: 'text/plain', buffer: Buffer.from(text) });
  await until('two more', async () => (await song()).marks.length === 3);
  await page.getByText(/cues\.txt, line 3: it ends \(8 s\) before it begins/).waitFor();
  await page.getByRole('button', { name: 'Understood' }).click();
  assert.deepEqual(
    (await song()).marks.slice(1).map(({ at, to, label }) => [at, to, label]),
    [
      [12.5, 14, 'Bells ring'],
      [20.25, 21, 'Doors'],
    ],
  );
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Save as text' }).click(),
  ]);
  assert.match(readFileSync(await download.path(), 'utf8'), /^12\.5000\t14\.0000\tBells ring$/m);
  await page.getByRole('group', { name: 'Marks' }).getByRole('button', { name: 'Bells ring' }).click();
  await until('it is gone to', async () => (await page.getByLabel('Place in the song').textContent()) === '0:12.5');
});

test('a curve is drawn on a block, typed, taken from the sound and taken away', async () => {
  await tab('Put').first().click();
  await page.getByLabel('In the hand').selectOption('');
  await page.getByRole('button', { name: 'See all of it' }).click();
  await page.getByLabel('Lane for').selectOption({ label: 'the whole rig' });
  await page.getByLabel('In the hand').selectOption({ label: 'Amber' });
  const rig = page.locator('.body[data-lane]').first();
  const box = (await rig.boundingBox())!;
  await page.mouse.move(box.x + box.width * 0.2, box.y + 20);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width * 0.5, box.y + 21);
  await page.mouse.move(box.x + box.width * 0.7, box.y + 21);
  await page.mouse.up();
  const whole = async () => (await lanes()).find(({ on }) => on === null)?.blocks[0];
  await until('a long block', async () => (await whole()) !== undefined);
  await page.getByLabel('In the hand').selectOption('');
  await page.getByLabel('Curve of').selectOption('level');
  const curve = light().locator('svg.own');
  await curve.waitFor();
  const place = (await curve.boundingBox())!;
  await page.mouse.click(place.x + place.width * 0.3, place.y + place.height - 8);
  await page.mouse.click(place.x + place.width * 0.6, place.y + 8);
  await until('two points', async () => (await whole())?.curves.level?.length === 2);
  const [low, high] = (await whole())!.curves.level!;
  assert.ok(low!.value < 0.2 && high!.value > 0.8 && low!.at < high!.at, JSON.stringify([low, high]));
  const field = page.getByLabel('Value of point 1');
  await field.fill('0.5');
  await field.press('Enter');
  await until('typed', async () => (await whole())?.curves.level?.[0]?.value === 0.5);
  await field.fill('7');
  await field.press('Enter');
  await page.getByText(/^\W*0 to 1\.$/).waitFor();
  await page.getByLabel('Curve follows').selectOption('onset low');
  await page.getByRole('button', { name: 'Take from the sound' }).click();
  await until('as the sound', async () => ((await whole())?.curves.level?.length ?? 0) > 10);
  await undo().click();
  await until('as before', async () => (await whole())?.curves.level?.length === 2);
});

test('what is on the wire is what is rendered headless, at a moment of curves, at rest and at half speed', async () => {
  const [block] = (await lanes()).find(({ on }) => on === null)!.blocks;
  const at = block!.at + block!.length * 0.4;
  await stage.app.command({ do: 'auto', on: false, fadeMs: 0 });
  await stage.app.command({ do: 'song', songId: 'song:night-ferry', at, play: false });
  await stage.app.command({ do: 'songRate', rate: 0.5 });
  await stage.app.command({ do: 'songAt', at });
  const file = path.join(folder, 'rink.kite');
  writeFileSync(file, writeArchive((await records()).filter((r) => r.kind !== 'backdrop' && r.kind !== 'picture')));
  const { code, out, fault } = await kite('song', 'render', file, '--song', 'Night Ferry', '--at', String(at));
  assert.equal(code, 0, JSON.stringify(fault));
  const [frame] = (out as { frames: { universes: Record<string, number[]> }[] }).frames;
  const wash = (await records()).find((r) => r.kind === 'unit' && r.name === 'Wash north 1')!;
  assert.ok(wash.kind === 'unit' && wash.patch && 'universe' in wash.patch);
  const { universe, address } = wash.patch;
  const want = frame!.universes[universe]!.slice(address - 1, address + 6).join();
  await until(
    'the same bytes',
    async () => (await stage.app.slots(universe)).slice(address - 1, address + 6).join() === want,
  );
  await stage.app.command({ do: 'songOff' });
  const checked = await kite('song', 'check', file, '--song', 'Night Ferry');
  assert.equal((checked.out as { songs: unknown[] }).songs.length, 1);
});

test('another version is the same until something is changed; then the difference is shown', async () => {
  await tab('Out').first().click();
  await page.getByRole('button', { name: 'Another version' }).click();
  await until('a version', async () =>
    (await records()).some((r) => r.kind === 'song' && r.name === 'Night Ferry, another'),
  );
  await page.getByLabel('Compare with').selectOption({ label: 'Night Ferry, another' });
  await page.getByText('They are the same.').waitFor();
  const { id } = await stage.app.openShow();
  const lane = (await lanes()).find(({ blocks }) => blocks.length > 3)!;
  const edited = await stage.app.edit(id, { put: [{ ...lane, blocks: lane.blocks.slice(1) }] });
  assert.equal(edited.status, 200, JSON.stringify(edited.body));
  await page.getByText('1 difference', { exact: true }).waitFor();
  await page.getByRole('button', { name: 'Compare no more' }).click();
  await light().waitFor();
});

test('blocks of many lanes are chosen, copied, pasted, detached and removed by keys; all of it is undone', async () => {
  await tab('Put').first().click();
  await page.getByLabel('Curve of', { exact: true }).selectOption('');
  const before = JSON.stringify(await lanes());
  await light().locator('.block').first().focus();
  await page.keyboard.press('Control+a');
  await page.keyboard.press('Control+c');
  await page.keyboard.press('Control+v');
  await until('twice as many', async () => JSON.stringify(await lanes()) !== before);
  await page.keyboard.press('Delete');
  await until(
    'gone again',
    async () => (await count()) === (JSON.parse(before) as LaneRecord[]).reduce((n, l) => n + l.blocks.length, 0),
  );
  await undo().click();
  await undo().click();
  await until('as before', async () => JSON.stringify(await lanes()) === before);
});

test('time code over MIDI moves the song, which goes on for a while without it and then stands', async () => {
  await tab('Out').first().click();
  const field = page.getByLabel('Begins at (25 frames a second)');
  await field.fill('nonsense');
  await field.press('Enter');
  await page.getByText('Write hours:minutes:seconds:frames').waitFor();
  await field.fill('01:00:00:00');
  await field.press('Enter');
  await until('it follows', async () => (await song()).codeAt === 3600);
  // As text: what runs in the page must not be changed by what runs the tests.
  await page.addInitScript({
    content: `
      window.madeUpPort = { id: 'in', name: 'Made-up port', onmidimessage: null };
      const access = { inputs: new Map([['in', window.madeUpPort]]), onstatechange: null };
      Object.defineProperty(navigator, 'requestMIDIAccess', { value: () => Promise.resolve(access) });
    `,
  });
  await page.goto(`${stage.app.url}/music?view=live`);
  await page.getByRole('button', { name: 'Look for MIDI inputs' }).click();
  await page.getByRole('button', { name: 'Made-up port' }).click();
  await until('somebody listens', async () => (await stage.app.live()).code?.by === 'MIDI: Made-up port');
  // A sender: eight quarter frames for every second frame, from 1:00:20:00 on.
  await page.evaluate(`
    const began = performance.now();
    let sent = 0;
    window.codeTimer = setInterval(() => {
      for (; sent * 10 <= performance.now() - began; sent++) {
        const frame = 20 * 25 + Math.floor(sent / 8) * 2;
        const [f, s] = [frame % 25, Math.floor(frame / 25)];
        const nibbles = [f & 15, f >> 4, s & 15, s >> 4, 0, 0, 1, 2];
        const piece = sent % 8;
        window.madeUpPort.onmidimessage?.({ data: [0xf1, (piece << 4) | nibbles[piece]], timeStamp: began + sent * 10 });
      }
    }, 5);
    0;
  `);
  const on = await until('it plays where the code is', async () => {
    const live = await stage.app.live();
    return live.song?.playing && live.song.songId === 'song:night-ferry' && live.song;
  });
  assert.ok(on.at > 19 && on.at < 40, String(on.at));
  await page.evaluate('clearInterval(window.codeTimer)');
  await until('it stands', async () => (await stage.app.live()).song?.playing === false);
  await page.getByRole('button', { name: 'No code' }).click();
  await until('nobody listens', async () => (await stage.app.live()).code === null);
});

test('a song and a list are pads: pressed they play, pressed again they end', async () => {
  await stage.app.command({ do: 'songOff' });
  await page.goto(`${stage.app.url}/show`);
  const pad = page.getByRole('button', { name: /Two Gears/ }).first();
  await pad.click();
  await until('it plays', async () => (await stage.app.live()).song?.songId === 'song:two-gears');
  await pad.click();
  await until('it ended', async () => (await stage.app.live()).song === null);
});

test('nothing went wrong inside the pages', () => {
  assert.deepEqual(stage.errors, []);
});
