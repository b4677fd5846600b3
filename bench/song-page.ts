import type { Page } from 'playwright-core';
import { writeArchive } from '../src/core/format/archive.ts';
import { millpondFiles } from '../src/db/seed/millpond.ts';
import { until } from '../tests/support/app.ts';
import { Stage } from '../tests/support/browser.ts';
import { quantileOf, report } from './measure.ts';
import { songShow } from './song-shows.ts';

/** The timeline in a browser: opening it, seeing closer and farther, scrolling, dragging a hundred blocks, an edit. */
const FILES = new Map(millpondFiles().map(({ hash, bytes }) => [hash, bytes]));
/** Watches the page: times between its frames, and how long its own work in each was. */
const WATCH = `
  globalThis.watched = [];
  globalThis.worked = [];
  let last = performance.now();
  const step = (now) => {
    globalThis.watched.push(now - last);
    last = now;
    const channel = new MessageChannel();
    const begun = performance.now();
    channel.port1.onmessage = () => globalThis.worked.push(performance.now() - begun);
    channel.port2.postMessage(0);
    requestAnimationFrame(step);
  };
  requestAnimationFrame(step);`;
const reset = (page: Page): Promise<unknown> => page.evaluate('globalThis.watched = []; globalThis.worked = [];');
async function tell(page: Page, name: string): Promise<void> {
  const [times, worked] = (await page.evaluate('[globalThis.watched, globalThis.worked]')) as [number[], number[]];
  report(`${name}: frame time p50`, quantileOf(times, 0.5), 'ms');
  report(`${name}: frame time p95`, quantileOf(times, 0.95), 'ms');
  report(`${name}: work in a frame p50`, quantileOf(worked, 0.5), 'ms');
}

export async function inBrowser(count: number): Promise<void> {
  const stage = await Stage.start();
  try {
    const { app } = stage;
    const records = [...songShow(count).values()];
    const { body } = await app.call<{ id: string }>('POST', '/api/shows/import', writeArchive(records, FILES));
    await app.call('POST', `/api/shows/${body.id}/open`);
    await until('the engine to have it', async () => ((await app.health()).engine?.universes ?? 0) > 60, 60);
    const name = `${count} blocks in a browser`;
    const start = performance.now();
    const page = await stage.open('/music');
    await page.getByRole('navigation', { name: 'Songs' }).getByRole('button', { name: /Bench/ }).click();
    report(`${name}: from an empty browser to the song`, performance.now() - start, 'ms');
    const opened = performance.now();
    await page.getByRole('button', { name: 'Light', exact: true }).click();
    await page.locator('.block').first().waitFor();
    report(`${name}: from a press to its lanes`, performance.now() - opened, 'ms');
    await page.waitForTimeout(2500);
    await page.evaluate(WATCH);
    const body0 = (await page.locator('.body[data-lane]').first().boundingBox())!;
    await page.mouse.move(body0.x + body0.width / 2, body0.y + 20);
    await reset(page);
    await page.keyboard.down('Control');
    for (let i = 0; i < 60; i++) await page.mouse.wheel(0, i < 30 ? 60 : -60);
    await page.keyboard.up('Control');
    await tell(page, `${name}, seen closer and farther`);
    await page.getByRole('button', { name: 'See all of it' }).click();
    await page.waitForTimeout(1500);
    await reset(page);
    for (let i = 0; i < 60; i++) await page.mouse.wheel(0, i < 30 ? 120 : -120);
    await tell(page, `${name}, whole, scrolled over its lanes`);
    await reset(page);
    await page.keyboard.down('Shift');
    for (let i = 0; i < 60; i++) await page.mouse.wheel(0, i < 30 ? 40 : -40);
    await page.keyboard.up('Shift');
    await tell(page, `${name}, moved along the song`);
    // A hundred blocks: all of some lanes in sight.
    await page.getByRole('button', { name: 'See closer' }).click();
    await page.getByRole('button', { name: 'See closer' }).click();
    await page.waitForTimeout(1000);
    const wave = (await page.locator('.close canvas').boundingBox())!;
    const part = 2000 / count / 5;
    await page.mouse.move(wave.x + wave.width * 0.3, wave.y + 20);
    await page.mouse.down();
    await page.mouse.move(wave.x + wave.width * (0.3 + part / 2), wave.y + 20);
    await page.mouse.move(wave.x + wave.width * (0.3 + part), wave.y + 20);
    await page.mouse.up();
    await page.getByRole('tab', { name: 'Stretch' }).click();
    await page.getByRole('button', { name: 'Choose', exact: true }).click();
    await page.getByRole('tab', { name: 'Put' }).click();
    const chosen = await page
      .getByRole('region', { name: 'Blocks that are chosen' })
      .getByRole('heading')
      .textContent();
    report(`${name}: chosen and dragged`, Number(/^\d+/.exec(chosen ?? '')?.[0] ?? 1), 'blocks');
    const block = (await page.locator('.block.chosen').first().boundingBox())!;
    await reset(page);
    await page.mouse.move(block.x + block.width / 2, block.y + 8);
    await page.mouse.down();
    for (let i = 0; i < 40; i++) await page.mouse.move(block.x + block.width / 2 + i * 2, block.y + 8);
    await page.mouse.up();
    await tell(page, `${name}, these dragged`);
  } finally {
    await stage.end();
  }
}
