import assert from 'node:assert/strict';
import { after, before, describe, test } from 'node:test';
import type { Page } from 'playwright-core';
import type { NetworkState } from '../../src/core/protocol/network.ts';
import type { Standin } from '../../src/core/protocol/standin.ts';
import type { AnyRecord, LineRecord, UnitRecord } from '../../src/core/records/index.ts';
import { until } from '../support/app.ts';
import { Stage } from '../support/browser.ts';

let stage: Stage;
let page: Page;
before(async () => {
  stage = await Stage.start();
  page = await stage.open('/lines');
  await page.getByText(/^Sending \d of \d$/).waitFor();
});
after(async () => stage?.end());

const tab = (name: string): Promise<void> => page.getByRole('tab', { name, exact: true }).click();
const records = async (): Promise<AnyRecord[]> => (await stage.app.openShow()).records;
const unit = async (id: string): Promise<UnitRecord> => (await records()).find((r) => r.id === id) as UnitRecord;
const network = async (): Promise<NetworkState> =>
  (await stage.app.call<{ network: NetworkState }>('GET', '/api/network')).body.network;
const order = (body: object) => stage.app.call('POST', '/api/standins', body);
const standin = async (id: string): Promise<Standin> =>
  (await stage.app.health()).standins!.gateways.find((g) => g.id === id)!;
const fill = async (label: string, text: string): Promise<void> => {
  const field = page.getByLabel(label, { exact: true });
  await field.fill(text);
  await field.press('Enter');
};

describe('the signal path', () => {
  test('is one picture from what plays to the units, and every link says whether it lives', async () => {
    const path = page.getByRole('group', { name: 'Signal path' });
    const first = path.getByRole('region', { name: 'Universe 1' });
    await first
      .getByRole('button', { name: /Beam gateway/ })
      .first()
      .waitFor();
    await until('the stand-in to be heard', async () => /\/s, lost 0/.test((await first.textContent()) ?? ''));
    await first.getByRole('button', { name: /Side run/ }).click();
    const details = page.getByRole('complementary', { name: 'Link' });
    await details.getByText(/no terminator is noted/i).waitFor();
    await path.getByRole('region', { name: 'Universe 3' }).getByRole('button', { name: 'USB interface' }).waitFor();
  });
  test('a gateway that vanishes turns its links to broken, with what usually helps; back, they live again', async () => {
    await order({ id: 'gateway-sacn', misbehave: { vanished: true } });
    const second = page.getByRole('region', { name: 'Universe 2' });
    await second.getByText('does not work').first().waitFor();
    await second
      .getByRole('button', { name: /Beam gateway/ })
      .nth(1)
      .click();
    await page.getByRole('complementary', { name: 'Link' }).getByText('Packets leave and do not arrive').waitFor();
    await order({ id: 'gateway-sacn', misbehave: {} });
    await until('it to live again', async () => (await second.getByText('does not work').count()) === 0);
    assert.equal((await stage.app.health()).engine?.frameRateAsked, 40);
  });
  test('a second desk that wins is told on the universe', async () => {
    await order({ id: 'console', sends: { on: true, universe: 1, priority: 150, level: 0.5 } });
    const universe = page.getByRole('region', { name: 'Universe 1' }).getByRole('button', { name: /Universe 1/ });
    await until('the other source', async () => /Visiting desk/.test((await universe.getAttribute('title')) ?? ''));
    await universe.click();
    await page
      .getByText(/wins: its priority is 150, ours 100/)
      .first()
      .waitFor();
    await tab('Desk in');
    await page.getByText('Visiting desk (150)').waitFor();
    await order({ id: 'console', sends: { on: false, universe: 1, priority: 150, level: 0.5 } });
  });
});

describe('devices', () => {
  test('are found by looking, and added with one click', async () => {
    await tab('Devices');
    await page.getByRole('button', { name: 'Look for devices' }).click();
    const hub = page.getByRole('row').filter({ hasText: 'Ticket hut hub' });
    await hub.getByRole('button', { name: 'Add' }).click();
    await page.getByRole('heading', { name: 'Output' }).waitFor();
    await page.getByText(/Press its button, then pair/).waitFor();
  });
  test('a hub is paired by its button, lists its lamps, and a lamp shows the colour of its unit', async () => {
    const details = page.getByRole('complementary', { name: 'Output' });
    await details.getByRole('button', { name: 'Pair', exact: true }).click();
    await page.getByText(/button of the hub has not been pressed/i).waitFor();
    await tab('Stand-ins');
    await page.getByRole('button', { name: 'Press its button' }).click();
    await page.getByText(/pressed, counts for/).waitFor();
    await tab('Outputs');
    await details.getByRole('button', { name: 'Pair', exact: true }).click();
    await details.getByLabel('Hut door', { exact: true }).selectOption('unit:exitwall');
    await until('the mapping', async () =>
      (await records()).some((r) => r.kind === 'output' && r.lamps.some((l) => l.unitId === 'unit:exitwall')),
    );
    await stage.app.command({ do: 'hand', set: { 'unit:exitwall': { Dimmer: 1 } } });
    await until('the colour', async () => (await standin('hub')).lamps[0]?.colour === '#ffffff');
    await stage.app.command({ do: 'letGo' });
    await until('dark', async () => (await standin('hub')).lamps[0]?.colour === '#000000');
  });
  test('a string that knows its cells comes onto the plot with its shape and start slot, and one undo takes it back', async () => {
    await tab('Devices');
    await page
      .getByRole('row')
      .filter({ hasText: 'Counter tree' })
      .getByRole('button', { name: 'Onto the plot' })
      .click();
    const made = await until('the unit', async () =>
      (await records()).find((r): r is UnitRecord => r.kind === 'unit' && r.name === 'Counter tree'),
    );
    assert.deepEqual(made.patch, { universe: 8, address: 1 });
    assert.ok(made.cellPlaces && made.cellPlaces.length === 800);
    await page.keyboard.press('Control+z');
    await until('it to be gone', async () => !(await records()).some((r) => 'name' in r && r.name === 'Counter tree'));
  });
});

describe('RDM', () => {
  test('devices stand beside the patch: matching, different, in no unit, faulty', async () => {
    await tab('RDM');
    await page.getByRole('button', { name: 'Find RDM devices' }).click();
    await until(
      'all to be read',
      async () =>
        (await network()).rdm.every((d) => d.state === 'ready' || d.state === 'faulty') &&
        (await network()).rdm.length === 10,
      45,
    );
    await page.getByText(/10 devices: 6 match, 1 differ, 2 in no unit/).waitFor();
    const differs = page.getByRole('row').filter({ hasText: 'Beam 4' });
    assert.match((await differs.textContent()) ?? '', /Beam spot 4.*differs/s);
    await page.getByRole('row').filter({ hasText: 'answers rubbish' }).waitFor();
  });
  test('a device is set from the patch', async () => {
    await page.getByRole('row').filter({ hasText: 'Beam 4' }).getByRole('button', { name: 'Set the device' }).click();
    await until('it', async () => (await network()).rdm.find((d) => d.uid === '7ff1:0000a104')?.info?.footprint === 16);
    await page.getByText(/10 devices: 7 match, 0 differ/).waitFor();
  });
  test('a device is told apart by identify, and becomes a unit; its setting is taken into the patch', async () => {
    const row = page.getByRole('row').filter({ hasText: '7ff1:0000a103' });
    await row.getByRole('button', { name: /Identify/ }).click();
    await until(
      'it to identify',
      async () => (await network()).rdm.find((d) => d.uid === '7ff1:0000a103')?.identifying,
    );
    await row.getByRole('button', { name: 'That is it' }).click();
    await until('the unit', async () => (await unit('unit:spot3')).rdmUid === '7ff1:0000a103');
    await row.getByRole('button', { name: 'Take into the patch' }).click();
    await until('the address', async () => (await unit('unit:spot3')).patch?.address === 1);
    await page.keyboard.press('Control+z');
    await until('the old address', async () => (await unit('unit:spot3')).patch?.address === 33);
    await row.getByRole('button', { name: 'Set the device' }).click();
    await until(
      'the device',
      async () => (await network()).rdm.find((d) => d.uid === '7ff1:0000a103')?.info?.startAddress === 33,
    );
  });
  test('identify ends when the page goes', async () => {
    const other = await stage.open('/lines?tab=rdm');
    await other
      .getByRole('row')
      .filter({ hasText: 'Scanner L' })
      .getByRole('button', { name: /Identify/ })
      .click();
    const identifying = async () => (await network()).rdm.find((d) => d.uid === '7ff5:00000b01')?.identifying;
    await until('it', identifying);
    await other.close();
    await until('its end', async () => (await identifying()) === false);
  });
  test('what a device refuses is told with the reason', async () => {
    await page
      .getByRole('row')
      .filter({ hasText: 'borrowed' })
      .getByRole('button', { name: /borrowed/ })
      .click();
    await page.getByText('Low Harbour Electric').waitFor();
    await fill('Start address', '512');
    await page.getByText(/did not take address 512: the value is out of its range/i).waitFor();
  });
});

describe('the monitor', () => {
  test('shows the other end beside ours, marks what differs, and freezes', async () => {
    await stage.app.command({ do: 'hand', set: { 'unit:hire': { Dimmer: 0.5 } } });
    await tab('Monitor');
    await page.getByLabel('Universe', { exact: true }).selectOption({ label: 'Universe 3' });
    await page.getByLabel('Beside it').selectOption({ label: 'Bar gateway, port 1' });
    const grid = page.getByLabel(/512 slots of universe 3/);
    await grid.focus();
    await page.keyboard.press('Home');
    const value = page.getByTestId('monitor-value');
    await until('128', async () => (await value.textContent())?.trim() === '128');
    await until('the other end', async () => /there 128/.test((await page.locator('.owner').textContent()) ?? ''));
    await page.getByRole('button', { name: 'Freeze' }).click();
    await stage.app.command({ do: 'letGo' });
    await until('the other end at 0', async () => /there 0/.test((await page.locator('.owner').textContent()) ?? ''));
    assert.equal((await value.textContent())?.trim(), '128');
    await page.getByRole('button', { name: 'Freeze' }).click();
    await until('0', async () => (await value.textContent())?.trim() === '0');
    assert.match((await page.locator('.owner').textContent()) ?? '', /min 0 max 128/);
  });
  test('follows the selection, counts in hexadecimal, and draws bars', async () => {
    await page.getByRole('button', { name: 'Follow the selection' }).click();
    await page.keyboard.press('Control+k');
    await page.keyboard.type('Wash north 2');
    await page.keyboard.press('Enter');
    await page.getByLabel(/512 slots of universe 1/).waitFor();
    await until('its slot', async () => /1\.89/.test((await page.locator('.owner').textContent()) ?? ''));
    await page.getByLabel('Counting').selectOption({ label: 'hexadecimal' });
    await page.getByLabel('Look', { exact: true }).selectOption({ label: 'bars' });
    await page.getByLabel('Look', { exact: true }).selectOption({ label: 'by owner' });
    const owner = page.getByRole('region', { name: 'Wash north 2', exact: true });
    await owner.getByRole('button', { name: /Red/ }).first().click();
    await until('its slot to be looked at', async () =>
      /Wash north 2: Red/.test((await page.locator('.owner').textContent()) ?? ''),
    );
    await page.getByLabel('Look', { exact: true }).selectOption({ label: 'bars' });
    await until('two digits', async () =>
      /^[0-9A-F]{2}$/.test((await page.getByTestId('monitor-value').textContent())?.trim() ?? ''),
    );
  });
});

describe('test signals and trial faders', () => {
  test('one slot alone is stepped on until the lamp answers; it ends with the page', async () => {
    const other = await stage.open('/lines?tab=test');
    await other.getByLabel('Universe', { exact: true }).selectOption({ label: 'Universe 3' });
    await other.getByText('Find my slot').click();
    await other.getByRole('button', { name: 'Start' }).click();
    await until('slot 1', async () => (await stage.app.slots(3))[0] === 255);
    await other.getByRole('button', { name: 'Slot after' }).click();
    await until('slot 2', async () => {
      const slots = await stage.app.slots(3);
      return slots[0] === 0 && slots[1] === 255;
    });
    await stage.app.command({ do: 'grand', level: 0.5 });
    await until('the master to hold', async () => (await stage.app.slots(3))[1] === 127);
    await stage.app.command({ do: 'grand', level: 1 });
    await other.close();
    await until('its end', async () => (await stage.app.slots(3)).every((v) => v === 0), 6);
  });
  test('a signal without numbers that make sense does not start', async () => {
    await tab('Test');
    await page.getByLabel('Slots a second').fill('99');
    await page.getByRole('alert').filter({ hasText: '0.1 to 25' }).waitFor();
    assert.equal(await page.getByRole('button', { name: 'Start' }).isDisabled(), true);
    await page.getByLabel('Slots a second').fill('4');
    assert.equal(await page.getByRole('button', { name: 'Start' }).isDisabled(), false);
  });
  test('trial faders hold raw slots by hand, and let them go', async () => {
    await tab('Faders');
    await page.getByLabel('Universe', { exact: true }).selectOption({ label: 'Universe 3' });
    // They begin at the slot that was looked at last.
    const back = page.getByRole('button', { name: /^\d+ back$/ });
    while (await back.isEnabled()) await back.click();
    await page.getByLabel('Value of 3.1', { exact: true }).fill('200');
    await page.getByLabel('Value of 3.1', { exact: true }).press('Enter');
    await until('the value', async () => (await stage.app.slots(3))[0] === 200);
    await page.getByText('1 slot by hand').waitFor();
    await page.getByLabel('Value of 3.2', { exact: true }).fill('300');
    await page.getByLabel('Value of 3.2', { exact: true }).press('Enter');
    await page.getByText(/“300” is no value/).waitFor();
    await page.getByRole('button', { name: 'Let the slots go' }).click();
    await until('nothing held', async () => Object.keys((await stage.app.live()).raw).length === 0);
    await until('the end', async () => (await stage.app.slots(3))[0] === 0);
  });
});

test('the finder goes to any part of the step', async () => {
  await page.keyboard.press('Control+k');
  await page.keyboard.type('Lines: Faders');
  await page.keyboard.press('Enter');
  await page.getByRole('group', { name: 'Trial faders' }).waitFor();
  await page.goto(`${stage.app.url}/preflight`);
  await page.getByRole('button', { name: 'Lines' }).first().click();
  await page.getByRole('navigation', { name: 'Lines' }).waitFor();
});

describe('cables', () => {
  const line = async (): Promise<LineRecord> => (await records()).find((r) => r.id === 'line:bars') as LineRecord;
  test('are put in order by button and keyboard, get lengths, and complain about what will not work', async () => {
    await tab('Cables');
    await page.getByRole('button', { name: /Counter run/ }).click();
    await page.getByRole('button', { name: 'Move Counter bar 1 down' }).click();
    await until('the order', async () => (await line()).unitIds[1] === 'unit:bar1');
    await page.keyboard.press('Control+z');
    await until('the old order', async () => (await line()).unitIds[0] === 'unit:bar1');
    const length = page.getByLabel('Metres of cable to Counter bar 2');
    await length.fill('299,5');
    await length.press('Enter');
    await until('the length', async () => (await line()).cables['unit:bar2']?.lengthM === 299.5);
    const complaint = page
      .locator('.fault')
      .filter({ hasText: /315\.1 m of cable on one transmitter, 300 m is the most/i });
    await complaint.waitFor();
    await length.fill('long');
    await length.press('Enter');
    await page.getByText(/“long” is no length/).waitFor();
    await page
      .getByRole('button', { name: /Counter bar 2 / })
      .first()
      .click();
    await page.getByLabel('A splitter stands at its beginning').check();
    await until('the splitter', async () => (await line()).cables['unit:bar2']?.splitter === true);
    await until('no complaint', async () => (await complaint.count()) === 0);
  });
  test('are printed with the packing list', async () => {
    const print = await stage.open('/lines/print');
    await print.getByRole('heading', { name: 'To pack' }).waitFor();
    await print.getByText('DMX splitter output').waitFor();
    await print.getByRole('heading', { name: '1 Beam run' }).waitFor();
    await print.close();
  });
});

test('nothing went wrong inside the pages', () => assert.deepEqual(stage.errors, []));
