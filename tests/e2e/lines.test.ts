import assert from 'node:assert/strict';
import { after, before, describe, test } from 'node:test';
import type { Page } from 'playwright-core';
import type { AnyRecord, OutputRecord, SceneRecord } from '../../src/core/records/index.ts';
import { hearSacn, until } from '../support/app.ts';
import { Stage } from '../support/browser.ts';

let stage: Stage;
let page: Page;
const EAR = `127.203.${process.pid & 255}.9`;
let ear: Awaited<ReturnType<typeof hearSacn>>;
before(async () => {
  stage = await Stage.start();
  ear = await hearSacn(EAR, 5568);
  page = await stage.open('/lines');
  await page.getByText(/^Sending \d of \d$/).waitFor();
});
after(async () => {
  ear?.close();
  await stage?.end();
});

const records = async (): Promise<AnyRecord[]> => (await stage.app.openShow()).records;
const output = async (name: string) =>
  (await records()).find((r) => r.kind === 'output' && r.name === name) as OutputRecord | undefined;
const fill = async (label: string, text: string): Promise<void> => {
  const field = page.getByLabel(label, { exact: true });
  await field.fill(text);
  await field.press('Enter');
};

describe('a new way out', () => {
  test('is made, named and sent to an address, and packets arrive there', async () => {
    await page.getByRole('tab', { name: 'Outputs' }).click();
    await page.getByRole('button', { name: 'Output', exact: true }).click();
    await fill('Name', 'Booth node');
    await until('the name', () => output('Booth node'));
    await page.getByLabel('Protocol', { exact: true }).selectOption({ label: 'sACN' });
    await page.getByLabel('Sent to', { exact: true }).selectOption({ label: 'single addresses' });
    await fill('Addresses of the gateways', 'nonsense');
    await page.getByRole('alert').filter({ hasText: 'not an IPv4 address' }).waitFor();
    await fill('Addresses of the gateways', EAR);
    await until('the address', async () => (await output('Booth node'))?.destinations[0] === EAR);
    const made = (await output('Booth node'))!;
    assert.deepEqual([made.enabled, made.protocol, made.multicast], [true, 'sacn', false]);
    await until('packets', () => ear.packets.length > 10);
    // A new output sends what the rig has: all of its universes.
    await until('every universe', () => [1, 2, 3].every((u) => ear.packets.some((p) => p.universe === u)));
  });

  test('its universe gets another number out there, and the old stream is ended', async () => {
    const field = page.getByLabel('Universe on the wire', { exact: true }).first();
    await field.fill('77');
    await field.press('Enter');
    await until('the new number', () => ear.packets.some((p) => p.universe === 77));
    await until(
      'the end of the old one',
      () => ear.packets.filter((p) => p.universe === 1 && p.terminated).length === 3,
    );
  });

  test('switched off it is silent, and says so; removed it is gone with its routes, and comes back', async () => {
    await page.getByLabel('Sends').uncheck();
    await until('the end', () => ear.packets.filter((p) => p.universe === 77 && p.terminated).length === 3);
    const count = ear.packets.length;
    await page.getByLabel('Sends').check();
    await until('packets again', () => ear.packets.length > count + 5);
    const routes = (await records()).filter((r) => r.kind === 'route').length;
    const gone = (await output('Booth node'))!;
    const own = (await records()).filter((r) => r.kind === 'route' && r.outputId === gone.id).length;
    await page.getByRole('button', { name: 'Remove output' }).click();
    await until('it is gone', async () => !(await output('Booth node')));
    assert.equal((await records()).filter((r) => r.kind === 'route').length, routes - own);
    await page.keyboard.press('Control+z');
    await until('it is back', () => output('Booth node'));
  });

  test('the monitor counts in percent, too, and knows who owns each slot', async () => {
    await stage.app.command({ do: 'hand', set: { 'unit:hire': { Dimmer: 0.5 } } });
    await page.getByRole('tab', { name: 'Monitor' }).click();
    await page.getByLabel('Universe', { exact: true }).selectOption({ label: 'Universe 3' });
    const grid = page.getByLabel(/512 slots of universe 3/);
    await grid.focus();
    await page.keyboard.press('Home');
    const value = page.getByTestId('monitor-value');
    await until('128', async () => (await value.textContent())?.trim() === '128');
    await page.getByText('Skate-hire sign: Level').waitFor();
    await page.getByLabel('Counting').selectOption({ label: 'percent' });
    await until('percent', async () => /^50(\.\d)? %$/.test((await value.textContent())?.trim() ?? ''));
    await stage.app.command({ do: 'letGo' });
  });
});

describe('settings', () => {
  test('frame rate and room are the show’s; the theme is this browser’s', async () => {
    await page.goto(`${stage.app.url}/settings`);
    await fill('Frames a second (10-44)', '60');
    await page.getByRole('alert').waitFor();
    await fill('Frames a second (10-44)', '30');
    await until('thirty', async () => (await stage.app.health()).engine?.frameRateAsked === 30);
    await fill('Width', '30,5');
    await until('the room', async () => (await records()).some((r) => r.kind === 'show' && r.room.widthM === 30.5));
    await page.getByRole('button', { name: 'Light' }).click();
    assert.equal(await page.evaluate(() => document.documentElement.dataset['theme']), 'light');
    await page.reload();
    await until('light still', () => page.evaluate(() => document.documentElement.dataset['theme'] === 'light'));
    const other = await stage.open('/settings');
    assert.equal(await other.evaluate(() => document.documentElement.dataset['theme']), 'dark');
    await page.getByRole('button', { name: 'Dark', exact: true }).last().click();
  });
});

describe('scenes by hand', () => {
  const scene = async (name: string) =>
    (await records()).find((r) => r.kind === 'scene' && r.name === name) as SceneRecord;
  test('an attribute is taken out of a scene, and is not sent by it any more', async () => {
    await page.goto(`${stage.app.url}/scenes`);
    await page
      .getByRole('navigation', { name: 'Scenes and chases' })
      .getByRole('button', { name: 'Doors open', exact: true })
      .click();
    await page.getByRole('button', { name: 'Take Level of Skate-hire sign out' }).click();
    await until('it is out', async () => !('unit:hire' in (await scene('Doors open')).values));
    await page.keyboard.press('Control+z');
    await until('it is in again', async () => 'unit:hire' in (await scene('Doors open')).values);
  });
  test('fades take seconds, also with a comma; nonsense stays in the field with the reason', async () => {
    await fill('Fade in', '2,5');
    await until('the fade', async () => (await scene('Doors open')).fadeInMs === 2500);
    await fill('Fade in', 'soon');
    await page.getByRole('alert').filter({ hasText: '0 to 3600 seconds' }).waitFor();
    assert.equal(await page.getByLabel('Fade in', { exact: true }).inputValue(), 'soon');
    await page.getByLabel('Fade in', { exact: true }).press('Escape');
    assert.equal(await page.getByLabel('Fade in', { exact: true }).inputValue(), '2.5');
  });
  test('a scene goes into the hand, is changed there, and is stored over itself', async () => {
    await page.getByRole('button', { name: 'Into the hand' }).click();
    await until('the hand', async () => Object.keys((await stage.app.live()).hand).length === 16);
    await stage.app.command({ do: 'hand', set: { 'unit:hire': { Dimmer: 0.25 } } });
    await page.getByRole('button', { name: 'Store hand here' }).click();
    await until('the level', async () => (await scene('Doors open')).values['unit:hire']?.['Dimmer'] === 0.25);
    await until('an empty hand', async () => Object.keys((await stage.app.live()).hand).length === 0);
  });
  test('it is duplicated, renamed and removed with its place in chases', async () => {
    await page.getByRole('button', { name: 'Duplicate' }).click();
    await fill('Name', 'Doors again');
    await until('the copy', () => scene('Doors again'));
    assert.deepEqual((await scene('Doors again')).values, (await scene('Doors open')).values);
    await page.getByRole('button', { name: 'Remove', exact: true }).click();
    await until('it is gone', async () => !(await scene('Doors again')));
  });
});

describe('keep', () => {
  test('the history tells what was done, and by undoing what was undone', async () => {
    await page.goto(`${stage.app.url}/keep`);
    await page.getByText('Store into Doors open').first().waitFor();
    await page.getByRole('button', { name: 'Undo' }).click();
    await page
      .getByText(/^Undone: /)
      .first()
      .waitFor();
    await page.getByRole('button', { name: 'Redo' }).click();
    await page
      .getByText(/^Redone: /)
      .first()
      .waitFor();
  });
  test('another show is created, opened and deleted; everybody sees which is open', async () => {
    const second = await stage.open('/patch');
    await second.getByText('Beam spot 1').first().waitFor();
    await page.getByLabel('Name of another show').fill('Second hall');
    await page.getByRole('button', { name: 'Create and open' }).click();
    const row = page.getByRole('row').filter({ hasText: 'Second hall' });
    await second.getByText('No units yet').waitFor();
    await page.getByRole('row').filter({ hasText: 'Copperline Rink' }).getByRole('button', { name: 'Open' }).click();
    await second.getByText('Beam spot 1').first().waitFor();
    await row.getByRole('button', { name: 'Delete…' }).click();
    await row.getByRole('button', { name: 'Delete', exact: true }).click();
    await until('it is gone', async () => (await row.count()) === 0);
  });
});

test('nothing went wrong inside the pages', () => assert.deepEqual(stage.errors, []));
