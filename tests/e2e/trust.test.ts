import assert from 'node:assert/strict';
import { after, before, describe, test } from 'node:test';
import type { Page } from 'playwright-core';
import { until } from '../support/app.ts';
import { Stage } from '../support/browser.ts';
import { patchHands } from '../support/patch-hands.ts';
import { showHands } from '../support/show-hands.ts';

/** What people fear: that something is gone, that something else was changed, that another's work was undone. */
let stage: Stage;
let page: Page;
let other: Page;
before(async () => {
  stage = await Stage.start();
  page = await stage.open('/patch');
  other = await stage.open('/patch');
});
after(async () => {
  assert.deepEqual(stage?.errors ?? [], []);
  await stage?.end();
});
const { records, unitNamed, place, cellOf } = patchHands(
  () => stage,
  () => page,
);
const { record, library } = showHands(
  () => stage,
  () => page,
);
const units = async (): Promise<number> => (await records()).filter((r) => r.kind === 'unit').length;
const filter = (text: string): Promise<void> => page.getByLabel('Filter units').fill(text);
const note = (text: RegExp) => page.locator('[data-sonner-toast]').filter({ hasText: text });

describe('what the sheet does not show is left alone', () => {
  test('all that is selected with a filter is what it shows', async () => {
    await page.goto(`${stage.app.url}/patch`);
    const before = await units();
    await filter('wash north');
    await cellOf('Wash north 1', 'name').click();
    await page.keyboard.press('Control+a');
    await page.getByText('Remove 4 units').waitFor();
    // Delete is about cells, as in any sheet.
    await page.keyboard.press('Delete');
    await note(/Name cannot be empty/).waitFor();
    assert.equal(await units(), before);
    await page.getByRole('button', { name: 'Remove 4 units' }).click();
    await note(/Removed 4 units/).waitFor();
    await until('four are gone', async () => (await units()) === before - 4);
    await note(/Removed 4 units/)
      .getByRole('button', { name: 'Undo' })
      .click();
    await until('they are back', async () => (await units()) === before);
  });
  test('Delete empties the cells that are marked, and an undo is in reach', async () => {
    await filter('wash north');
    await cellOf('Wash north 1', 'patch').click();
    await page.keyboard.press('Shift+ArrowDown');
    await page.keyboard.press('Delete');
    await until('no addresses', async () => (await place('Wash north 2')) === null);
    assert.deepEqual([await place('Wash north 1'), await place('Wash north 3')], [null, '1.97']);
    await note(/Cleared 2 cells/)
      .getByRole('button', { name: 'Undo' })
      .click();
    await until('back', async () => (await place('Wash north 2')) === '1.89');
  });
  test('what was selected before the filter is told, and tools leave it out', async () => {
    await filter('');
    await cellOf('Wash north 1', 'name').click();
    await page.keyboard.press('Control+a');
    await filter('wash north 2');
    await page.getByText(/selected units are hidden by the filter and left out here/).waitFor();
    await page.getByRole('button', { name: 'Names' }).click();
    await page.getByLabel('Pattern').fill('Only one');
    await page.getByRole('button', { name: /^Rename/ }).click();
    await until('renamed', async () => (await unitNamed('Only one')) !== undefined);
    assert.ok(await unitNamed('Wash north 1'));
    assert.equal((await records()).filter((r) => 'name' in r && r.name.startsWith('Only one')).length, 1);
    await page.getByRole('button', { name: /^Undo/ }).click();
    await until('as before', async () => (await unitNamed('Wash north 2')) !== undefined);
    await page.getByRole('button', { name: 'Close Names and numbers' }).click();
    await filter('');
  });
});

describe('undo', () => {
  test('in a field that was taken, takes the edit back, not the letters', async () => {
    await filter('wash north');
    await cellOf('Wash north 1', 'name').click();
    const field = page.getByLabel('Address', { exact: true });
    await field.fill('3.200');
    await field.press('Enter');
    await until('moved', async () => (await place('Wash north 1')) === '3.200');
    await field.press('Control+z');
    await until('back', async () => (await place('Wash north 1')) === '1.81');
    await until('the field too', async () => (await field.inputValue()) === '1.81');
    await field.press('Control+Shift+z');
    await until('again', async () => (await place('Wash north 1')) === '3.200');
    await field.press('Control+z');
    await until('and back', async () => (await place('Wash north 1')) === '1.81');
    // What is typed and not taken is text.
    await field.pressSequentially('9');
    await field.press('Control+z');
    assert.equal(await place('Wash north 1'), '1.81');
    await field.press('Escape');
  });
  test('is a person’s own, survives a reload, and does not take back another’s later edit', async () => {
    const undoHere = page.getByRole('button', { name: /^Undo/ });
    const edit = async (on: Page, name: string, notes: string): Promise<void> => {
      await on.getByLabel('Filter units').fill(name);
      await cellOf(name, 'name', on).click();
      await on.getByLabel('Notes', { exact: true }).fill(notes);
      await on.getByLabel('Notes', { exact: true }).press('Control+Enter');
    };
    const notes = async (name: string): Promise<string | undefined> => (await unitNamed(name))?.notes;
    await edit(page, 'Wash north 3', 'mine');
    await until('mine', async () => (await notes('Wash north 3')) === 'mine');
    await edit(other, 'Wash north 4', 'theirs');
    await until('theirs', async () => (await notes('Wash north 4')) === 'theirs');
    assert.match((await undoHere.getAttribute('title')) ?? '', /Wash north 3/);
    await page.reload();
    await undoHere.click();
    await until('only mine', async () => (await notes('Wash north 3')) === '');
    assert.equal(await notes('Wash north 4'), 'theirs');
    // The same field, later: refused in words.
    await edit(page, 'Wash north 4', 'mine now');
    await until('mine', async () => (await notes('Wash north 4')) === 'mine now');
    await other.getByRole('button', { name: /^Undo/ }).click();
    await other
      .locator('[data-sonner-toast]')
      .filter({ hasText: /cannot be undone: notes of “Wash north 4” was changed since/ })
      .waitFor();
    assert.equal(await notes('Wash north 4'), 'mine now');
    await undoHere.click();
    await until('theirs again', async () => (await notes('Wash north 4')) === 'theirs');
    await other.getByRole('button', { name: /^Undo/ }).click();
    await until('as it was', async () => (await notes('Wash north 4')) === '');
  });
  test('from the history anybody takes any edit back', async () => {
    await other.getByLabel('Notes', { exact: true }).fill('to be taken back');
    await other.getByLabel('Notes', { exact: true }).press('Control+Enter');
    await until('there', async () => (await unitNamed('Wash north 4'))?.notes === 'to be taken back');
    await page.goto(`${stage.app.url}/keep`);
    const line = page.getByRole('row').filter({ hasText: 'Notes of Wash north 4' }).first();
    await line.getByText('elsewhere').waitFor();
    await line.getByRole('button', { name: 'Take back' }).click();
    await until('taken back', async () => (await unitNamed('Wash north 4'))?.notes === '');
  });
});

describe('what is open stays open', () => {
  test('over a reload and the way back', async () => {
    await page.goto(`${stage.app.url}/scenes`);
    await library().locator('.pick').nth(2).waitFor();
    const names = await library().locator('.pick .name').allTextContents();
    const [, second, third] = names;
    await library().locator('.pick').nth(1).click();
    await page.getByLabel('Name', { exact: true }).first().waitFor();
    await library().locator('.pick').nth(2).click();
    const current = (): Promise<string | null> => library().locator('.pick[aria-current=true] .name').textContent();
    await until('the third', async () => (await current()) === third);
    await page.reload();
    await until('still the third', async () => (await current()) === third);
    await page.goBack();
    await until('the second', async () => (await current()) === second);
  });
  test('one that somebody removes says so, and no key goes to another', async () => {
    await page.goto(`${stage.app.url}/scenes`);
    await library().locator('.pick').nth(2).waitFor();
    const number = await library().locator('.pick').count();
    await page.getByRole('button', { name: 'Scene', exact: true }).click();
    const made = await until('made', async () =>
      (await records()).find((r) => r.kind === 'scene' && /^Scene \d+$/.test(r.name)),
    );
    assert.ok(made.kind === 'scene');
    const name = page.getByRole('complementary').getByLabel('Name', { exact: true });
    await until('open', async () => (await name.inputValue()) === made.name);
    const first = (await library().locator('.pick .name').first().textContent())!;
    await name.focus();
    const { id } = await stage.app.openShow();
    assert.equal((await stage.app.edit(id, { remove: [made.id] })).status, 200);
    await page.getByText(`“${made.name}” is not in this show any more.`).waitFor();
    await page.keyboard.type('gone');
    await page.keyboard.press('Enter');
    assert.equal(await library().locator('.pick').count(), number);
    assert.ok(await record('scene', first), 'the first is as it was');
    await page.reload();
    await page.getByText('is not in this show any more.').waitFor();
    await library().locator('.pick').first().click();
    await until('another is open', async () => (await name.inputValue()) === first);
  });
  test('outputs, groups and profiles too', async () => {
    await page.goto(`${stage.app.url}/lines?tab=outputs`);
    await page.getByRole('button', { name: 'Output', exact: true }).click();
    const name = page.getByRole('complementary').getByLabel('Name', { exact: true });
    await until('the new one', async () => (await name.inputValue()) === 'New output');
    await page.reload();
    await until('still', async () => (await name.inputValue()) === 'New output');
    const { id, records: all } = await stage.app.openShow();
    const made = all.find((r) => r.kind === 'output' && r.name === 'New output')!;
    const ways = all.flatMap((r) => (r.kind === 'route' && r.outputId === made.id ? [r.id] : []));
    assert.equal((await stage.app.edit(id, { remove: [made.id, ...ways] })).status, 200);
    await page.getByText('“New output” is not in this show any more.').waitFor();
    await page.goto(`${stage.app.url}/patch?tab=groups`);
    await page.getByRole('button', { name: 'B All washes' }).click();
    await page.reload();
    await page.getByRole('region', { name: 'Group', exact: true }).getByLabel('Name').waitFor();
    await until(
      'the washes',
      async () =>
        (await page.getByRole('region', { name: 'Group', exact: true }).getByLabel('Name').inputValue()) ===
        'All washes',
    );
  });
});

test('a page of another build loads anew by itself, once, and says where it is still another', async () => {
  const old = await stage.open('/patch');
  let greeted = 0;
  await old.routeWebSocket(/\/live/, (socket) => {
    const server = socket.connectToServer();
    socket.onMessage((message) => server.send(message));
    server.onMessage((message) => {
      if (typeof message === 'string' && message.includes('"type":"welcome"')) greeted++;
      socket.send(typeof message === 'string' ? message.replace(/"pages":"\d+"/, '"pages":"another"') : message);
    });
  });
  await old.reload();
  await old.getByText('Amber Kite is newer than this page').waitFor();
  assert.equal(greeted, 2, 'once as it was opened, once as it loaded anew');
  assert.equal(await old.evaluate(() => sessionStorage.getItem('amber-reloaded')), 'another');
  await old.close();
});
