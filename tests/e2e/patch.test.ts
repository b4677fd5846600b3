import assert from 'node:assert/strict';
import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { after, before, describe, test } from 'node:test';
import type { Locator, Page } from 'playwright-core';
import { readCsv } from '../../src/core/format/csv.ts';
import { readXlsx } from '../../src/core/format/xlsx.ts';
import { temporaryFolder, until } from '../support/app.ts';
import { Stage } from '../support/browser.ts';
import { patchHands } from '../support/patch-hands.ts';

let stage: Stage;
let page: Page;
before(async () => {
  stage = await Stage.start();
  page = await stage.open('/patch');
});
after(async () => {
  assert.deepEqual(stage?.errors ?? [], []);
  await stage?.end();
});

const { records, unitNamed, place, sheet, cellOf, reveal, readdress, undo } = patchHands(
  () => stage,
  () => page,
);
/** What a spreadsheet puts on the clipboard, pasted where the focus is. */
const paste = (text: string, html = ''): Promise<void> =>
  sheet().evaluate(
    (grid, data) => {
      const clipboardData = new DataTransfer();
      clipboardData.setData('text/plain', data.text);
      if (data.html) clipboardData.setData('text/html', data.html);
      const target = grid.contains(document.activeElement) ? document.activeElement! : grid;
      target.dispatchEvent(new ClipboardEvent('paste', { clipboardData, bubbles: true, cancelable: true }));
    },
    { text, html },
  );
const copied = (): Promise<string> =>
  sheet().evaluate(() => {
    const clipboardData = new DataTransfer();
    document.activeElement!.dispatchEvent(
      new ClipboardEvent('copy', { clipboardData, bubbles: true, cancelable: true }),
    );
    return clipboardData.getData('text/plain');
  });
const filter = (text: string): Promise<void> => page.getByLabel('Filter units').fill(text);

describe('the sheet', () => {
  test('is moved through and written like a spreadsheet', async () => {
    await cellOf('Wash north 1', 'name').click();
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('Enter');
    await page.keyboard.press('Control+a');
    await page.keyboard.type('Wash N2');
    await page.keyboard.press('Enter');
    await until('renamed', async () => (await unitNamed('Wash N2')) !== undefined);
    await undo();
    await until('named as before', async () => (await unitNamed('Wash north 2')) !== undefined);
  });

  test('what cannot be stays in the field, with the reason', async () => {
    await readdress('Wash north 1', '1.600');
    await sheet().getByRole('alert').filter({ hasText: 'address 600 does not exist' }).waitFor();
    assert.equal(await sheet().locator('input').inputValue(), '1.600');
    await page.keyboard.press('Escape');
    assert.equal(await place('Wash north 1'), '1.81');
  });

  test('one text goes into all selected rows, and filling down counts', async () => {
    await cellOf('Wash north 1', 'name').click();
    for (let i = 0; i < 3; i++) await page.keyboard.press('Shift+ArrowDown');
    await page.keyboard.press('Enter');
    await page.keyboard.press('Control+a');
    await page.keyboard.type('Rim 07');
    await page.keyboard.press('Control+Enter');
    await until(
      'all four',
      async () => (await records()).filter((r) => 'name' in r && r.name === 'Rim 07').length === 4,
    );
    await page.keyboard.press('Control+d');
    await until('counted', async () => (await unitNamed('Rim 10')) !== undefined);
    await undo();
    await undo();
    await until('as before', async () => (await unitNamed('Wash north 4')) !== undefined);
  });

  test('copies a block, and pastes one: the good cells go in, the others are mended at the side', async () => {
    await cellOf('Wash south 1', 'patch').click();
    await page.keyboard.press('Shift+ArrowDown');
    await page.keyboard.press('Shift+ArrowDown');
    assert.equal(await copied(), '1.113\n1.121\n1.129');
    await paste('4.1\n1/0\n4.17');
    await until('two of three', async () => (await place('Wash south 3')) === '4.17');
    assert.deepEqual([await place('Wash south 1'), await place('Wash south 2')], ['4.1', '1.121']);
    const side = page.getByRole('region', { name: 'Not taken' });
    await side.getByText('Address 0 does not exist').waitFor();
    await side.getByRole('textbox').fill('4.9');
    await page.keyboard.press('Enter');
    await until('mended', async () => (await place('Wash south 2')) === '4.9');
    await undo();
    await undo();
    await until('back', async () => (await place('Wash south 1')) === '1.113');
  });

  test('columns and order are kept as a view with the show, in every browser', async () => {
    await page.getByRole('button', { name: 'Columns' }).click();
    await page.getByRole('button', { name: /^\+ Area/ }).click();
    await page.getByRole('button', { name: 'Hide Last' }).click();
    await page.getByLabel('Name of this view').fill('By area');
    await page.getByRole('button', { name: 'Keep' }).click();
    await page.keyboard.press('Escape');
    await sheet().getByRole('columnheader', { name: 'Area' }).waitFor();
    const other = await stage.open('/patch');
    assert.equal(await sheet(other).getByRole('columnheader', { name: 'Area' }).count(), 0);
    await other.getByRole('button', { name: 'Columns' }).click();
    await other.getByRole('button', { name: 'By area', exact: true }).click();
    await sheet(other).getByRole('columnheader', { name: 'Area' }).waitFor();
    await page.reload();
    await sheet().getByRole('columnheader', { name: 'Area' }).waitFor();
    await page.getByRole('button', { name: 'Columns' }).click();
    await page.getByRole('button', { name: 'As it comes' }).click();
    await page.keyboard.press('Escape');
    await other.close();
  });
});

describe('a sheet of 200 rows with 9 faults', () => {
  const FAULTY: Readonly<Record<number, readonly string[]>> = {
    10: ['110', 'Reed 10', 'Generic Dimmer', '7.0'],
    25: ['125', 'Reed 25', 'Generic Dimmer', '7,25'],
    40: ['140', 'Reed 40', 'Generic Dimer', '7.40'],
    60: ['160', '', 'Quillon Stave 16', '7.60'],
    75: ['-175', 'Reed 75', 'Generic Dimmer', '7.75'],
    90: ['189', 'Reed 90', 'Generic Dimmer', '7.90'],
    120: ['220', 'Reed 120', 'Generic Dimmer', '64000.1'],
    150: ['250', 'n'.repeat(300), 'Generic Dimmer', '7.150'],
    199: ['299', 'Reed 199', 'Generic Dimmer', 'over there'],
  };
  const rows = Array.from(
    { length: 200 },
    (_, i) => FAULTY[i + 1] ?? [String(101 + i), `Reed ${i + 1}`, 'Generic Dimmer', `7.${i + 1}`],
  );
  const text = [['Number', 'Name', 'Type', 'Address'], ...rows].map((r) => r.join('\t')).join('\n');
  const preview = (): Locator => page.getByRole('region', { name: 'Import preview' });

  test('is looked at before anything happens', async () => {
    await cellOf('Beam spot 1', 'name').click();
    await paste(text);
    await preview().getByText('191 units added').waitFor();
    await preview().getByText('9 rows refused').waitFor();
    assert.equal(await unitNamed('Reed 1'), undefined);
    await preview()
      .getByRole('button', { name: /^Refused/ })
      .click();
    await preview().getByText('Address 0 does not exist').waitFor();
    await preview().getByText('has a comma').waitFor();
  });

  test('its faults are mended where they stand', async () => {
    // The profile that is not known is chosen once for all rows that name it.
    await preview().getByRole('button', { name: 'Generic Dimmer', exact: true }).click();
    const mend = async (line: number, column: string, value: string): Promise<void> => {
      const field = preview().getByLabel(`${column} of row ${line}`);
      await field.fill(value);
      await field.press('Enter');
    };
    await mend(11, 'Address', '7.10');
    await mend(26, 'Address', '7.25');
    await mend(76, 'Number', '175');
    await mend(91, 'Number', '190');
    await mend(121, 'Address', '7.120');
    await mend(151, 'Name', 'Reed 150');
    await preview().getByText('2 rows refused').waitFor();
    await mend(200, 'Address', '7.199');
    // The last one is no lamp at all: it is left out.
    await preview().getByRole('button', { name: 'Leave the row out' }).click();
    await preview().getByText('199 units added').waitFor();
    await preview().getByText('0 rows refused').waitFor();
  });

  test('goes in as one step, and comes out as one', async () => {
    const before = (await records()).length;
    await preview().getByRole('button', { name: 'Take 199 rows' }).click();
    await until('all there', async () => (await records()).length === before + 199);
    assert.deepEqual([await place('Reed 40'), await place('Reed 199')], ['7.40', '7.199']);
    await filter('reed 175');
    await cellOf('Reed 175', 'name').waitFor();
    await undo();
    await until('all gone', async () => (await records()).length === before);
    await page.getByRole('button', { name: /^Redo/ }).click();
    await until('there again', async () => (await records()).length === before + 199);
    await undo();
    await filter('');
  });

  test('merged cells of a table on the clipboard are told', async () => {
    await cellOf('Beam spot 1', 'name').click();
    const html =
      '<table><tr><td>Name</td><td>Universe</td><td>Slot</td><td>Profile</td></tr><tr><td>A</td><td rowspan="2">8</td><td>1</td><td>Generic Dimmer</td></tr><tr><td>B</td><td>2</td><td>Generic Dimmer</td></tr></table>';
    await paste('Name\tUniverse\tSlot\tProfile\nA\t8\t1\tGeneric Dimmer\nB\t\t2\tGeneric Dimmer', html);
    await preview().getByText('This cell is merged over rows 2 to 3').waitFor();
    await preview().getByRole('button', { name: 'Leave it' }).click();
  });
});

describe('files', () => {
  const folder = temporaryFolder();
  const download = async (item: string): Promise<Uint8Array> => {
    await page.getByRole('button', { name: 'Files' }).click();
    const [file] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('menuitem', { name: item }).click(),
    ]);
    const to = path.join(folder, file.suggestedFilename());
    await file.saveAs(to);
    return readFileSync(to);
  };
  test('CSV and XLSX go out whole and come back unchanged', async () => {
    const csv = readCsv(await download('Export as CSV')).grid!;
    const { grid: xlsx } = await readXlsx(await download('Export as XLSX'));
    assert.equal(csv.rows.length, 30);
    assert.deepEqual(
      xlsx!.rows.map((r) => r.cells[1]),
      csv.rows.map((r) => r.cells[1]),
    );
    await page.getByLabel('Import a sheet').setInputFiles(path.join(folder, 'Copperline Rink patch.xlsx'));
    const preview = page.getByRole('region', { name: 'Import preview' });
    await preview.getByText('0 units added, 0 changed, 29 as they are').waitFor();
    await preview.getByRole('button', { name: 'Leave it' }).click();
  });
  test('what is no sheet is refused with the reason', async () => {
    const bomb = path.join(folder, 'bomb.xlsx');
    writeFileSync(bomb, Buffer.concat([Buffer.from('PK\u0003\u0004'), Buffer.alloc(200)]));
    await page.getByLabel('Import a sheet').setInputFiles(bomb);
    await page.getByText(/bomb\.xlsx: /).waitFor();
    assert.equal(await page.getByRole('region', { name: 'Import preview' }).count(), 0);
  });
});

describe('the universe map', () => {
  const block = (name: string): Locator =>
    page.getByRole('region', { name: 'Universe map' }).getByRole('button', { name: new RegExp(`\\d+ ${name}:`) });
  before(async () => {
    await page.getByRole('tab', { name: 'Universes' }).click();
    await page.getByRole('button', { name: 'Fold the tail' }).click();
  });
  const top = (): Promise<void> => page.getByRole('region', { name: 'Universe map' }).evaluate((e) => e.scrollTo(0, 0));
  after(() => page.getByRole('tab', { name: 'Sheet' }).click());

  test('keyboard: by slots, by rows, by universes; undone one by one', async () => {
    await block('Strobe').click();
    await page.keyboard.press('Alt+ArrowRight');
    await until('a slot on', async () => (await place('Strobe')) === '1.182');
    await block('Strobe').focus();
    await page.keyboard.press('Alt+ArrowDown');
    await until('a row on', async () => (await place('Strobe')) === '1.310');
    await block('Strobe').focus();
    await page.keyboard.press('Alt+PageDown');
    await until('a universe on', async () => (await place('Strobe')) === '2.310');
    for (let i = 0; i < 3; i++) await undo();
    await until('back', async () => (await place('Strobe')) === '1.181');
  });

  test('dragging shows what would clash before the drop, and drops where it is let go', async () => {
    await top();
    const from = (await block('Hazer').boundingBox())!;
    const over = (await block('Beam spot 2').boundingBox())!;
    const free = page.getByRole('region', { name: 'Universe 3' }).getByText('506 free');
    await page.mouse.move(from.x + 3, from.y + 10);
    await page.mouse.down();
    await page.mouse.move(over.x + 20, over.y + 10, { steps: 6 });
    await page
      .getByRole('status')
      .filter({ hasText: /Hazer shares 2 slots .* Beam spot 2/ })
      .waitFor();
    assert.equal(await place('Hazer'), '1.191');
    const to = (await free.boundingBox())!;
    await page.mouse.move(to.x + 10, to.y + 8, { steps: 6 });
    await page.getByRole('status').filter({ hasText: 'fits' }).waitFor();
    await page.mouse.up();
    await until('dropped in universe 3', async () => ((await place('Hazer')) ?? '').startsWith('3.'));
    await undo();
    await until('back', async () => (await place('Hazer')) === '1.191');
  });

  test('several at once keep their distances; Escape lets go of a drag', async () => {
    await top();
    await block('Derby left').click();
    await block('Derby right').click({ modifiers: ['Shift'] });
    const from = (await block('Derby left').boundingBox())!;
    await page.mouse.move(from.x + 4, from.y + 10);
    await page.mouse.down();
    await page.mouse.move(from.x + 200, from.y + 40, { steps: 5 });
    await block('Derby left').focus();
    await page.keyboard.press('Escape');
    await page.mouse.up();
    assert.equal(await place('Derby left'), '1.161');
    await page.getByRole('button', { name: 'Move the selection one slot up' }).click();
    await until(
      'both',
      async () => (await place('Derby right')) === '1.169' && (await place('Derby left')) === '1.162',
    );
    await undo();
  });

  test('finds universes, addresses and units', async () => {
    await page.getByLabel('Go to universe, address or unit').fill('2.160');
    await page.keyboard.press('Enter');
    await until(
      'the one that lives there',
      async () => (await block('Counter bar 4').getAttribute('aria-pressed')) === 'true',
    );
  });
});

describe('tools', () => {
  const tool = (name: string): Locator => page.getByRole('region', { name, exact: true });
  const openTool = (name: string): Promise<void> => page.getByRole('button', { name, exact: true }).click();
  async function select(first: string, down: number): Promise<void> {
    await reveal(first);
    await cellOf(first, 'name').click();
    for (let i = 0; i < down; i++) await page.keyboard.press('Shift+ArrowDown');
  }

  test('re-address: by the plot, with every move seen before, and undone at once', async () => {
    await select('Wash south 1', 3);
    await openTool('Re-address');
    await tool('Re-address').getByLabel('Order').selectOption('plot');
    await tool('Re-address').getByLabel('From address').fill('513');
    await tool('Re-address').getByLabel('Blocks of').fill('20');
    await tool('Re-address').getByText('→ 2.201').waitFor();
    await tool('Re-address').getByRole('button', { name: 'Re-address 4 units' }).click();
    // Counter bars fill 2.1 to 2.200: the next blocks of 20 begin at 201.
    await until('packed', async () => (await place('Wash south 4')) === '2.261');
    await undo();
    await until('back', async () => (await place('Wash south 1')) === '1.113');
  });

  test('names and numbers by pattern', async () => {
    await select('Wash north 1', 3);
    await openTool('Names');
    await tool('Names and numbers').getByLabel('Pattern').fill('[area] ##');
    await tool('Names and numbers').getByText('North side 04').waitFor();
    await tool('Names and numbers').getByRole('button', { name: 'Rename 4 units' }).click();
    await until('renamed', async () => (await unitNamed('North side 03')) !== undefined);
    await tool('Names and numbers').getByLabel('First number').fill('201');
    await tool('Names and numbers').getByRole('button', { name: 'Number 4 units' }).click();
    await until('numbered', async () => (await unitNamed('North side 03'))?.number === 203);
    await undo();
    await undo();
    await until('as before', async () => (await unitNamed('Wash north 3'))?.number === 9);
  });

  test('twins and chains are written into the address, and follow', async () => {
    await readdress('Derby right', 'after 15 +3');
    await until('chained', async () => (await place('Derby right')) === '1.171');
    await readdress('Ball pin spot south', 'twin of 27');
    await until('a twin', async () => (await place('Ball pin spot south')) === '3.4');
    await readdress('Derby left', '3.100');
    await until('the chain follows', async () => (await place('Derby right')) === '3.110');
    await readdress('Ball pin spot north', '3.50');
    await until('so does the twin', async () => (await place('Ball pin spot south')) === '3.50');
    assert.equal(await page.getByRole('row').filter({ hasText: 'shares' }).count(), 0);
    for (let i = 0; i < 4; i++) await undo();
    await until('back', async () => (await place('Ball pin spot south')) === '3.5');
  });

  test('replace: what survives is told before, and nothing is lost', async () => {
    await select('Beam spot 1', 0);
    await openTool('Replace');
    await tool('Replace').getByLabel('Other profile').fill('plumlet rgb');
    await tool('Replace').getByRole('listbox', { name: 'Profiles found' }).getByRole('button').first().click();
    await tool('Replace').getByLabel('Mode', { exact: true }).selectOption({ label: '7 channel (7 ch)' });
    await tool('Replace').getByText('16 → 7 slots').waitFor();
    const lost = tool('Replace').getByRole('row').filter({ hasText: 'Pan' }).first();
    assert.match((await lost.textContent()) ?? '', /not there any more/);
    const scenes = (await records()).filter((r) => r.kind === 'scene');
    await tool('Replace').getByRole('button', { name: 'Replace 1 unit' }).click();
    await until('replaced', async () => (await unitNamed('Beam spot 1'))?.mode === '7ch');
    assert.deepEqual(
      (await records()).filter((r) => r.kind === 'scene'),
      scenes,
    );
    await undo();
    await until('back', async () => (await unitNamed('Beam spot 1'))?.mode === '16ch');
  });

  test('switches are read the other way round', async () => {
    await openTool('Switches');
    const panel = tool('Read the switches');
    for (const n of [5, 7]) await panel.getByRole('switch', { name: new RegExp(`^Switch ${n},`) }).click();
    await panel.getByText('81', { exact: true }).waitFor();
    await panel.getByRole('button', { name: /1\.81-88 7 Wash north 1/ }).click();
    await until(
      'selected',
      async () => (await cellOf('Wash north 1', 'name').locator('..').getAttribute('aria-selected')) === 'true',
    );
    await panel.getByRole('button', { name: 'Close Read the switches' }).click();
  });

  test('a copy goes on after the last address, and an expected end is compared', async () => {
    await select('Counter bar 4', 0);
    const details = page.getByRole('complementary', { name: 'Unit' });
    await details.getByRole('button', { name: 'Duplicate' }).click();
    await until('a fifth', async () => (await place('Counter bar 5')) === '2.201');
    await details.getByLabel('Expected end').fill('2.247');
    await details.getByLabel('Expected end').press('Enter');
    await details.getByText('ends at 2.250, expected 2.247: 3 slots too far (1 cell)').waitFor();
    await undo();
    await undo();
    await until('gone', async () => (await unitNamed('Counter bar 5')) === undefined);
  });
});

describe('groups', () => {
  test('are chosen by their letters from anywhere', async () => {
    await page.getByRole('heading', { name: 'Patch' }).click();
    await page.keyboard.press('Escape');
    await page.keyboard.press('g');
    await page.getByRole('dialog', { name: 'Choose a group by its letter' }).waitFor();
    await page.keyboard.press('e');
    await page.getByRole('img', { name: /4 units selected: Counter bar 1/ }).waitFor();
  });

  test('gather by a rule and follow the rig', async () => {
    await page.getByRole('tab', { name: 'Groups' }).click();
    await page.getByRole('button', { name: 'By rule', exact: true }).click();
    const editor = page.getByRole('region', { name: 'Group', exact: true });
    await editor.getByLabel('Area').selectOption({ label: 'North side' });
    await editor.getByText('6 units now').waitFor();
    await editor.getByRole('button', { name: 'Odd' }).click();
    await editor.getByText('3 units now').waitFor();
    await page.getByRole('tab', { name: 'Sheet' }).click();
    await page.getByRole('button', { name: 'Columns' }).click();
    await page.getByRole('button', { name: /^\+ Groups/ }).click();
    await page.keyboard.press('Escape');
    const group = (await records()).find((r) => r.kind === 'group' && r.rule?.every === 2);
    assert.ok(group?.kind === 'group');
    await reveal('Scanner left');
    await cellOf('Scanner left', 'groups').filter({ hasText: group.name }).waitFor();
    await page.getByRole('button', { name: 'Columns' }).click();
    await page.getByRole('button', { name: 'As it comes' }).click();
    await page.keyboard.press('Escape');
  });

  test('tags have a name and a shape; taking one away takes it from everything', async () => {
    await page.getByRole('tab', { name: 'Groups' }).click();
    await page.getByRole('button', { name: 'Delete the tag Needs the ladder' }).click();
    await until('nobody has it', async () => (await records()).every((r) => !('tag' in r) || r.tag !== 'ladder'));
    // The group that gathered by it keeps the units it had.
    const ladder = (await records()).find((r) => r.kind === 'group' && r.name === 'Up the ladder');
    assert.ok(ladder?.kind === 'group' && ladder.rule === null && ladder.unitIds.length > 5);
    await undo();
    await page.getByRole('tab', { name: 'Sheet' }).click();
  });
});

test('what clashes is in pre-flight, with a way there', async () => {
  await readdress('Strobe', '1.140');
  await until('moved', async () => (await place('Strobe')) === '1.140');
  await page
    .getByRole('navigation', { name: 'Steps' })
    .getByRole('link', { name: /Pre-flight/ })
    .click();
  const section = page.getByRole('region', { name: 'Units that share slots' });
  await section.getByText('shares 3 slots (1.140-142)').waitFor();
  await section.getByRole('listitem').filter({ hasText: '1.140-142' }).getByRole('button', { name: 'Patch' }).click();
  await page.getByRole('img', { name: /2 units selected/ }).waitFor();
  await undo();
  await until('back', async () => (await place('Strobe')) === '1.181');
});

test('cards, sheet and labels are laid out for the printer', async () => {
  const print = await stage.open('/patch/print');
  await print
    .getByRole('region', { name: 'Wash north 1' })
    .getByRole('img', { name: 'DIP switches on: 1, 5, 7' })
    .waitFor();
  await print.getByLabel('Print', { exact: true }).selectOption('sheet');
  assert.equal(await print.getByRole('row').count(), 30);
  await print.getByLabel('Print', { exact: true }).selectOption('labels');
  await print.getByRole('region', { name: 'Strobe' }).getByText('address 181').waitFor();
  await print.getByLabel('Paper').selectOption('letter');
  const letter = await print.pdf({ preferCSSPageSize: true });
  assert.match(letter.toString('latin1'), /MediaBox \[0 0 612 792\]/);
  await print.close();
});
