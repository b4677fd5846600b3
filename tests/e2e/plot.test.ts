import assert from 'node:assert/strict';
import { after, before, describe, test } from 'node:test';
import type { Page } from 'playwright-core';
import { documentOf } from '../../src/core/document/change.ts';
import { areaIdOf } from '../../src/core/patch/areas.ts';
import { isSevere } from '../../src/core/patch/clash.ts';
import { patchFaults } from '../../src/core/patch/faults.ts';
import { drawPng } from '../../src/db/seed/png.ts';
import { until } from '../support/app.ts';
import { pixelsAt, Stage } from '../support/browser.ts';
import { openWalk, plotHands } from '../support/plot-hands.ts';

let stage: Stage;
let page: Page;
const hands = plotHands(
  () => stage,
  () => page,
);
const { at, choose, drag, fill, press, records, side, spansOf, tab, undo, unit } = hands;
before(async () => {
  stage = await Stage.start();
  page = await openWalk(stage);
});
after(() => stage?.end());

const kinds = async (kind: string) => (await records()).filter((r) => r.kind === kind);
describe('a picture to draw over', () => {
  const photo = {
    name: 'house front.png',
    mimeType: 'image/png',
    buffer: Buffer.from(drawPng(300, 200, (x) => [x % 256, 90, 60])),
  };
  test('what is no picture, or too large a one, is refused with the reason', async () => {
    await side('Front');
    await tab('Pictures');
    const input = page.getByLabel(/Add to the front/);
    await input.setInputFiles({ ...photo, buffer: Buffer.from('not a picture') });
    await page.getByRole('alert').filter({ hasText: 'no PNG picture' }).waitFor();
    const huge = Buffer.from(photo.buffer);
    huge.writeUInt32BE(20_000, 16);
    huge.writeUInt32BE(10_000, 20);
    await input.setInputFiles({ ...photo, buffer: huge });
    await page.getByRole('alert').filter({ hasText: '200 megapixels' }).waitFor();
    assert.equal((await kinds('backdrop')).length, 1);
  });
  test('lies under the paper and takes its true size from two points', async () => {
    await page.getByLabel(/Add to the front/).setInputFiles(photo);
    const laid = await until('the picture', async () =>
      (await kinds('backdrop')).find((b) => b.kind === 'backdrop' && b.side === 'front'),
    );
    assert.ok(laid.kind === 'backdrop' && laid.widthM === 60);
    await page.getByRole('button', { name: 'Press two points' }).click();
    await press(await at(-10, 5));
    await press(await at(10, 5));
    await fill('They are apart by', '10 m');
    const scaled = await until('the true size', async () =>
      (await kinds('backdrop')).find((b) => b.kind === 'backdrop' && b.id === laid.id && Math.abs(b.widthM - 30) < 0.5),
    );
    assert.ok(scaled.kind === 'backdrop' && scaled.side === 'front');
    await undo();
    await until('as it was', async () =>
      (await kinds('backdrop')).some((b) => b.kind === 'backdrop' && b.widthM === 60 && b.side === 'front'),
    );
    await undo();
    await until('gone', async () => (await kinds('picture')).length === 1);
    await side('Plan');
  });
});

describe('arranging', () => {
  test('lanterns go evenly between two points in one step', async () => {
    await choose('Reed lantern 1', 'Reed lantern 2', 'Reed lantern 3', 'Reed lantern 4');
    await tab('Arrange');
    await page.getByRole('button', { name: 'Drag it on the paper' }).click();
    await drag(await at(-26, 14), await at(-20, 14), true);
    await until('in a row', async () => Math.abs((await unit('Reed lantern 4'))!.position.y - 14) < 0.1);
    const xs = await Promise.all([1, 2, 3, 4].map(async (n) => (await unit(`Reed lantern ${n}`))!.position.x));
    const steps = xs.slice(1).map((x, i) => x - xs[i]!);
    for (const step of steps) assert.ok(Math.abs(step - steps[0]!) < 0.002, steps.join(' '));
    assert.ok(steps[0]! > 1.5);
    await undo();
    await until('back', async () => (await unit('Reed lantern 4'))!.position.y < 10);
  });
  test('new lanterns are placed over a circle with the next addresses', async () => {
    await page.getByRole('tablist', { name: 'List' }).getByRole('tab', { name: 'Add' }).click();
    await page.getByLabel('What to add').fill('generic dimmer');
    await page.getByLabel('What can be added').getByRole('button', { name: 'Dimmer Generic', exact: true }).click();
    await fill('How many', '6');
    await tab('Arrange');
    await page.getByLabel('Pattern').selectOption('circle');
    await page.getByRole('button', { name: 'Place on the paper' }).click();
    const count = (await kinds('unit')).length;
    await drag(await at(-24, 2), await at(-22, 2), true);
    const made = await until('six more', async () => {
      const now = (await kinds('unit')).flatMap((u) => (u.kind === 'unit' ? [u] : []));
      return now.length === count + 6 ? now.sort((a, b) => a.number - b.number).slice(-6) : null;
    });
    for (const u of made) assert.ok(Math.abs(Math.hypot(u.position.x + 24, u.position.y - 2) - 2) < 0.11);
    assert.deepEqual(
      made.map((u) => u.patch?.address),
      [25, 26, 27, 28, 29, 30],
    );
    await undo();
    await until('taken back', async () => (await kinds('unit')).length === count);
    await page.getByRole('tablist', { name: 'List' }).getByRole('tab', { name: 'Units' }).click();
  });
  test('locked units stay, and the person is told', async () => {
    await choose('Reed lantern 1');
    await tab('Paper');
    await page.getByText('Selected units are locked').click();
    await until('locked', async () => (await unit('Reed lantern 1'))!.locked);
    const before = (await unit('Reed lantern 1'))!.position;
    const from = await at(before.x, before.y);
    await drag(from, { x: from.x + 60, y: from.y });
    await page.getByText('1 unit locked').waitFor();
    assert.deepEqual((await unit('Reed lantern 1'))!.position, before);
    await undo();
    await until('free', async () => !(await unit('Reed lantern 1'))!.locked);
  });
});

describe('props', () => {
  test('a chase runs along the wire of the real thing', async () => {
    await choose('Kite 3');
    await tab('Prop');
    await page.getByText('86 cells').first().waitFor();
    await page.getByRole('button', { name: 'Chase along the wire' }).click();
    await until('the chase', async () => {
      const live = await stage.app.live();
      return live.test?.signal.kind === 'wire';
    });
    await page.getByRole('button', { name: 'Stop the chase' }).click();
    await until('the end of it', async () => (await stage.app.live()).test === null);
  });
  test('changes its shape and keeps its cells; a refused number stays in its field with the reason', async () => {
    await choose('Mill window 1');
    await page.getByLabel('Shape', { exact: true }).selectOption('star');
    await until('a star of as many', async () => {
      const shape = (await unit('Mill window 1'))?.prop?.shape;
      return shape?.shape === 'star' && shape.count === 44;
    });
    await fill('Tips', '2');
    await page
      .getByText(/expected number to be >=3|must be|>=3/)
      .first()
      .waitFor();
    await page.getByLabel('Tips', { exact: true }).press('Escape');
    await undo();
    await until('a frame again', async () => (await unit('Mill window 1'))?.prop?.shape.shape === 'frame');
  });
  test('a kite is pasted from a spreadsheet, drawn at once, and its two faults are mended', async () => {
    await choose('Kite 1');
    await page.getByRole('button', { name: 'Open the grid' }).click();
    const sheet = page.getByRole('application', { name: /Drawn grid of Kite 1/ });
    // It is what is typed and pasted into at once: nobody has to press a cell first.
    await until('the focus', () => sheet.evaluate((e) => document.activeElement === e));
    await fill('Rows', '1');
    await fill('Columns', '1');
    await sheet.focus();
    await page.keyboard.press('Delete');
    const block = '\t1\t\n8\t\t2\n7\t\t3\n\t5\t5';
    await sheet.evaluate((element, text) => {
      const data = new DataTransfer();
      data.setData('text/plain', text);
      element.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));
    }, block);
    await page.getByText('4 is missing').waitFor();
    await page.getByText('6 is missing').waitFor();
    const twice = page.getByRole('button', { name: /5 stands twice/ });
    await twice.click();
    await page.getByRole('application', { name: /row 4, column 3: 5/ }).waitFor();
    await page.keyboard.type('4');
    await page.keyboard.press('Enter');
    await page.getByText('4 is missing').waitFor({ state: 'hidden' });
    await page.keyboard.press('ArrowLeft');
    await page.keyboard.press('ArrowLeft');
    await page.keyboard.type('6');
    await page.keyboard.press('Enter');
    await page.getByText(/Every number from 1 to 8 stands once/).waitFor();
    await until('eight cells', async () => (await spansOf('Kite 1')) === '18.1-24');
    await page.getByRole('button', { name: 'Back to the plot' }).click();
  });
  test('text, gaps and a million cells are told with their places; nothing is lost', async () => {
    await page.getByRole('button', { name: 'Open the grid' }).click();
    const sheet = page.getByRole('application', { name: /Drawn grid of Kite 1/ });
    const paste = (text: string): Promise<void> =>
      sheet.evaluate((element, given) => {
        const data = new DataTransfer();
        data.setData('text/plain', given);
        element.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));
      }, text);
    await paste(Array.from({ length: 1000 }, () => Array.from({ length: 1000 }, () => '1').join('\t')).join('\n'));
    await page
      .getByRole('alert')
      .filter({ hasText: /1000|columns/ })
      .waitFor();
    await until('still eight', async () => (await spansOf('Kite 1')) === '18.1-24');
    await sheet.focus();
    for (let i = 0; i < 4; i++) await page.keyboard.press('ArrowUp');
    for (let i = 0; i < 4; i++) await page.keyboard.press('ArrowLeft');
    await paste('x');
    await page.getByRole('button', { name: /“x” is no number/ }).waitFor();
    await page.getByRole('button', { name: 'Back to the plot' }).click();
  });
  test('five copies run on in their addresses and numbers', async () => {
    await choose('Kite 1', 'Kite 2', 'Kite 3', 'Kite 4', 'Kite 5');
    await tab('Unit');
    const before = (await kinds('part')).length;
    await page.getByRole('button', { name: 'Duplicate' }).click();
    await until('five more', async () => !!(await unit('Kite 10')));
    const all = documentOf(await records());
    const copies = await Promise.all([6, 7, 8, 9, 10].map((n) => unit(`Kite ${n}`)));
    const starts = copies.map((u) => u!.patch!.universe * 1000 + u!.patch!.address);
    assert.deepEqual(
      [...starts].sort((a, b) => a - b),
      starts,
      'one after the other',
    );
    assert.deepEqual(patchFaults(all).filter(isSevere), []);
    assert.deepEqual(
      copies.map((u) => u!.prop),
      await Promise.all([1, 2, 3, 4, 5].map(async (n) => (await unit(`Kite ${n}`))!.prop)),
    );
    assert.equal((await kinds('part')).length, before * 2);
    await undo();
    await until('gone again', async () => !(await unit('Kite 10')));
  });
  test('a part is selected and lit alone', async () => {
    await choose('Kite 2');
    await tab('Prop');
    await page.getByRole('button', { name: /^Tail \d+$/ }).click();
    await page.getByRole('contentinfo').getByText('Kite 2: Tail', { exact: false }).last().waitFor();
    await page.keyboard.down('f');
    await until('the tail alone', async () => {
      const slots = await stage.app.slots(19);
      return slots[65 * 3] === 204 && slots[0] === 0;
    });
    await page.keyboard.up('f');
  });
  test('an elevation shows a prop as it is, in its light', async () => {
    await stage.app.command({ do: 'hand', set: { 'unit:wheel': { Dimmer: 1 } } });
    await side('Front');
    const wheel = (await unit('Waterwheel'))!;
    await choose('Waterwheel');
    await page.getByRole('button', { name: 'Show selection' }).click();
    await tab('Unit');
    await until('white at the foot', async () =>
      (await pixelsAt(page, await at(wheel.position.x, wheel.position.z), 20)).some((p) => Math.min(...p) > 150),
    );
    await stage.app.command({ do: 'letGo' });
    await side('Plan');
  });
});

describe('areas', () => {
  test('one is drawn in another: it belongs to it, units to the innermost, and its level multiplies down', async () => {
    await page.getByRole('button', { name: 'Show all' }).click();
    await tab('Areas');
    await page.getByRole('button', { name: 'Draw a rectangle' }).click();
    await drag(await at(14, -1), await at(20, 5));
    const outer = await until('the first', async () =>
      (await kinds('area')).find((a) => a.kind === 'area' && a.number === 5),
    );
    await page.getByRole('button', { name: 'Draw an outline' }).click();
    for (const [x, y] of [
      [15, 0],
      [19, 0],
      [19, 4],
      [15, 4],
    ] as const)
      await press(await at(x, y));
    await page.keyboard.press('Enter');
    const inner = await until('the second', async () =>
      (await kinds('area')).find((a) => a.kind === 'area' && a.number === 6),
    );
    assert.ok(inner.kind === 'area' && inner.parentId === outer.id);
    const all = documentOf(await records());
    assert.equal(areaIdOf(all, (await unit('Tower tree'))!), inner.id);
    await stage.app.command({ do: 'play', target: 'scene:tree', fadeInMs: 0 });
    const tree = (await unit('Tower tree'))!.patch!.universe;
    const green = async (): Promise<number> => (await stage.app.slots(tree))[1]!;
    const full = await until('full', async () => {
      const v = await green();
      return v > 100 ? v : null;
    });
    await page.getByLabel(/Level of Area 5/).fill('0.5');
    await until('less', async () => (await green()) < full * 0.4);
    await page.getByLabel(/Level of Area 6/).fill('0');
    await until('nothing', async () => (await green()) === 0);
    for (const n of [5, 6]) await page.getByLabel(new RegExp(`Level of Area ${n}`)).fill('1');
  });
  test('an outline that crosses itself is refused; the corners stay', async () => {
    await page.getByRole('button', { name: 'Draw an outline' }).click();
    for (const [x, y] of [
      [-28, 8],
      [-24, 12],
      [-24, 8],
      [-28, 12],
    ] as const)
      await press(await at(x, y));
    await page.keyboard.press('Enter');
    await page.getByText('The outline crosses itself').waitFor();
    assert.equal((await kinds('area')).length, 6);
    await page.keyboard.press('Escape');
  });
  test('everything is undone, one step a gesture', async () => {
    await undo();
    await until('one less', async () => (await kinds('area')).length === 5);
    await undo();
    await until('as at first', async () => (await kinds('area')).length === 4);
  });
});

describe('choosing', () => {
  const names = async (): Promise<number> => page.locator('.list button[aria-pressed=true]').count();
  test('with a loop, by kind, the others, next to it', async () => {
    await page.getByRole('button', { name: 'Loop' }).click();
    const corners = await Promise.all(
      (
        [
          [-29, -19],
          [-21, -19],
          [-21, -12],
          [-29, -12],
        ] as const
      ).map(([x, y]) => at(x, y)),
    );
    await page.mouse.move(corners[0]!.x, corners[0]!.y);
    await page.mouse.down();
    for (const c of [...corners.slice(1), corners[0]!]) await page.mouse.move(c.x, c.y, { steps: 3 });
    await page.mouse.up();
    await until('the hut lamps', async () => (await names()) === 3);
    await page.getByRole('button', { name: 'Choose' }).click();
    await page.getByLabel('Of one kind').selectOption('dimmer');
    await until('the lanterns', async () => (await names()) === 24);
    await page.getByRole('button', { name: 'Keep' }).click();
    await until('every second', async () => (await names()) === 12);
    await page.getByRole('button', { name: 'Next to it' }).click();
    await until('those between', async () => (await names()) >= 12);
    await page.keyboard.press('Escape');
  });
});

describe('the sheet', () => {
  test('prints to scale with title block and legend', async () => {
    const print = await stage.open('/plot/print?side=front');
    const image = print.getByRole('img', { name: /ready to print/ });
    await image.waitFor();
    await until('the drawing', () => image.evaluate((element) => (element as HTMLImageElement).naturalWidth > 0));
    await print.getByText(/^1 : \d+ on A4$/).waitFor();
    await print.getByLabel('Scale').selectOption('500');
    await print.getByText('1 : 500 on A4').waitFor();
  });
});

test('nothing went wrong inside the pages', () => assert.deepEqual(stage.errors, []));
