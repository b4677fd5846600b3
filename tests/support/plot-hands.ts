import type { Locator, Page } from 'playwright-core';
import { documentOf } from '../../src/core/document/change.ts';
import type { UnitId } from '../../src/core/ids.ts';
import { formatSpan } from '../../src/core/patch/address.ts';
import { patchOf } from '../../src/core/patch/of-document.ts';
import { until } from './app.ts';
import type { Stage } from './browser.ts';

export interface Spot {
  readonly x: number;
  readonly y: number;
}

/** What a person does on the plot with a mouse, and what the show says of it. */
export function plotHands(stage: () => Stage, page: () => Page) {
  const records = async () => (await stage().app.openShow()).records;
  const unit = async (name: string) =>
    (await records()).flatMap((r) => (r.kind === 'unit' && r.name === name ? [r] : []))[0];
  /** Every span of a unit: `18.1-258`, or several with a space between. */
  async function spansOf(name: string): Promise<string> {
    const all = await records();
    const found = all.find((r) => r.kind === 'unit' && r.name === name)!;
    const { spans } = patchOf(documentOf(all)).get(found.id as UnitId)!;
    return spans.map(formatSpan).join(' ');
  }
  const paper = (): Locator => page().getByRole('application');
  const box = async (): Promise<Spot & { width: number; height: number }> => (await paper().boundingBox())!;
  const view = async () =>
    JSON.parse((await paper().getAttribute('data-view')) ?? 'null') as { x: number; y: number; scale: number } | null;
  /** Where a place of the paper (metres) is on the screen. */
  async function at(x: number, y: number): Promise<Spot> {
    const [b, v] = [await box(), await until('the view', view)];
    return { x: b.x + b.width / 2 + (x - v.x) * v.scale, y: b.y + b.height / 2 - (y - v.y) * v.scale };
  }
  /** `free`: with Alt, so that nothing catches. */
  async function drag(from: Spot, to: Spot, free = false): Promise<void> {
    if (free) await page().keyboard.down('Alt');
    await page().mouse.move(from.x, from.y);
    await page().mouse.down();
    await page().mouse.move((from.x + to.x) / 2, (from.y + to.y) / 2, { steps: 3 });
    await page().mouse.move(to.x, to.y, { steps: 3 });
    await page().mouse.up();
    if (free) await page().keyboard.up('Alt');
  }
  async function press(spot: Spot): Promise<void> {
    await page().mouse.click(spot.x, spot.y);
  }
  const tab = (name: string): Promise<void> =>
    page().getByRole('tablist', { name: 'Details' }).getByRole('tab', { name }).click();
  const side = (name: string): Promise<void> =>
    page().getByRole('tablist', { name: 'Side' }).getByRole('tab', { name }).click();
  /** Chooses units in the list beside, the first alone, the others added. */
  async function choose(...names: string[]): Promise<void> {
    for (const [i, name] of names.entries())
      await page()
        .locator('.list')
        .getByRole('button', { name: new RegExp(`^\\d+ ${name}( |$)`) })
        .click(i === 0 ? {} : { modifiers: ['Control'] });
  }
  /** Types into a field and leaves it. */
  async function fill(label: string, text: string): Promise<void> {
    const field = page().getByLabel(label, { exact: true });
    await field.fill(text);
    await field.press('Enter');
  }
  const undo = (): Promise<void> => page().locator('[aria-label="Undo"]').click();
  return { records, unit, spansOf, paper, at, drag, press, tab, side, choose, fill, undo, view };
}

/** Opens the lantern walk, and the plot of it. */
export async function openWalk(stage: Stage): Promise<Page> {
  const { shows } = (await (await fetch(`${stage.app.url}/api/shows`)).json()) as {
    shows: { id: string; name: string }[];
  };
  const walk = shows.find((s) => s.name === 'Millpond Lantern Walk')!;
  await fetch(`${stage.app.url}/api/shows/${encodeURIComponent(walk.id)}/open`, { method: 'POST' });
  const page = await stage.open('/plot');
  await page.getByText('Millpond Lantern Walk').first().waitFor();
  // It plays when it comes; a test begins in the dark.
  await stage.app.rest();
  await until('the plot', async () => (await page.getByRole('application').getAttribute('data-view')) !== 'null');
  return page;
}
