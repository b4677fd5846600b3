import type { Locator, Page } from 'playwright-core';
import { documentOf } from '../../src/core/document/change.ts';
import { patchOf, placeOf } from '../../src/core/patch/of-document.ts';
import { drawn, type Stage } from './browser.ts';

/** What a person does in the patch sheet and reads off it, and what the show says of it. */
export function patchHands(stage: () => Stage, page: () => Page) {
  const records = async () => (await stage().app.openShow()).records;
  const unitNamed = async (name: string) =>
    (await records()).flatMap((r) => (r.kind === 'unit' && r.name === name ? [r] : []))[0];
  /** Where a unit is patched, wherever that comes from. */
  async function place(name: string): Promise<string | null> {
    const all = await records();
    const unit = all.find((r) => r.kind === 'unit' && r.name === name);
    const found = unit && placeOf(patchOf(documentOf(all)).get(unit.id as `unit:${string}`));
    return found ? `${found.universe}.${found.address}` : null;
  }
  const sheet = (on = page()): Locator => on.getByRole('grid', { name: 'Patch sheet' });
  const cellOf = (name: string, column: string, on = page()): Locator =>
    on.locator(`[role=row]:has([role=gridcell][id$="-name"]:text-is("${name}")) [role=gridcell][id$="-${column}"]`);
  /** Brings the row of a unit into view: rows far away are not in the page. */
  async function reveal(name: string): Promise<void> {
    const body = sheet().locator('.body');
    for (const top of [0, 250, 500, 750]) {
      await body.evaluate((e, y) => e.scrollTo(0, y), top);
      await drawn(page());
      if ((await cellOf(name, 'name').count()) > 0) return;
    }
    throw new Error(`${name} is not in the sheet`);
  }
  async function write(cell: Locator, text: string, last = 'Enter'): Promise<void> {
    await cell.dblclick();
    await page().keyboard.press('Control+a');
    await page().keyboard.type(text);
    await page().keyboard.press(last);
  }
  async function readdress(name: string, text: string): Promise<void> {
    await reveal(name);
    await write(cellOf(name, 'patch'), text);
  }
  const undo = (): Promise<void> => page().getByRole('button', { name: /^Undo/ }).click();
  return { records, unitNamed, place, sheet, cellOf, reveal, readdress, undo };
}
