import assert from 'node:assert/strict';
import { readFileSync } from 'node:fs';
import { after, before, describe, test } from 'node:test';
import type { Page } from 'playwright-core';
import { unpackPlaces } from '../../src/core/plot/places.ts';
import { unpackGrid } from '../../src/core/records/grid.ts';
import { until } from '../support/app.ts';
import { pixelsAt, Stage } from '../support/browser.ts';
import { openWalk, plotHands } from '../support/plot-hands.ts';

/** Everything about one prop at a time, and about the paper it lies on. */
let stage: Stage;
let page: Page;
const hands = plotHands(
  () => stage,
  () => page,
);
const { at, choose, drag, fill, records, side, spansOf, tab, undo, unit } = hands;
before(async () => {
  stage = await Stage.start();
  page = await openWalk(stage);
});
after(() => stage?.end());

const shapeOf = async (name: string) => (await unit(name))!.prop!.shape;
const show = async () => (await records()).find((r) => r.kind === 'show')!;
const option = (label: string, value: string): Promise<unknown> =>
  page.getByLabel(label, { exact: true }).selectOption(value);

describe('adding', () => {
  test('a wreath is found under Add and lies where it is pressed, as large as it was made', async () => {
    await side('Front');
    await page.getByRole('tablist', { name: 'List' }).getByRole('tab', { name: 'Add' }).click();
    await page.getByLabel('What to add').fill('wreath');
    await page.getByLabel('What to add').press('Enter');
    await fill('Diameter', '1.5');
    const spot = await at(0, 1);
    // With Alt nothing catches.
    await page.keyboard.down('Alt');
    await page.mouse.click(spot.x, spot.y);
    await page.keyboard.up('Alt');
    const made = await until('the wreath', () => unit('Wreath 1'));
    assert.ok(made.prop?.shape.shape === 'ring');
    assert.equal(made.prop.shape.diameterM, 1.5);
    assert.ok(Math.hypot(made.position.x, made.position.z - 1) < 0.1, JSON.stringify(made.position));
    await undo();
    await until('taken back', async () => !(await unit('Wreath 1')));
    await page.getByRole('tablist', { name: 'List' }).getByRole('tab', { name: 'Units' }).click();
  });
});

describe('a prop', () => {
  test('is pulled into form by its handles, one step a gesture', async () => {
    await side('Front');
    await choose('Mill window 3');
    await tab('Prop');
    await page.getByRole('button', { name: 'Show selection' }).click();
    const { position } = (await unit('Mill window 3'))!;
    const before = await shapeOf('Mill window 3');
    assert.ok(before.shape === 'frame');
    const corner = await at(position.x, position.z + before.heightM);
    await drag(corner, await at(position.x, position.z + 2));
    const taller = await until('taller', async () => {
      const now = await shapeOf('Mill window 3');
      return now.shape === 'frame' && now.heightM > 1.9 ? now : null;
    });
    assert.deepEqual([taller.count, taller.widthM], [before.count, before.widthM]);
    await undo();
    await until('as it was', async () => JSON.stringify(await shapeOf('Mill window 3')) === JSON.stringify(before));
  });
  test('is turned by the handle above it', async () => {
    const window = (await unit('Mill window 3'))!;
    assert.ok(window.prop?.shape.shape === 'frame');
    const top = await at(window.position.x, window.position.z + window.prop.shape.heightM);
    const middle = await at(window.position.x, window.position.z + window.prop.shape.heightM / 2);
    const grip = { x: top.x, y: top.y - 26 };
    await drag(grip, { x: middle.x + (middle.y - grip.y), y: middle.y });
    await until('on its side', async () => Math.abs((await unit('Mill window 3'))!.rotation.y) === 90);
    await undo();
    await until('upright', async () => (await unit('Mill window 3'))!.rotation.y === 0);
  });
  test('is cut into strings with their own starts, directions and skipped pixels', async () => {
    await choose('Festoon 1');
    const start = (await unit('Festoon 1'))!.patch!;
    await page.getByRole('button', { name: 'Cut the last string in two' }).click();
    await until('two strings', async () => (await unit('Festoon 1'))!.prop!.strings.length === 2);
    await fill('Start of string 2', `${start.universe}.301`);
    await until(
      'its own start',
      async () => (await spansOf('Festoon 1')) === `${start.universe}.1-90 ${start.universe}.301-390`,
    );
    await fill('Skipped before string 2', '2');
    await until('two pixels more', async () => (await spansOf('Festoon 1')).endsWith('301-396'));
    await page.getByRole('button', { name: 'String 2 is wired backwards' }).click();
    await until('backwards', async () => (await unit('Festoon 1'))!.prop!.strings[1]!.backward);
    await fill('Start of string 2', 'nowhere');
    await page.getByText('Write universe.address such as 3.145').waitFor();
    await page.getByLabel('Start of string 2').press('Escape');
    await page.getByRole('button', { name: 'Join string 2 to its neighbour' }).click();
    await until('one again', async () => (await spansOf('Festoon 1')) === `${start.universe}.1-180`);
  });
  test('takes order of colours, gamma and limit, refusing what cannot be', async () => {
    await option('Order of colours', 'BGR');
    await fill('Gamma', '9');
    await page.getByText('must be 1-4').waitFor();
    await fill('Gamma', '1.8');
    await fill('Level limit', '50');
    await until('all three', async () => {
      const now = (await unit('Festoon 1'))!;
      return now.prop!.colourOrder === 'BGR' && now.prop!.gamma === 1.8 && now.levelLimit === 0.5;
    });
  });
  test('several are made as large as another with one choice', async () => {
    await choose('Mill window 1', 'Mill window 2');
    await fill('Width', '0.7');
    await until('narrow', async () => {
      const now = await shapeOf('Mill window 2');
      return now.shape === 'frame' && now.widthM === 0.7;
    });
    await choose('Mill window 4');
    const label = `${(await unit('Mill window 1'))!.number} Mill window 1`;
    await page.getByLabel('Same size as').selectOption({ label });
    await until('as narrow', async () => {
      const now = await shapeOf('Mill window 4');
      return now.shape === 'frame' && now.widthM === 0.7;
    });
  });
  test('falls into parts that it has of itself', async () => {
    await choose('Mill wall');
    await page.getByLabel('Parts it falls into').selectOption('Row');
    const rows = await until('its rows', async () => {
      const parts = (await records()).flatMap((r) => (r.kind === 'part' && r.unitId === 'unit:wall' ? [r] : []));
      return parts.length === 25 ? parts : null;
    });
    assert.equal(rows[0]!.name, 'Row 1');
    await fill('Its cells', '1-2000');
    await page.getByText('There is no cell 1001').waitFor();
    await undo();
  });
  test('takes the places of its cells from a table, and says which line is wrong', async () => {
    await choose('Kite 5');
    await option('Shape', 'given');
    const csv = (text: string) => ({ name: 'places.csv', mimeType: 'text/csv', buffer: Buffer.from(text) });
    const input = page.getByLabel('Places from CSV');
    await input.setInputFiles(csv('x,y,z,index\n0,0,0,1\nleft,0,1,2'));
    await page.getByText('places.csv: line 3, column x').waitFor();
    await input.setInputFiles(csv('x,y,z,index\n0,0,0,2\n1,0,2,1\n2,0,0,3'));
    const now = await until('three cells', async () => {
      const u = (await unit('Kite 5'))!;
      return u.prop!.shape.shape === 'given' && u.prop!.shape.count === 3 ? u : null;
    });
    assert.deepEqual([...unpackPlaces(now.cellPlaces!)], [0, 0, 2, -1, 0, 0, 1, 0, 0]);
    await undo();
  });
  test('is painted by hand, cell after cell', async () => {
    await choose('Kite 4');
    await page.getByRole('button', { name: 'Open the grid' }).click();
    const before = await shapeOf('Kite 4');
    assert.ok(before.shape === 'grid');
    await page.getByRole('button', { name: 'Paint in order' }).click();
    const canvas = page.getByRole('application', { name: /Drawn grid of Kite 4/ }).locator('canvas');
    const box = (await canvas.boundingBox())!;
    const cell = box.width / before.columns;
    await drag({ x: box.x + cell * 0.5, y: box.y + cell * 1.5 }, { x: box.x + cell * 2.5, y: box.y + cell * 1.5 });
    const painted = await until('three more', async () => {
      const now = await shapeOf('Kite 4');
      return now.shape === 'grid' && now.numbers !== before.numbers ? now : null;
    });
    const second = unpackGrid(painted.numbers).slice(before.columns, before.columns + 3);
    assert.deepEqual([...second], [87, 88, 89]);
    await page.getByRole('button', { name: 'Clear', exact: true }).click();
    await drag({ x: box.x + cell * 0.5, y: box.y + cell * 1.5 }, { x: box.x + cell * 2.5, y: box.y + cell * 1.5 });
    await until('clean', async () => {
      const now = await shapeOf('Kite 4');
      return now.shape === 'grid' && unpackGrid(now.numbers)[before.columns] === 0;
    });
    await page.getByRole('button', { name: 'Back to the plot' }).click();
  });
});

describe('the paper', () => {
  test('a guide is drawn out of the ruler and units catch on it', async () => {
    await side('Plan');
    await page.getByRole('button', { name: 'Show all' }).click();
    const box = (await hands.paper().boundingBox())!;
    await drag({ x: box.x + 8, y: box.y + 300 }, await at(-20, 0));
    const guide = await until('the guide', async () => {
      const record = await show();
      return record.kind === 'show' && record.guides.length === 1 ? record.guides[0]! : null;
    });
    assert.ok(guide.axis === 'x' && Math.abs(guide.at + 20) < 0.2);
    const lamp = (await unit('Hut lamp door'))!.position;
    await drag(await at(lamp.x, lamp.y), await at(guide.at + 0.3, lamp.y));
    await until('caught', async () => (await unit('Hut lamp door'))!.position.x === guide.at);
    await undo();
    await undo();
  });
  test('lengths are shown and typed in feet when that is wanted', async () => {
    await tab('Paper');
    await option('Lengths in', 'feet');
    await until('feet', async () => {
      const record = await show();
      return record.kind === 'show' && record.lengths === 'feet';
    });
    await fill('Upright guide at', '6\' 6"');
    await until('a guide at 1.981 m', async () => {
      const record = await show();
      return record.kind === 'show' && Math.abs(record.guides[0]!.at - 1.9812) < 0.001;
    });
    await undo();
    await undo();
  });
  test('kinds are hidden, and dots are drawn by WebGL as well', async () => {
    await page.getByRole('button', { name: 'Hide dimmer' }).click();
    await until('fewer places', async () => {
      const places = JSON.parse((await hands.paper().getAttribute('data-places'))!) as Record<string, unknown>;
      return !('unit:reed1' in places) && 'unit:kite1' in places;
    });
    await page.getByRole('button', { name: 'Hide dimmer' }).click();
    await option('Drawn by', 'webgl');
    await stage.app.command({ do: 'hand', set: { 'unit:tree': { Dimmer: 1 } } });
    const tree = (await unit('Tower tree'))!.position;
    const spot = await at(tree.x, tree.y);
    await until('white in the middle of the tree', async () => {
      const pixels = await pixelsAt(page, spot, 12);
      return pixels.some((p) => Math.min(...p) > 180);
    });
    await stage.app.command({ do: 'letGo' });
    await option('Drawn by', 'auto');
  });
  test('is given away as SVG and as PNG', async () => {
    for (const [name, start] of [
      ['SVG', '<svg'],
      ['PNG', '\u0089PNG'],
    ] as const) {
      const waiting = page.waitForEvent('download');
      await page.getByRole('button', { name, exact: true }).click();
      const file = await (await waiting).path();
      assert.ok(readFileSync(file, 'latin1').startsWith(start), name);
    }
  });
  test('an area is shown with its button; its corners are dragged', async () => {
    await tab('Areas');
    const wide = (await hands.view())!.scale;
    await page.getByRole('button', { name: /^4 Gate/ }).click();
    await page.getByRole('button', { name: 'Show it' }).click();
    await until('nearer', async () => (await hands.view())!.scale > wide * 2);
    await drag(await at(-21, -11), await at(-22, -12), true);
    await until('the corner', async () => {
      const area = (await records()).find((r) => r.kind === 'area' && r.id === 'area:gate');
      return area?.kind === 'area' && area.outline!.some((c) => Math.abs(c.x + 22) < 0.1 && Math.abs(c.y + 12) < 0.1);
    });
    await undo();
  });
  test('an SVG becomes a picture, and nothing of what it carries runs', async () => {
    await tab('Pictures');
    const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="40" height="20"><script>window.hurt = 1</script><rect width="40" height="20" fill="red" onload="window.hurt = 1"/></svg>`;
    await page
      .getByLabel(/Add to the plan/)
      .setInputFiles({ name: 'plan.svg', mimeType: 'image/svg+xml', buffer: Buffer.from(svg) });
    const picture = await until('the picture', async () =>
      (await records()).find((r) => r.kind === 'picture' && r.name === 'plan'),
    );
    assert.ok(picture.kind === 'picture' && picture.type === 'image/webp');
    assert.equal(picture.widthPx, picture.heightPx * 2);
    assert.equal(await page.evaluate('window.hurt'), undefined);
    await page.getByRole('button', { name: 'Take it away' }).click();
    await until('gone', async () => !(await records()).some((r) => r.kind === 'picture' && r.name === 'plan'));
  });
  test('units are dropped onto it from the list', async () => {
    const row = page.locator('.list').getByRole('button', { name: /^25 Hut lamp counter/ });
    const before = (await unit('Hut lamp counter'))!.position;
    await row.dragTo(hands.paper(), { targetPosition: { x: 300, y: 300 } });
    await until('elsewhere', async () => {
      const now = (await unit('Hut lamp counter'))!.position;
      return now.x !== before.x && now.z === before.z;
    });
  });
});

test('nothing went wrong inside the pages', () => assert.deepEqual(stage.errors, []));
