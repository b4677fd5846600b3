import assert from 'node:assert/strict';
import { after, before, describe, test } from 'node:test';
import type { Page } from 'playwright-core';
import { until } from '../support/app.ts';
import { Stage } from '../support/browser.ts';

let stage: Stage;
let page: Page;
before(async () => {
  stage = await Stage.start();
  page = await stage.open('/kit');
});
after(() => stage?.end());

const units = async () => {
  const { records } = await stage.app.openShow();
  return records.flatMap((r) => (r.kind === 'unit' ? [r] : []));
};
const unit = async (name: string) => (await units()).find((u) => u.name === name);
const place = async (name: string): Promise<string | null> => {
  const found = await unit(name);
  return found?.patch ? `${found.patch.universe}.${found.patch.address}` : null;
};
const row = (on: Page, name: string) =>
  on.getByRole('row').filter({ has: on.getByRole('gridcell', { name, exact: true }) });

describe('from the box to the patch', () => {
  test('a profile is found by maker, kind and channels, and its modes are compared', async () => {
    await page.getByLabel('Search the kit').fill('7 ch plumlet rgb');
    const found = page.getByRole('grid', { name: 'Profiles' }).getByRole('row');
    await until('one profile', async () => (await found.count()) === 1);
    assert.match((await found.first().textContent()) ?? '', /Plumlet RGB/);
    await found.first().click();
    await page.getByRole('radio', { name: /7 channel/ }).click();
    const channels = page.locator('section,div').filter({ hasText: /Strobe slow to fast/ });
    await channels.first().waitFor();
  });

  test('units are added, numbered and named, at the next free addresses', async () => {
    const before = (await units()).length;
    await page.getByRole('textbox', { name: 'Units' }).fill('3');
    await page.getByLabel('Name', { exact: true }).fill('Test par #');
    await page.getByRole('button', { name: 'Add 3 units' }).click();
    await until('three more', async () => (await units()).length === before + 3);
    assert.deepEqual(
      [await place('Test par 1'), await place('Test par 2'), await place('Test par 3')],
      ['1.145', '1.152', '1.184'],
    );
    assert.deepEqual([(await unit('Test par 1'))!.number, (await unit('Test par 3'))!.number], [30, 32]);
  });

  test('nonsense is refused where it is typed', async () => {
    await page.getByRole('textbox', { name: 'Units' }).fill('many');
    await page.getByRole('alert').filter({ hasText: '1 to 500' }).waitFor();
    await page.getByRole('textbox', { name: 'Units' }).fill('1');
    await page.getByLabel('First address').fill('1.600');
    await page.getByRole('alert').filter({ hasText: 'address 600 does not exist' }).waitFor();
    await page.getByLabel('First address').fill('');
  });

  test('an overlap is marked as it happens, on both, and in the mast; and it is mended', async () => {
    await page.getByRole('navigation', { name: 'Steps' }).getByRole('link', { name: /Patch/ }).click();
    await page.getByLabel('Filter units').fill('Test par');
    const cell = row(page, 'Test par 3').getByRole('gridcell').nth(4);
    await cell.dblclick();
    await page.keyboard.press('Control+a');
    await page.keyboard.type('1.147');
    await page.keyboard.press('Enter');
    await until('the overlap', async () => (await place('Test par 3')) === '1.147');
    await row(page, 'Test par 3').getByText('shares 5 slots (1.147-151) with 30 Test par 1').waitFor();
    await row(page, 'Test par 1').getByText('shares 5 slots (1.147-151) with 32 Test par 3').waitFor();
    const mast = page.getByRole('navigation', { name: 'Steps' }).getByRole('link', { name: /Patch/ });
    assert.match((await mast.textContent()) ?? '', /3/);
    await row(page, 'Test par 3').getByRole('gridcell').nth(4).dblclick();
    await page.keyboard.press('Control+a');
    await page.keyboard.type('3/300');
    await page.keyboard.press('Enter');
    await until('the new address', async () => (await place('Test par 3')) === '3.300');
    await until('no mark left', async () => !/\d/.test((await mast.textContent()) ?? ''));
  });

  test('an address that is none stays in the cell with the reason, and Escape leaves the old one', async () => {
    await row(page, 'Test par 3').getByRole('gridcell').nth(4).dblclick();
    await page.keyboard.press('Control+a');
    await page.keyboard.type('9.999');
    await page.keyboard.press('Enter');
    await page.getByText('address 999 does not exist').waitFor();
    await page.keyboard.press('Escape');
    await until('nothing to see of it', async () => (await page.getByText('address 999 does not exist').count()) === 0);
    assert.equal(await place('Test par 3'), '3.300');
  });

  test('undo with the keyboard, redo with the button, and both survive a reload', async () => {
    await page.keyboard.press('Control+z');
    await until('one step back', async () => (await place('Test par 3')) === '1.147');
    await page.reload();
    const undo = page.getByRole('button', { name: 'Undo' });
    await until('the history to be there', () => undo.isEnabled());
    await undo.click();
    await until('two steps back', async () => (await place('Test par 3')) === '1.184');
    await page.getByRole('button', { name: 'Redo' }).click();
    await until('one step forward', async () => (await place('Test par 3')) === '1.147');
    await undo.click();
    await until('back again', async () => (await place('Test par 3')) === '1.184');
  });

  test('a second browser sees every edit, and its own edits arrive here', async () => {
    const second = await stage.open('/patch');
    await second.getByLabel('Filter units').fill('Test par');
    await row(second, 'Test par 1').waitFor();
    await page.getByLabel('Filter units').fill('Test par');
    await row(page, 'Test par 1').getByRole('gridcell').nth(1).dblclick();
    await page.keyboard.press('Control+a');
    await page.keyboard.type('Test par renamed');
    await page.keyboard.press('Enter');
    await row(second, 'Test par renamed').waitFor();
    // What others did is theirs to undo.
    assert.equal(await second.getByRole('button', { name: 'Undo' }).isDisabled(), true);
    await page.getByRole('button', { name: 'Undo' }).click();
    await row(second, 'Test par 1').waitFor();
    await row(page, 'Test par 1').waitFor();
  });

  test('units are removed with every mention of them, and come back', async () => {
    const before = (await units()).length;
    await page.getByLabel('Filter units').fill('Hazer');
    await row(page, 'Hazer').getByRole('gridcell').nth(1).click();
    await page.getByRole('button', { name: 'Remove unit' }).click();
    await until('one fewer', async () => (await units()).length === before - 1);
    await page.keyboard.press('Control+z');
    await until('all back', async () => (await units()).length === before);
    const { records } = await stage.app.openShow();
    assert.ok(records.some((r) => r.kind === 'scene' && Object.keys(r.values).includes('unit:hazer')));
  });
});

describe('on the plot', () => {
  interface Place {
    readonly x: number;
    readonly y: number;
  }
  const plan = () => page.getByRole('application');
  const places = async (): Promise<Map<string, Place>> => {
    const found = JSON.parse((await plan().getAttribute('data-places')) ?? '{}') as Record<string, Place>;
    return new Map(Object.entries(found));
  };
  const spot = async (id: string): Promise<{ x: number; y: number }> => {
    const box = (await plan().boundingBox())!;
    const at = (await places()).get(id)!;
    return { x: box.x + at.x, y: box.y + at.y };
  };
  const position = async (name: string) => (await unit(name))!.position;
  const drag = async (from: { x: number; y: number }, to: { x: number; y: number }): Promise<void> => {
    await page.mouse.move(from.x, from.y);
    await page.mouse.down();
    await page.mouse.move((from.x + to.x) / 2, (from.y + to.y) / 2, { steps: 4 });
    await page.mouse.move(to.x, to.y, { steps: 4 });
    await page.mouse.up();
  };

  test('a unit is dragged, and only that one', async () => {
    await page.getByRole('navigation', { name: 'Steps' }).getByRole('link', { name: /Plot/ }).click();
    await until('the plan', async () => (await places()).size > 20);
    const [before, other] = [await position('Skate-hire sign'), await position('Snack counter')];
    const from = await spot('unit:hire');
    await drag(from, { x: from.x + 60, y: from.y - 40 });
    const now = await until('the move', async () => {
      const p = await position('Skate-hire sign');
      return p.x !== before.x ? p : null;
    });
    assert.ok(now.x > before.x && now.y > before.y && now.z === before.z);
    assert.ok(Math.abs(now.x * 10 - Math.round(now.x * 10)) < 1e-6, 'snapped to tenths of a metre');
    assert.deepEqual(await position('Snack counter'), other);
    await page.keyboard.press('Control+z');
    await until('back', async () => (await position('Skate-hire sign')).x === before.x);
  });

  test('several are taken with a frame and nudged with the arrow keys as one step', async () => {
    const marks = await Promise.all(['unit:bar1', 'unit:bar4'].map(spot));
    await drag({ x: marks[0]!.x - 30, y: marks[0]!.y - 16 }, { x: marks[1]!.x + 30, y: marks[1]!.y + 16 });
    await page.getByText('4 units', { exact: false }).first().waitFor();
    const before = await position('Counter bar 1');
    for (let i = 0; i < 3; i++) await page.keyboard.press('ArrowRight');
    await until('all three nudges', async () => Math.abs((await position('Counter bar 1')).x - before.x - 0.3) < 1e-6);
    await page.keyboard.press('Escape');
  });

  test('numbers in Details move it exactly', async () => {
    const at = await spot('unit:hire');
    await page.mouse.click(at.x, at.y);
    const x = page.getByLabel('X, stage left');
    await x.fill('-3,25');
    await x.press('Enter');
    await until('the new place', async () => (await position('Skate-hire sign')).x === -3.25);
  });
});

test('nothing went wrong inside the pages', () => assert.deepEqual(stage.errors, []));
