import assert from 'node:assert/strict';
import { after, before, test } from 'node:test';
import type { Page } from 'playwright-core';
import { until } from '../support/app.ts';
import { Stage } from '../support/browser.ts';

/** The light of a song, built by mouse and keyboard. */
let stage: Stage;
let page: Page;
before(async () => {
  stage = await Stage.start();
  page = await stage.open('/music');
  await page
    .getByRole('navigation', { name: 'Songs' })
    .getByRole('button', { name: /Night Ferry/ })
    .click();
  await page.getByRole('button', { name: 'Light', exact: true }).click();
});
after(() => stage?.end());

const lanes = async () =>
  (await stage.app.openShow()).records
    .flatMap((r) => (r.kind === 'lane' ? [r] : []))
    .sort((a, b) => a.number - b.number);
const blocks = async (n = 0) => (await lanes())[n]?.blocks ?? [];
const light = () => page.getByRole('region', { name: 'Light of the song' });
const body = (n = 0) => page.locator('.body[data-lane]').nth(n);
/** Drags over a lane from one part of its width to another; a press where both are the same. */
async function drag(n: number, from: number, to: number): Promise<void> {
  const box = (await body(n).boundingBox())!;
  const x = (part: number): number => box.x + box.width * part;
  await page.mouse.move(x(from), box.y + 20);
  await page.mouse.down();
  if (from !== to) {
    await page.mouse.move(x((from + to) / 2), box.y + 21);
    await page.mouse.move(x(to), box.y + 21);
  }
  await page.mouse.up();
}
/** The beats of the song, as they are known. */
async function beats(): Promise<readonly number[]> {
  const song = (await stage.app.openShow()).records.find((r) => r.kind === 'song' && r.name === 'Night Ferry')!;
  return song.kind === 'song' ? song.heard!.beats : [];
}
const onBeat = (list: readonly number[], at: number): boolean => list.some((beat) => Math.abs(beat - at) < 0.001);

test('a lane for a group; what is in the hand is painted from beat to beat, a press puts one beat', async () => {
  await page.getByText('No light of its own yet.').waitFor();
  await page.getByLabel('Lane for').selectOption({ label: 'All washes' });
  await body().waitFor();
  await page.getByLabel('In the hand').selectOption({ label: 'Amber' });
  await drag(0, 0.1, 0.3);
  await until('a block', async () => (await blocks()).length === 1);
  await drag(0, 0.5, 0.5);
  await until('another', async () => (await blocks()).length === 2);
  const list = await beats();
  const [drawn, pressed] = await blocks();
  for (const { at, length } of [drawn!, pressed!])
    assert.ok(onBeat(list, at) && onBeat(list, at + length), `${at}, ${length}`);
  assert.ok(drawn!.length > 3 * pressed!.length);
});

test('a block is drawn as the light it makes', async () => {
  const strip = body().locator('.block canvas').first();
  await until('amber', async () =>
    strip.evaluate((canvas) => {
      const { width, height } = canvas as HTMLCanvasElement;
      const [r, g, b] = (canvas as HTMLCanvasElement)
        .getContext('2d')!
        .getImageData(width >> 1, height >> 1, 1, 1).data;
      return r! > 200 && g! > 100 && b! < 120;
    }),
  );
});

test('moved by a drag and by keys, stretched at its edge, split, joined, repeated, removed; and all of it undone', async () => {
  await page.getByLabel('In the hand').selectOption('');
  const box = (await body().locator('.block').first().boundingBox())!;
  await page.mouse.click(box.x + box.width / 2, box.y + 8);
  const before = (await blocks())[0]!;
  const list = await beats();
  await page.keyboard.press('ArrowRight');
  const next = list[list.findIndex((beat) => Math.abs(beat - before.at) < 0.001) + 1]!;
  await until('a beat later', async () => Math.abs((await blocks())[0]!.at - next) < 0.01);
  await drag(0, 0.2, 0.25);
  await until('dragged', async () => (await blocks())[0]!.at > next + 0.1);
  assert.ok(onBeat(list, (await blocks())[0]!.at), 'it is drawn to a beat');
  // Its right edge.
  const now = (await body().locator('.block').first().boundingBox())!;
  await page.mouse.move(now.x + now.width - 3, now.y + 10);
  await page.mouse.down();
  await page.mouse.move(now.x + now.width + 60, now.y + 10);
  await page.mouse.up();
  await until('longer', async () => (await blocks())[0]!.length > before.length + 0.1);
  // Split where it stands.
  const long = (await blocks())[0]!;
  await stage.app.command({ do: 'song', songId: 'song:night-ferry', at: long.at + long.length / 2, play: false });
  await light().getByRole('button', { name: 'Split' }).click();
  await until('three', async () => (await blocks()).length === 3);
  const halves = (await blocks()).filter(({ at }) => at < long.at + long.length);
  assert.ok(Math.abs(halves.reduce((sum, b) => sum + b.length, 0) - long.length) < 0.001);
  await body()
    .locator('.block')
    .nth(0)
    .click({ position: { x: 10, y: 8 } });
  await page.keyboard.down('Shift');
  await body()
    .locator('.block')
    .nth(1)
    .click({ position: { x: 10, y: 8 } });
  await page.keyboard.up('Shift');
  await light().getByRole('button', { name: 'Join' }).click();
  await until('two again', async () => (await blocks()).length === 2);
  await body()
    .locator('.block')
    .first()
    .click({ position: { x: 10, y: 8 } });
  await light().getByRole('button', { name: 'Repeat' }).click();
  await until('repeated', async () => (await blocks()).length > 2);
  await page.keyboard.press('Delete');
  const count = (await blocks()).length;
  await until('one fewer', async () => (await blocks()).length === count || (await blocks()).length === count - 1);
  const undo = page.getByRole('button', { name: 'Undo', exact: true });
  for (let i = 0; i < 14 && (await lanes()).length > 0; i++) {
    const was = JSON.stringify(await lanes());
    await undo.click();
    await until('undone', async () => JSON.stringify(await lanes()) !== was);
  }
  assert.deepEqual(await lanes(), []);
});

test('the song plays its light over Auto and under what is played by hand; it shows in another browser', async () => {
  await page.getByLabel('Lane for').selectOption({ label: 'Wash north 1' });
  await page.getByLabel('In the hand').selectOption({ label: 'Blue' });
  await body().waitFor();
  await drag(0, 0.05, 0.95);
  await until('a block', async () => (await blocks()).length === 1);
  const other = await stage.open('/music');
  await other
    .getByRole('navigation', { name: 'Songs' })
    .getByRole('button', { name: /Night Ferry/ })
    .click();
  await other.getByRole('button', { name: 'Light', exact: true }).click();
  await other.locator('.block').first().waitFor();
  await other.close();
  const unit = (await stage.app.openShow()).records.find((r) => r.kind === 'unit' && r.name === 'Wash north 1')!;
  assert.ok(unit.kind === 'unit' && unit.patch && 'universe' in unit.patch);
  const { universe, address } = unit.patch;
  const own = async () => (await stage.app.slots(universe)).slice(address - 1, address + 7).join();
  // A song that stands shows its light too.
  const standing = await own();
  await stage.app.command({ do: 'songOff' });
  await until('at rest', async () => (await own()) !== standing);
  const dark = await own();
  await stage.app.command({ do: 'auto', on: true });
  const [block] = await blocks();
  await stage.app.command({ do: 'song', songId: 'song:night-ferry', at: block!.at + 0.2 });
  await until('it has begun', async () => {
    const { song } = await stage.app.live();
    return song?.playing && Date.now() > song.ms + 300;
  });
  const blue = await until('light', async () => {
    const now = await own();
    return now !== dark && now.split(',').some((v) => Number(v) > 200) && now;
  });
  await stage.app.command({ do: 'autoTake' });
  await until('it stays', async () => (await own()) === blue);
  await stage.app.command({ do: 'play', target: 'scene:doors', fadeInMs: 0 });
  await until('a scene by hand lies over it', async () => (await own()) !== blue);
  await stage.app.command({ do: 'releaseAll', fadeOutMs: 0 });
  await until('and it comes back', async () => (await own()) === blue);
  await stage.app.command({ do: 'songOff' });
  await stage.app.command({ do: 'auto', on: false, fadeMs: 0 });
});

test('nothing went wrong inside the pages', () => {
  assert.deepEqual(stage.errors, []);
});
