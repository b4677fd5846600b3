import assert from 'node:assert/strict';
import { after, before, describe, test } from 'node:test';
import type { Page } from 'playwright-core';
import { until } from '../support/app.ts';
import { pixelsAt, Stage } from '../support/browser.ts';

let stage: Stage;
let page: Page;
before(async () => {
  stage = await Stage.start();
  page = await stage.open('/scenes');
});
after(() => stage?.end());

const record = async (kind: 'scene' | 'chase', name: string) =>
  (await stage.app.openShow()).records.find((r) => r.kind === kind && r.name === name);
const slots = (universe: number): Promise<number[]> => stage.app.slots(universe);
const step = (name: string) =>
  page.getByRole('navigation', { name: 'Steps' }).getByRole('link', { name, exact: false });
const level = () => page.getByRole('region', { name: 'Level' }).getByRole('slider').first();

/** Makes a look with a group and its level, and stores it. */
async function storeScene(group: string, name: string, keys: string): Promise<void> {
  await page.keyboard.press('Escape');
  await page.getByRole('contentinfo').getByRole('button', { name: group }).click();
  await level().focus();
  await page.keyboard.press(keys);
  await page.getByRole('button', { name: 'Store', exact: true }).click();
  await page.getByLabel('Name of the new scene').fill(name);
  await page.getByRole('button', { name: 'New scene' }).click();
  await until(`scene ${name}`, () => record('scene', name));
}

describe('making looks', () => {
  test('what the hand does is sent at once', async () => {
    await page.getByRole('contentinfo').getByRole('button', { name: 'House lamps' }).click();
    await level().focus();
    await page.keyboard.press('End');
    await until('the house lamps at full', async () => {
      const s = await slots(3);
      return [1, 2, 3, 6].every((a) => s[a - 1] === 255) && s[3] === 0;
    });
    await page.keyboard.press('l');
    await until('dark again', async () => (await slots(3)).every((v) => v === 0));
  });

  test('a scene holds exactly the attributes that were touched', async () => {
    await storeScene('House lamps', 'Lamps full', 'End');
    const scene = await record('scene', 'Lamps full');
    assert.ok(scene?.kind === 'scene');
    assert.deepEqual(Object.keys(scene.values).sort(), ['unit:exitwall', 'unit:festoon', 'unit:hire', 'unit:snack']);
    for (const values of Object.values(scene.values)) assert.deepEqual(values, { Dimmer: 1 });
    assert.deepEqual((await stage.app.live()).hand, {}, 'the hand lets go when it has been stored');
  });

  test('colours and named ranges go in as what they are', async () => {
    await page.keyboard.press('Escape');
    await page.getByRole('contentinfo').getByRole('button', { name: 'Beam spots' }).click();
    await page.getByRole('tab', { name: 'Beam' }).click();
    await page.getByLabel(/^Gobo wheel: range/).selectOption({ label: 'Kites' });
    await until('gobos on the wire', async () => (await stage.app.live()).hand['unit:spot1']?.['Gobo1']);
    const live = await stage.app.live();
    assert.equal((live.hand['unit:spot1']!['Gobo1'] as { range: string }).range, 'Kites');
    await until('its slot', async () => {
      const value = (await slots(1))[9]!;
      return value >= 48 && value <= 63;
    });
    await page.keyboard.press('Escape');
    await page.getByRole('contentinfo').getByRole('button', { name: 'Let go', exact: true }).first().click();
    await until('the hand is empty', async () => Object.keys((await stage.app.live()).hand).length === 0);
  });

  test('a chase of two scenes is built, ordered and played; the gateway gets what the monitor shows', async () => {
    await storeScene('All washes', 'Washes up', 'End');
    await page.getByRole('button', { name: 'Chase', exact: true }).click();
    const add = page.getByLabel('Scene to add');
    for (const name of ['Washes up', 'Lamps full']) {
      await add.selectOption({ label: name });
      await page.getByRole('button', { name: 'Add step' }).click();
    }
    const hold = page.getByLabel('Hold', { exact: true });
    await hold.fill('600');
    await hold.press('Enter');
    const fade = page.getByLabel('Fade', { exact: true });
    await fade.fill('0');
    await fade.press('Enter');
    await page.getByRole('button', { name: 'Move step 2 up' }).click();
    const chase = await until('the chase', async () => {
      const { records } = await stage.app.openShow();
      const found = records.find((r) => r.kind === 'chase' && r.hold === 600);
      return found?.kind === 'chase' && found.fade === 0 && found.steps.length === 2 ? found : null;
    });
    const lamps = await record('scene', 'Lamps full');
    await until('lamps first', async () => {
      const now = (await stage.app.openShow()).records.find((r) => r.id === chase.id);
      return now?.kind === 'chase' && now.steps[0]!.sceneId === lamps!.id;
    });
    await page.getByRole('button', { name: 'Play', exact: true }).click();
    await until('lamps at the gateway', async () => (await stage.app.received('gateway-artnet', 0))[0] === 255);
    await page.getByRole('list', { name: 'Playing now' }).getByText(chase.name).waitFor();

    await step('Lines').click();
    await page.getByRole('tab', { name: 'Monitor' }).click();
    await page.getByLabel('Universe', { exact: true }).selectOption({ label: 'Universe 3' });
    const grid = page.getByLabel(/512 slots of universe 3/);
    await grid.focus();
    await page.keyboard.press('Home');
    const shown = page.getByTestId('monitor-value');
    const received = await stage.app.received('gateway-artnet', 0);
    for (let address = 1; address <= 8; address++) {
      const wanted = String(received[address - 1]);
      await until(`slot ${address} to show ${wanted}`, async () => (await shown.textContent())?.trim() === wanted);
      await page.keyboard.press('ArrowRight');
    }
  });
});

describe('running the show', () => {
  test('pads play and let go; several at once', async () => {
    await step('Show').click();
    await page.getByRole('button', { name: 'Let all go' }).click();
    const pads = page.locator('button.pad');
    await pads.filter({ hasText: 'Lamps full' }).click();
    await pads.filter({ hasText: 'Washes up' }).click();
    await until('both', async () => {
      const playing = (await stage.app.live()).playing.filter((p) => p.releasedAt === null);
      return playing.length === 2;
    });
    assert.equal(await pads.filter({ hasText: 'Lamps full' }).getAttribute('aria-pressed'), 'true');
    await until('light', async () => (await slots(3))[0] === 255 && (await slots(1))[80] === 255);
    await pads.filter({ hasText: 'Washes up' }).click();
    await until('one fading', async () => (await slots(1))[80] === 0);
    assert.equal((await slots(3))[0], 255);
  });

  test('grand master and Dark', async () => {
    const grand = page.getByLabel('Grand master', { exact: true });
    await grand.focus();
    await page.keyboard.press('Home');
    await until('nothing left', async () => (await slots(3))[0] === 0);
    await page.keyboard.press('End');
    await until('all back', async () => (await slots(3))[0] === 255);
    const dark = page.getByRole('button', { name: 'Dark' }).first();
    await dark.click();
    await until('dark', async () => (await slots(3))[0] === 0);
    assert.equal((await stage.app.live()).dark.on, true);
    await dark.click();
    await until('light again', async () => (await slots(3))[0] === 255);
  });

  test('what plays is still shown and sent after a reload, and in another browser', async () => {
    await page.reload();
    await page.getByRole('list', { name: 'Playing now' }).getByText('Lamps full').waitFor();
    const second = await stage.open('/show');
    await second.getByRole('list', { name: 'Playing now' }).getByText('Lamps full').waitFor();
    await second.getByRole('button', { name: 'Fade out Lamps full' }).click();
    await until('dark', async () => (await slots(3))[0] === 0);
    await page.getByText('Nothing playing').waitFor();
  });

  test('holding F lights the selection at full, letting go lets it go', async () => {
    await step('Plot').click();
    await page.getByRole('contentinfo').getByRole('button', { name: 'House lamps' }).click();
    await page.keyboard.down('f');
    await until('alight', async () => (await slots(3))[0] === 255);
    await page.keyboard.up('f');
    await until('dark', async () => (await slots(3))[0] === 0);
  });

  test('the plot glows with what is sent, cell by cell', async () => {
    const colourAt = async (id: string): Promise<number[]> => {
      const places = JSON.parse((await page.getByRole('application').getAttribute('data-places')) ?? '{}') as Record<
        string,
        { x: number; y: number }
      >;
      const at = places[id]!;
      const box = (await page.getByRole('application').boundingBox())!;
      return (await pixelsAt(page, { x: box.x + at.x, y: box.y + at.y }, 2))[0]!;
    };
    await page.keyboard.press('Escape');
    await stage.app.command({
      do: 'hand',
      set: { 'unit:wash2': { Dimmer: 1, ColorRGB_Red: 0, ColorRGB_Green: 0, ColorRGB_Blue: 1 } },
    });
    await until('blue on the plan', async () => {
      const [red, , blue] = await colourAt('unit:wash2');
      return blue! > 180 && red! < 120;
    });
    await stage.app.command({ do: 'letGo' });
    await until('dark on the plan', async () => (await colourAt('unit:wash2'))[2]! < 90);
  });
});

test('nothing went wrong inside the pages', () => assert.deepEqual(stage.errors, []));
