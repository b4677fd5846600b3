import assert from 'node:assert/strict';
import { after, before, describe, test } from 'node:test';
import type { Page } from 'playwright-core';
import { PNG } from 'pngjs';
import { readMesh } from '../../src/core/format/mesh.ts';
import { until } from '../support/app.ts';
import { Stage } from '../support/browser.ts';
import { plotHands, type Spot } from '../support/plot-hands.ts';

let stage: Stage;
let page: Page;
const { choose, drag, fill, records, side, tab, undo, unit } = plotHands(
  () => stage,
  () => page,
);
before(async () => {
  stage = await Stage.start();
  page = await stage.open('/plot');
  await stage.app.rest();
  await side('Room');
  await until('its places', async () => Object.keys(await told('data-places')).length > 0);
  await page.getByRole('button', { name: 'Front', exact: true }).click();
});
after(() => stage?.end());

const sight = () => page.getByRole('application');
const told = async (attribute: string): Promise<Record<string, Spot | Spot[]>> =>
  JSON.parse((await sight().getAttribute(attribute)) ?? '{}') as Record<string, Spot | Spot[]>;
/** A place of the picture on the screen. */
async function onScreen({ x, y }: Spot): Promise<Spot> {
  const box = (await sight().boundingBox())!;
  return { x: box.x + x, y: box.y + y };
}
const unitAt = async (id: string): Promise<Spot> => onScreen((await told('data-places'))[id] as Spot);
/** Waits until the picture has a unit where it was. */
async function back(id: string, place: Spot): Promise<void> {
  await until(`${id} where it was`, async () => {
    const now = await unitAt(id);
    return Math.abs(now.x - place.x) < 0.5 && Math.abs(now.y - place.y) < 0.5;
  });
}
/** A place at which a handle can be taken. */
async function handle(name: string, at = 0): Promise<Spot> {
  const all = await until(name, async () => (await told('data-handles'))[name] as Spot[] | undefined);
  return onScreen(all[at]!);
}
const things = async () => (await records()).flatMap((r) => (r.kind === 'thing' ? [r] : []));
/** How bright the picture of the room is, all in all; what is written over its edges is left out. */
async function brightness(): Promise<number> {
  const { width, height, data } = PNG.sync.read(await page.locator('.sight canvas').screenshot());
  let sum = 0;
  for (let i = 60 * width * 4; i < (height - 60) * width * 4; i += 4) sum += data[i]! + data[i + 1]! + data[i + 2]!;
  return sum;
}
/** The same when it has stopped changing. */
async function settled(): Promise<number> {
  let last = -1;
  return until('a picture that stands still', async () => {
    const now = await brightness();
    const still = Math.abs(now - last) < 2000;
    last = now;
    return still ? now : null;
  });
}

describe('what is chosen is moved in the room', () => {
  test('along the floor by a drag, at the height it has; one undo brings it back', async () => {
    await choose('Beam spot 2');
    const old = (await unit('Beam spot 2'))!;
    const from = await unitAt('unit:spot2');
    await drag(from, { x: from.x + 60, y: from.y });
    const moved = await until('it moved', async () => {
      const now = (await unit('Beam spot 2'))!;
      return now.position.x > old.position.x + 0.3 ? now : null;
    });
    assert.equal(moved.position.z, old.position.z);
    assert.equal(Math.round(moved.position.x * 10) / 10, moved.position.x, 'caught by the grid');
    await undo();
    await back('unit:spot2', from);
    assert.deepEqual((await unit('Beam spot 2'))!.position, old.position);
  });
  test('along the wall with Shift, up and down by its knob, round by its rings', async () => {
    const old = (await unit('Beam spot 2'))!;
    const from = await unitAt('unit:spot2');
    await page.keyboard.down('Shift');
    await drag(from, { x: from.x + 40, y: from.y + 40 });
    await page.keyboard.up('Shift');
    const walled = await until('it moved', async () => {
      const now = (await unit('Beam spot 2'))!;
      return now.position.z < old.position.z - 0.2 ? now : null;
    });
    assert.equal(walled.position.y, old.position.y);
    assert.ok(walled.position.x > old.position.x);
    await undo();
    await back('unit:spot2', from);

    const knob = await handle('height');
    await drag(knob, { x: knob.x, y: knob.y + 50 });
    const lowered = await until('it came down', async () => {
      const now = (await unit('Beam spot 2'))!;
      return now.position.z < old.position.z - 0.2 ? now : null;
    });
    assert.deepEqual([lowered.position.x, lowered.position.y], [old.position.x, old.position.y]);
    await undo();
    await back('unit:spot2', from);

    // From in front the ring of the roll is a circle: a quarter of its steps is a quarter of a turn.
    const [a, b] = [await handle('roll', 6), await handle('roll', 18)];
    await drag(a, b);
    const rolled = await until('it rolled', async () => {
      const now = (await unit('Beam spot 2'))!;
      return now.rotation.y !== old.rotation.y ? now : null;
    });
    assert.deepEqual(rolled.position, old.position);
    assert.equal(Math.abs(Math.abs(rolled.rotation.y - old.rotation.y) % 180), 90);
    await undo();
    await until('back', async () => (await unit('Beam spot 2'))!.rotation.y === old.rotation.y);
  });
  test('several go together; what is locked stays, and it is said', async () => {
    await choose('Beam spot 1', 'Beam spot 2');
    const old = await Promise.all(['Beam spot 1', 'Beam spot 2'].map(unit));
    const from = await unitAt('unit:spot2');
    await drag(from, { x: from.x + 50, y: from.y });
    await until('both moved', async () => (await unit('Beam spot 1'))!.position.x > old[0]!.position.x);
    const now = await Promise.all(['Beam spot 1', 'Beam spot 2'].map(unit));
    const by = now.map((u, i) => Math.round((u!.position.x - old[i]!.position.x) * 1000));
    assert.equal(by[0], by[1]);
    await undo();
    await until('back', async () => (await unit('Beam spot 1'))!.position.x === old[0]!.position.x);
    await tab('Paper');
    await page
      .getByLabel('Lock Moving heads')
      .or(page.getByRole('button', { name: /^Lock .*[Hh]ead/ }))
      .first()
      .click();
    await sight().focus();
    await page.keyboard.press('Alt+ArrowRight');
    await page.getByText('2 units locked').first().waitFor();
    assert.deepEqual((await unit('Beam spot 1'))!.position, old[0]!.position);
    await page
      .getByRole('button', { name: /^Lock .*[Hh]ead/ })
      .first()
      .click();
    await sight().focus();
    await page.keyboard.press('Alt+PageUp');
    await until('lifted by a step', async () => (await unit('Beam spot 1'))!.position.z > old[0]!.position.z);
    await undo();
    await until('back', async () => (await unit('Beam spot 1'))!.position.z === old[0]!.position.z);
  });
  test('to one height, and evenly from the first to the last', async () => {
    await tab('Arrange');
    await choose('Beam spot 1', 'Counter bar 1', 'Beam spot 4');
    await page.getByRole('button', { name: 'Same height' }).click();
    await until('as high', async () => (await unit('Counter bar 1'))!.position.z === 4.6);
    await page.getByRole('button', { name: 'Evenly, first to last' }).click();
    const [a, b, c] = await until('evenly', async () => {
      const all = await Promise.all(['Beam spot 1', 'Counter bar 1', 'Beam spot 4'].map(unit));
      const [p, q, r] = all.map((u) => u!.position);
      return Math.abs(p!.x + r!.x - 2 * q!.x) < 0.002 ? [p!, q!, r!] : null;
    });
    assert.ok(Math.abs(a!.y + c!.y - 2 * b!.y) < 0.002);
    await undo();
    await undo();
    await until('back', async () => (await unit('Counter bar 1'))!.position.z === 2.6);
  });
});

describe('own views', () => {
  test('are kept with the show, are named, and are there in every other browser', async () => {
    await page.getByRole('button', { name: 'Side', exact: true }).click();
    const place = await until('from the side', async () => JSON.stringify(await told('data-places')));
    await page.getByRole('button', { name: 'Own views' }).click();
    await page.getByRole('button', { name: 'Keep this view' }).click();
    await page.getByLabel('Own views').getByLabel('Name').fill('From the bar');
    await page.keyboard.press('Enter');
    await page.keyboard.press('Escape');
    const own = page.getByRole('button', { name: 'From the bar', exact: true });
    await own.waitFor();
    await page.getByRole('button', { name: 'Above', exact: true }).click();
    await until('elsewhere', async () => JSON.stringify(await told('data-places')) !== place);
    await own.click();
    const near = (a: Spot, b: Spot): boolean => Math.abs(a.x - b.x) < 1.5 && Math.abs(a.y - b.y) < 1.5;
    await until('as it was kept', async () =>
      near(
        (await told('data-places'))['unit:spot1'] as Spot,
        (JSON.parse(place) as Record<string, Spot>)['unit:spot1']!,
      ),
    );
    const other = await stage.open('/room');
    await other.getByRole('button', { name: 'From the bar', exact: true }).waitFor();
    await undo();
    await undo();
    await other.getByRole('button', { name: 'From the bar', exact: true }).waitFor({ state: 'detached' });
    await other.close();
  });
});

describe('models', () => {
  const give = (name: string, text: string | Buffer): Promise<void> =>
    page
      .locator('input[type=file][accept*=".glb"]')
      .setInputFiles({ name, mimeType: 'application/octet-stream', buffer: Buffer.from(text) });
  const CUBE = [
    'mtllib somewhere-else.mtl',
    ...[0, 1].flatMap((y) => [0, 1].flatMap((z) => [0, 1].map((x) => `v ${x * 2} ${y * 3} ${z}`))),
    ...['1 2 4 3', '5 7 8 6', '1 5 6 2', '3 4 8 7', '1 3 7 5', '2 6 8 4'].map((f) => `f ${f}`),
  ].join('\n');
  test('an OBJ is brought in as it stands, sized, and drawn in every other browser', async () => {
    await tab('Things');
    await give('Stage piano.obj', CUBE);
    const model = await until('the model', async () => (await things()).find((t) => t.shape === 'model'));
    assert.deepEqual([model.name, model.size], ['Stage piano', { widthM: 2, depthM: 1, heightM: 3 }]);
    assert.deepEqual([model.model!.triangles, model.model!.of, model.model!.file], [12, 12, 'Stage piano.obj']);
    const answer = await fetch(`${stage.app.url}/api/blobs/${model.model!.blob}`);
    const mesh = readMesh(new Uint8Array(await answer.arrayBuffer()));
    assert.equal(mesh.index.length, 36);
    // Its y is our height: the cube's corners fill their box.
    assert.equal(Math.max(...mesh.places.filter((_, i) => i % 3 === 2)), 1);
    await fill('Width', '4 m');
    await until('wider', async () => (await things()).find((t) => t.id === model.id)!.size.widthM === 4);
    const other = await stage.open('/room');
    const asked = other.waitForResponse((r) => r.url().includes(model.model!.blob));
    await other.reload();
    assert.equal((await asked).status(), 200);
    await other.close();
  });
  test('what cannot be is said with its place, and nothing is put in', async () => {
    const before = await things();
    const alert = page.locator('.fault[role=alert]');
    await give(
      'outside.gltf',
      JSON.stringify({
        asset: { version: '2.0' },
        scenes: [{ nodes: [0] }],
        nodes: [{ mesh: 0 }],
        meshes: [{ primitives: [{ attributes: { POSITION: 0 } }] }],
        accessors: [{ bufferView: 0, componentType: 5126, count: 3, type: 'VEC3' }],
        bufferViews: [{ buffer: 0, byteLength: 36 }],
        buffers: [{ byteLength: 36, uri: 'outside.bin' }],
      }),
    );
    await alert.filter({ hasText: 'outside.gltf buffers[0]: Lies in another file' }).waitFor();
    await give('broken.glb', 'glTF is not this');
    await alert.filter({ hasText: 'broken.glb' }).waitFor();
    await give('bad.obj', `${CUBE}\nf 1 2 99`);
    await alert.filter({ hasText: 'bad.obj line 16: Has a corner that is not there: 99' }).waitFor();
    await give('plan.dwg', 'x');
    await alert.filter({ hasText: '“.dwg” is not taken' }).waitFor();
    assert.deepEqual(await things(), before);
  });
});

describe('light as it is shaped', () => {
  test('gobo, iris and blades take light away, and give it back', async () => {
    await tab('Unit');
    await page.getByRole('button', { name: 'Front', exact: true }).click();
    const hand = (set: object) => stage.app.command({ do: 'hand', set: { 'unit:spot2': set } });
    const dark = await settled();
    await hand({ Dimmer: 1, Shutter1: { range: 'Open', at: 0.5 } });
    await until('light', async () => (await brightness()) > dark * 1.005);
    const open = await settled();
    await hand({ Gobo1: { range: 'Reeds', at: 0.5 } });
    await until('less', async () => (await brightness()) - dark < (open - dark) * 0.85);
    await hand({ Gobo1: { range: 'Open', at: 0.5 } });
    await until('as it was', async () => Math.abs((await brightness()) - open) < (open - dark) * 0.1);
    await stage.app.command({ do: 'letGo' });
    await until('dark again', async () => Math.abs((await brightness()) - dark) < 20_000);

    await page.getByRole('button', { name: 'Audience', exact: true }).click();
    await choose('Exit wall');
    const unlit = await settled();
    await stage.app.command({ do: 'hand', set: { 'unit:exitwall': { Dimmer: 1 } } });
    await until('light', async () => (await brightness()) > unlit * 1.002);
    const wall = await settled();
    await fill('Bottom shutter, in', '90');
    await until('kept', async () => (await unit('Exit wall'))!.focus!.shutters![2]!.in === 0.9);
    await until('less', async () => (await settled()) < wall - 1000);
    await fill('Beam angle', '200');
    await page.getByText('Give 0.5 to 170.').waitFor();
    await page.keyboard.press('Escape');
    await fill('Name of the gel', 'Fennel');
    await until('its name', async () => (await unit('Exit wall'))!.focus!.gelName === 'Fennel');
    const sheet = await stage.open('/plot/focus');
    const row = sheet.getByRole('row', { name: /Exit wall/ });
    for (const words of ['stage left wall at 12 / 3 / 1.4', '60°', 'bottom 90 %', 'left 20 %, 12°', 'Fennel'])
      await row.getByText(words).first().waitFor();
    await sheet.close();
    await stage.app.command({ do: 'letGo' });
  });
});
