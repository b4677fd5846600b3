import { applyChange, documentOf, recordsOf, type Document } from '../src/core/document/change.ts';
import { changeFaults } from '../src/core/rules/faults.ts';
import { parseCsv } from '../src/core/format/csv.ts';
import { makeId } from '../src/core/ids.ts';
import { patchFaults } from '../src/core/patch/faults.ts';
import { layoutOf } from '../src/core/patch/of-document.ts';
import { packUnits } from '../src/core/patch/pack.ts';
import { builtInProfiles } from '../src/core/profile/library.ts';
import { seeded } from '../src/core/random.ts';
import { make, type AnyRecord, type UnitRecord } from '../src/core/records/index.ts';
import { findHeadings } from '../src/core/sheet/match.ts';
import { planImport } from '../src/core/sheet/plan.ts';
import { ProfileFinder } from '../src/core/sheet/profiles.ts';
import type { Page } from 'playwright-core';
import { Stage } from '../tests/support/browser.ts';
import { quantileOf, report, timed } from './measure.ts';

/** The patch at its largest: clashes of 20,000 units, a paste of 2,000 rows, renumbering 2,000, a sheet of 5,000 rows. */
const PROFILES = builtInProfiles();
const used = ['quillon-stave16', 'generic-dimmer', 'fernlight-brambleq'].map((slug) => {
  const found = PROFILES.find((p) => p.id === `profile:${slug}`);
  if (!found) throw new Error(`the library has no ${slug} any more`);
  return found;
});
const show = make('show', { id: 'show:bench', name: 'Bench' });

function units(count: number): UnitRecord[] {
  let universe = 1;
  let address = 1;
  return Array.from({ length: count }, (_, i) => {
    // Half are bars of 16 cells, so that 20,000 units have some 170,000 cells.
    const [profile, mode, size] = i % 2 === 0 ? [used[0]!, '50ch', 50] : [used[1]!, '1ch', 1];
    if (address + size - 1 > 512) [universe, address] = [universe + 1, 1];
    const patch = { universe, address };
    address += size;
    return make('unit', { id: `unit:u${i}`, number: i + 1, name: `Unit ${i + 1}`, profileId: profile.id, mode, patch });
  });
}

const large = units(20_000);
const output = make('output', { id: 'output:o', name: 'Output', protocol: 'sacn', destinations: ['127.0.0.9'] });
const universes = large.at(-1)!.patch!.universe;
const routes = Array.from({ length: universes }, (_, i) =>
  make('route', { id: `route:r${i}`, universe: i + 1, outputId: output.id, wireUniverse: i + 1 }),
);
let document: Document = documentOf([show, ...used, ...large, output, ...routes]);
const cells = large.reduce(
  (n, u) =>
    n +
    Math.max(
      1,
      layoutOf(
        used.find((p) => p.id === u.profileId),
        u.mode,
      ).cells,
    ),
  0,
);
report('patch: cells of the 20,000 units', cells, 'cells');
const cold = performance.now();
patchFaults(document);
report('patch: all faults of 20,000 units, the first time', performance.now() - cold, 'ms');
const editTimes: number[] = [];
const clashTimes: number[] = [];
for (let round = 0; round < 80; round++) {
  const unit = large[round * 37]!;
  const put = [{ ...unit, patch: { ...unit.patch!, address: ((unit.patch!.address % 400) + 1) as never } }];
  const start = performance.now();
  const edited = applyChange(document, { put, remove: [] });
  const applied = performance.now();
  patchFaults(edited);
  const end = performance.now();
  editTimes.push(applied - start);
  clashTimes.push(end - applied);
  document = edited;
}
report('patch: an edit laid over 20,000 units, median', quantileOf(editTimes, 0.5), 'ms');
report('patch: all faults of 20,000 units anew after an edit, median', quantileOf(clashTimes, 0.5), 'ms');
report('patch: all faults of 20,000 units anew after an edit, p95', quantileOf(clashTimes, 0.95), 'ms');

const table = ['No.\tName\tProfile\tMode\tAddress\tArea\tLine\tGroups']
  .concat(
    units(2000).map(
      (u, i) =>
        `${u.number}\t${u.name}\t${i % 2 === 0 ? 'Quillon Stave 16\t50ch' : 'Generic Dimmer\t'}\t${u.patch!.universe}.${u.patch!.address}\tArea ${i % 12}\tLine ${i % 40}\tGroup ${i % 9}`,
    ),
  )
  .join('\n');
const empty = documentOf([show]);
const finder = new ProfileFinder(PROFILES);
const pasteTimes = timed(9, () => {
  const { grid } = parseCsv(table, '\t');
  const { row, titles, mapping } = findHeadings(grid!);
  const random = seeded(1);
  const newId = (kind: Parameters<typeof makeId>[0]) => makeId(kind, random);
  const plan = planImport(empty, grid!, {
    mapping,
    titles,
    headingRow: row,
    finder,
    newId: newId as never,
    by: '',
    now: 0,
  });
  if (plan.counts.add !== 2000 || changeFaults(empty, plan.change).length > 0)
    throw new Error('the paste is not whole');
});
report('patch: paste of 2,000 rows, read, planned and checked, median', quantileOf(pasteTimes, 0.5), 'ms');

const middle = documentOf([show, ...used, ...units(2000)]);
const ids = recordsOf(middle, 'unit').map((u) => u.id);
const packTimes = timed(15, (round) => {
  const packing = packUnits(middle, ids, { order: 'plot', start: { universe: 50 + round, address: 3 }, gap: 1 });
  if (packing.moves.length !== 2000) throw new Error('not all were moved');
});
report('patch: re-address 2,000 units as one step, planned, median', quantileOf(packTimes, 0.5), 'ms');

await inTheBrowser();

/** The real sheet with 5,000 rows: frames while it is scrolled and typed into. */
async function inTheBrowser(): Promise<void> {
  const stage = await Stage.start({ env: { AMBER_DEMO: '0' } });
  try {
    const { body } = await stage.app.call<{ id: string }>('POST', '/api/shows', { name: 'Bench' });
    await stage.app.call('POST', `/api/shows/${body.id}/open`);
    const put: AnyRecord[] = [...used, ...units(5000)];
    const start = performance.now();
    await stage.app.edit(body.id, { put: put as never });
    report('patch: 5,000 units in one edit through the server', performance.now() - start, 'ms');
    const page = await stage.open('/patch');
    await page.getByText('5000 of 5000').waitFor();
    for (const [words, step] of [
      ['at 3 rows a frame', 96],
      ['at 12 rows a frame', 400],
    ] as const) {
      const { gaps, tasks } = await scrolled(page, '[aria-label="Patch sheet"] .body', step);
      report(`patch: frame while scrolling 5,000 rows ${words}, p95`, quantileOf(gaps, 0.95), 'ms');
      report(`patch: longest frame while scrolling 5,000 rows ${words}`, Math.max(...gaps), 'ms');
      report(`patch: tasks beyond 50 ms in 240 frames ${words}`, tasks.length, 'tasks');
    }
    // The same browser and machine with a list that does nothing: what a frame costs here at the least.
    const bare = await stage.open('/patch/print');
    await bare.evaluate(() => {
      globalThis.document.body.innerHTML = `<div class="bare" style="height:600px;width:900px;overflow:auto">${Array.from({ length: 5000 }, (_, i) => `<p style="margin:8px">Unit ${i} of a plain list</p>`).join('')}</div>`;
    });
    const plain = await scrolled(bare, '.bare', 400);
    report('patch: frame while scrolling a plain list the same way, p95', quantileOf(plain.gaps, 0.95), 'ms');
    report('patch: longest frame while scrolling a plain list the same way', Math.max(...plain.gaps), 'ms');
    await bare.close();
    await page.locator('[aria-label="Patch sheet"] .body').evaluate((e) => e.scrollTo(0, 0));
    await page.evaluate(() => {
      const tasks: number[] = [];
      Object.assign(globalThis, { benchTasks: tasks });
      new PerformanceObserver((list) => tasks.push(...list.getEntries().map((e) => e.duration))).observe({
        type: 'longtask',
      });
    });
    await page.getByRole('gridcell', { name: 'Unit 3', exact: true }).click();
    const keys: number[] = [];
    for (let i = 0; i < 10; i++) {
      await page.keyboard.press('Enter');
      for (const letter of ` ${i}`) {
        const before = performance.now();
        await page.keyboard.press(letter === ' ' ? 'x' : letter);
        keys.push(performance.now() - before);
      }
      await page.keyboard.press('Enter');
      await page.waitForTimeout(150);
    }
    const typing = (await page.evaluate(
      () => (globalThis as unknown as { benchTasks: number[] }).benchTasks,
    )) as number[];
    report('patch: a keystroke in a cell of 5,000 rows, p95 (with the browser driver)', quantileOf(keys, 0.95), 'ms');
    report('patch: tasks beyond 50 ms in 10 edits of 5,000 rows', typing.length, 'tasks');
    report('patch: longest task in 10 edits of 5,000 rows', Math.max(0, ...typing), 'ms');
  } finally {
    await stage.end();
  }
}

/** Scrolls an element there and half the way back, a step each frame; how long each frame took, and long tasks. */
function scrolled(page: Page, selector: string, step: number): Promise<{ gaps: number[]; tasks: number[] }> {
  return page.evaluate(
    async ({ selector, step }) => {
      const gaps: number[] = [];
      const tasks: number[] = [];
      const observer = new PerformanceObserver((list) => tasks.push(...list.getEntries().map((e) => e.duration)));
      observer.observe({ type: 'longtask' });
      const body = globalThis.document.querySelector(selector)!;
      body.scrollTo(0, 0);
      let last = performance.now();
      for (let i = 0; i < 240; i++) {
        body.scrollBy(0, i < 160 ? step : -step);
        await new Promise(requestAnimationFrame);
        gaps.push(performance.now() - last);
        last = performance.now();
      }
      observer.disconnect();
      return { gaps: gaps.slice(5), tasks };
    },
    { selector, step },
  );
}
