import type { Page } from 'playwright-core';
import { applyChange, getRecord, type Document } from '../src/core/document/change.ts';
import { millpondFiles } from '../src/db/seed/millpond.ts';
import { writeArchive } from '../src/core/format/archive.ts';
import { compileRig } from '../src/core/show/index.ts';
import { until } from '../tests/support/app.ts';
import { Stage } from '../tests/support/browser.ts';
import { quantileOf, report } from './measure.ts';
import { bodiesShow, matrixShow, walkShow } from './plot-shows.ts';

/** Files that the lantern walk names. */
const FILES = new Map(millpondFiles().map(({ hash, bytes }) => [hash, bytes]));

/**
 * The plot: compiling after one prop changed, opening, frame times of the page while thousands of cells change colour
 * and while many units are dragged. A frame time is from one animation frame of the browser to the next.
 */
const SECONDS = 6;

function compiling(name: string, document: Document, unitId: string): void {
  const cold = performance.now();
  compileRig(document);
  report(`${name}: compile from nothing`, performance.now() - cold, 'ms');
  const times: number[] = [];
  let now = document;
  for (let i = 0; i < 40; i++) {
    const unit = getRecord(now, 'unit', unitId)!;
    now = applyChange(now, { put: [{ ...unit, prop: { ...unit.prop!, gamma: 1 + (i % 20) / 10 } }], remove: [] });
    const start = performance.now();
    compileRig(now);
    times.push(performance.now() - start);
  }
  report(`${name}: compile after one prop changed, median`, quantileOf(times, 0.5), 'ms');
}

async function open(stage: Stage, document: Document): Promise<void> {
  const { app } = stage;
  const { body } = await app.call<{ id: string }>(
    'POST',
    '/api/shows/import',
    writeArchive([...document.values()], FILES),
  );
  await app.call('POST', `/api/shows/${body.id}/open`);
  const wanted = compileRig(document).arrays.universes.length;
  await until('the engine to have it', async () => (await app.health()).engine?.universes === wanted, 60);
  await app.command({ do: 'play', target: 'chase:bench' });
}

/** Counts how often the plain painter puts its pixels, from now on. */
const COUNT_PAINTS = `
  globalThis.paints = 0;
  const put = CanvasRenderingContext2D.prototype.putImageData;
  CanvasRenderingContext2D.prototype.putImageData = function (...args) {
    globalThis.paints++;
    return put.apply(this, args);
  };`;

/** Times between animation frames of the page over some seconds, ms. */
const frameTimes = (page: Page, seconds: number): Promise<number[]> =>
  page.evaluate(
    (ms) =>
      new Promise<number[]>((resolve) => {
        const times: number[] = [];
        let last = performance.now();
        const end = last + ms;
        const step = (now: number): void => {
          times.push(now - last);
          last = now;
          if (now < end) requestAnimationFrame(step);
          else resolve(times.slice(1));
        };
        requestAnimationFrame(step);
      }),
    seconds * 1000,
  );

const tell = (name: string, times: readonly number[]): void => {
  report(`${name}: frame time p50`, quantileOf(times, 0.5), 'ms');
  report(`${name}: frame time p95`, quantileOf(times, 0.95), 'ms');
};

const shown = (page: Page): Promise<unknown> =>
  until('the plot', async () => (await page.getByRole('application').getAttribute('data-view')) !== 'null', 60);

async function opened(stage: Stage, name: string, side: string): Promise<Page> {
  const page = await stage.open('/plot');
  // The loader names functions; the page has no such helper.
  await page.evaluate('globalThis.__name = (f) => f');
  await shown(page);
  // From when the page was asked for: the browser itself is there, and has nothing of ours yet.
  report(`${name}: from an empty browser to the plot`, Number(await page.evaluate('performance.now()')), 'ms');
  await page.getByRole('tab', { name: side }).click();
  await page.waitForTimeout(1500);
  return page;
}

async function colours(stage: Stage, name: string, document: Document): Promise<void> {
  await open(stage, document);
  const page = await opened(stage, name, 'Front');
  await page.evaluate(COUNT_PAINTS);
  tell(`${name}, every cell changes colour`, await frameTimes(page, SECONDS));
  const paints = Number(await page.evaluate('globalThis.paints'));
  report(`${name}, every cell changes colour: light painted`, paints / SECONDS, 'times a second');
  await page.close();
}

async function dragging(stage: Stage): Promise<void> {
  await open(stage, bodiesShow(1000));
  const page = await opened(stage, '1,000 units', 'Plan');
  const box = (await page.getByRole('application').boundingBox())!;
  const middle = { x: box.x + box.width / 2, y: box.y + box.height / 2 };
  const half = box.height * 0.2;
  await page.getByRole('button', { name: 'Loop' }).click();
  const [w, h] = [half * 1.2, half];
  await page.mouse.move(middle.x - w, middle.y - h);
  await page.mouse.down();
  for (const [x, y] of [
    [w, -h],
    [w, h],
    [-w, h],
    [-w, -h],
  ] as const)
    await page.mouse.move(middle.x + x, middle.y + y, { steps: 3 });
  await page.mouse.up();
  await page.getByRole('button', { name: 'Select', exact: true }).click();
  const chosen = await page.locator('footer .count b').textContent();
  report('dragged of 1,000 units', Number(chosen), 'units');
  const view = JSON.parse((await page.getByRole('application').getAttribute('data-view'))!) as { scale: number };
  const drag = async (name: string): Promise<void> => {
    // Onto a unit near the middle: they stand on whole metres.
    await page.mouse.move(middle.x, middle.y);
    await page.mouse.down();
    const running = frameTimes(page, SECONDS);
    const end = performance.now() + SECONDS * 1000;
    for (let i = 0; performance.now() < end; i++)
      await page.mouse.move(middle.x + Math.sin(i / 9) * view.scale * 3, middle.y + Math.cos(i / 7) * view.scale * 3);
    tell(name, await running);
    await page.mouse.up();
    await page.keyboard.press('Control+z');
    await page.waitForTimeout(1000);
  };
  await drag('200-odd of 1,000 units dragged while all change colour');
  await stage.app.command({ do: 'releaseAll' });
  await page.waitForTimeout(2000);
  await drag('200-odd of 1,000 units dragged, light standing still');
  await page.close();
}

const walk = walkShow();
const field = matrixShow(100);
compiling('Millpond Lantern Walk', walk, 'unit:kite3');
compiling('50,000 pixels', field, 'unit:m50');
const stage = await Stage.start();
try {
  await colours(stage, 'Millpond Lantern Walk (9,000 pixels)', walk);
  await colours(stage, '50,000 pixels', field);
  await dragging(stage);
} finally {
  await stage.end();
}
