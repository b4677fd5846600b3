import assert from 'node:assert/strict';
import { readFileSync } from 'node:fs';
import { after, before, describe, test } from 'node:test';
import type { Page } from 'playwright-core';
import { readGdtf } from '../../src/core/format/gdtf/read.ts';
import { readProfiles, writeProfiles } from '../../src/core/format/profiles.ts';
import type { ProfileRecord, UnitRecord } from '../../src/core/records/index.ts';
import { footprintOf } from '../../src/core/profile/layout.ts';
import { until } from '../support/app.ts';
import { Stage } from '../support/browser.ts';

let stage: Stage;
let page: Page;
before(async () => {
  stage = await Stage.start();
  page = await stage.open('/kit');
  await page.getByText(/^Sending \d of \d$/).waitFor();
});
after(() => stage?.end());

const records = async () => (await stage.app.openShow()).records;
const own = async (model: string): Promise<ProfileRecord | undefined> =>
  (await records()).find((r) => r.kind === 'profile' && r.model === model) as ProfileRecord | undefined;
const written = (): Promise<ProfileRecord> => until('the profile', () => own('Test Head 14'));
const channel = async (name: string) => (await written()).channels.find((c) => c.name === name);
const list = () => page.getByRole('grid', { name: 'Profiles' });
const pick = (name: string) =>
  page
    .getByRole('listbox', { name: 'Channels of the profile' })
    .getByRole('option')
    .filter({ has: page.getByText(name, { exact: true }) })
    .first()
    .click();
const tab = (name: string) => page.getByRole('tab', { name, exact: true });
const fill = async (label: string, text: string): Promise<void> => {
  const field = page.getByLabel(label, { exact: true });
  await field.fill(text);
  await field.press('Enter');
};

describe('finding', () => {
  test('by words and channel count, by filters, and among favourites that every browser sees', async () => {
    await page.getByLabel('Search the kit').fill('14 ch spot');
    await until('one profile', async () => (await list().getByRole('row').count()) === 1);
    await page.getByRole('button', { name: 'Favourite Heron 150 Spot' }).click();
    await page.getByLabel('Search the kit').fill('');
    await page.getByLabel('Kind', { exact: true }).selectOption({ label: 'laser effect' });
    await until('the lasers', async () => (await list().getByRole('row').count()) === 2);
    await page.getByLabel('Kind', { exact: true }).selectOption({ label: 'all kinds' });
    const second = await stage.open('/kit');
    await second.getByLabel('Which', { exact: true }).selectOption({ label: 'favourites' });
    await second
      .getByRole('grid', { name: 'Profiles' })
      .getByRole('row', { name: /Heron 150 Spot/ })
      .waitFor();
    assert.equal(await second.getByRole('grid', { name: 'Profiles' }).getByRole('row').count(), 1);
  });

  test('modes side by side, and what the value under the pointer does', async () => {
    await page.getByLabel('Search the kit').fill('heron 150');
    await list().getByRole('row').first().click();
    await tab('Compare modes').click();
    await page.getByText('+ Level in 16 bit').waitFor();
    await tab('Channels').click();
    const ruler = page.getByRole('slider', { name: 'Values of Shutter' });
    await ruler.focus();
    for (let i = 0; i < 2; i++) await page.keyboard.press('ArrowUp');
    for (let i = 0; i < 3; i++) await page.keyboard.press('ArrowDown');
    await page.keyboard.press('ArrowRight');
    assert.match((await ruler.getAttribute('aria-valuetext')) ?? '', /^1: Closed$/);
    for (let i = 0; i < 4; i++) await page.keyboard.press('ArrowUp');
    assert.match((await ruler.getAttribute('aria-valuetext')) ?? '', /^65: Strobe slow to fast, \d+\.\d Hz$/);
  });
});

describe('writing a head with 14 channels from its manual', () => {
  const CHANNELS = [
    'Pan',
    'Tilt',
    'Pan and tilt speed',
    'Shutter',
    'Colour wheel',
    'Gobo wheel',
    'Gobo rotation',
    'Prism',
    'Zoom',
    'Focus',
    'Frost',
    'Reset',
  ];

  test('maker, model, and channels whose names say what they do', async () => {
    await page.getByRole('button', { name: 'New profile' }).click();
    await tab('About').click();
    await fill('Maker', 'Testers');
    await fill('Model', 'Test Head 14');
    await page.getByLabel('Kind', { exact: true }).selectOption({ label: 'moving head' });
    await fill('Power', '120');
    await fill('Pan range', '540');
    await tab('Channels').click();
    const name = page.getByLabel('Name of a new channel');
    const write = async (text: string): Promise<void> => {
      await name.fill(text);
      await name.press('Enter');
    };
    await write('Dimmer');
    await until('the channel nobody wrote to go', async () => (await written()).channels[0]?.name === 'Dimmer');
    await write('Pan');
    await until('Pan', () => channel('Pan'));
    await write('Pan fine');
    await page.getByRole('button', { name: 'Pan of 16 bit' }).press('Enter');
    await until('16 bit', async () => (await channel('Pan'))?.bits === 16);
    assert.equal(footprintOf((await written()).modes[0]!), 3, 'the mode has the slots as they were written');
    // The rest as it stands in the manual, pasted.
    await name.evaluate(
      (input, text) => {
        const clipboardData = new DataTransfer();
        clipboardData.setData('text/plain', text);
        input.dispatchEvent(new ClipboardEvent('paste', { clipboardData, bubbles: true, cancelable: true }));
      },
      CHANNELS.slice(1)
        .map((channel, i) => `${i + 4}\t${channel}`)
        .join('\n'),
    );
    await until('the last', () => channel('Reset'));
    assert.equal(footprintOf((await written()).modes[0]!), 14);
    const profile = await written();
    assert.deepEqual(
      profile.channels.map((c) => c.attribute),
      [
        'Dimmer',
        'Pan',
        'Tilt',
        'PanTiltSpeed',
        'Shutter1',
        'Color1',
        'Gobo1',
        'Gobo1Pos',
        'Prism1',
        'Zoom',
        'Focus1',
        'Frost1',
        'Control1',
      ],
    );
    assert.deepEqual([profile.maker, profile.physical.powerW, profile.physical.panDeg], ['Testers', 120, 540]);
  });

  test('a colour wheel from the pasted table, faults with their lines', async () => {
    await pick('Colour wheel');
    await page.getByRole('button', { name: 'Paste a manual’s table' }).click();
    const text = page.getByLabel('The manual’s table');
    await text.fill(
      'Colour wheel\n0-9\tWhite\n10–19 Red\n20-29: Blue\n30-25 Green\n40-255 Turning slow to fast (1-30 rpm)',
    );
    await page.getByRole('alert').filter({ hasText: 'Line 5' }).waitFor();
    await text.fill(
      'Colour wheel\n0-9\tWhite\n10–19 Red\n20-29: Blue\n30-39 Green\n40-255 Turning slow to fast (1-30 rpm)',
    );
    await page.getByRole('button', { name: 'Take 5 ranges' }).click();
    const wheel = await until('the ranges', async () => {
      const found = await channel('Colour wheel');
      return found && found.ranges.length === 5 ? found : null;
    });
    assert.deepEqual(
      wheel.ranges.map((r) => [r.from, r.to, r.colour]),
      [
        [0, 9, '#ffffff'],
        [10, 19, '#f02020'],
        [20, 29, '#2050f0'],
        [30, 39, '#20c040'],
        [40, 255, undefined],
      ],
    );
    assert.deepEqual(wheel.ranges[4]!.physical, { from: 1, to: 30, unit: 'rpm' });
  });

  test('an edge that is corrected takes its neighbour along; one that swallows it is refused', async () => {
    const to = page.getByLabel('To of Red', { exact: true });
    await to.fill('21');
    await to.press('Enter');
    await until('the neighbour', async () => (await channel('Colour wheel'))?.ranges[2]?.from === 22);
    await page.getByLabel('To of Red', { exact: true }).fill('60');
    await page.getByLabel('To of Red', { exact: true }).press('Enter');
    await page.getByRole('alert').filter({ hasText: 'would have nothing left' }).waitFor();
    await page.keyboard.press('Escape');
    await page.getByRole('button', { name: 'Undo' }).click();
    await until('undone', async () => (await channel('Colour wheel'))?.ranges[2]?.from === 20);
  });

  test('equal ranges for the gobos, and a picture for one', async () => {
    await pick('Gobo wheel');
    await page.getByRole('button', { name: 'Equal ranges' }).click();
    await page.getByLabel('Name, # is the number').fill('Gobo #');
    await page.getByRole('button', { name: 'Make them' }).click();
    await until('eight', async () => (await channel('Gobo wheel'))?.ranges.length === 8);
    await page.getByRole('button', { name: 'Look of Gobo 3' }).click();
    await page.getByRole('button', { name: 'sparks', exact: true }).click();
    await until('the picture', async () => (await channel('Gobo wheel'))?.ranges[2]?.picture === 'sparks');
    await page.getByLabel('PNG or SVG').setInputFiles({
      name: 'evil.svg',
      mimeType: 'image/svg+xml',
      buffer: Buffer.from(
        '<svg xmlns="http://www.w3.org/2000/svg" width="40" height="40"><script>document.title="hacked"</script><circle cx="20" cy="20" r="10"/></svg>',
      ),
    });
    const picture = await until('the upload', async () => {
      const { pictures } = await written();
      return pictures['evil'];
    });
    assert.match(picture, /^data:image\/png;base64,/);
    assert.notEqual(await page.title(), 'hacked');
    await page.keyboard.press('Escape');
  });

  test('two modes of the same channels, ordered with the buttons', async () => {
    await tab('Modes').click();
    const profile = await written();
    const mode = async () => (await written()).modes[0]!;
    for (const left of [13, 12]) {
      await page
        .getByRole('button', { name: 'Take slot 14 out' })
        .or(page.getByRole('button', { name: 'Take slot 13 out' }))
        .last()
        .click();
      await until('a slot less', async () => footprintOf(await mode()) === left);
    }
    await page.getByLabel('Add to the end').selectOption({ label: 'Frost' });
    await page.getByRole('button', { name: 'Add slot' }).click();
    await until('one by one', async () => footprintOf(await mode()) === 13);
    await page.getByRole('button', { name: 'Put the other channel in' }).click();
    await until('all at once', async () => footprintOf(await mode()) === 14);
    assert.equal(footprintOf((await written()).modes[0]!), 14);
    await page.getByRole('button', { name: 'Move slot 2 up' }).click();
    await until('the order', async () => {
      const first = (await written()).modes[0]!.slots[0]!;
      return 'channel' in first && first.channel === profile.channels.find((c) => c.name === 'Pan')!.key;
    });
    await page.getByLabel('Name of a new mode').fill('Short');
    await page.getByRole('button', { name: 'Mode', exact: true }).click();
    await until('a second mode', async () => (await written()).modes.length === 2);
    for (let i = 0; i < 3; i++) {
      const before = footprintOf((await written()).modes[1]!);
      await page
        .getByRole('button', { name: /^Take slot \d+ out$/ })
        .last()
        .click();
      await until('a shorter one', async () => footprintOf((await written()).modes[1]!) < before);
    }
    assert.deepEqual(
      (await written()).modes.map((m) => [m.name, footprintOf(m)]),
      [
        ['Mode 1', 14],
        ['Short', 11],
      ],
    );
    assert.equal(footprintOf((await written()).modes[0]!), 14);
  });

  test('tried on an address, it reaches the gateway, and ends with the page', async () => {
    await page.getByRole('button', { name: 'Mode 1', exact: true }).click();
    await page.getByLabel('First address').fill('1.300');
    await page.getByRole('button', { name: 'Send to this address' }).click();
    await page.getByLabel(/^Value of/).fill('77');
    await until('the byte at the gateway', async () => (await stage.app.received('gateway-sacn', 1))[299] === 77);
    await until('the page to say so', async () => /\b77\b/.test((await page.getByTestId('heard').textContent()) ?? ''));
    await page.getByRole('button', { name: 'Next channel' }).click();
    await page.getByRole('link', { name: 'Back to the Kit' }).click();
    await page.getByLabel('Search the kit').fill('test head');
    await list().getByRole('row').first().click();
    await until('nothing there any more', async () => (await stage.app.slots(1)).slice(299, 313).every((v) => v === 0));
  });
});

describe('more of the editor', () => {
  test('slots are dragged into another order', async () => {
    await page.getByRole('button', { name: 'Change profile' }).click();
    await tab('Modes').click();
    const rows = page.getByRole('list', { name: /^Slots of/ }).getByRole('listitem');
    const order = async () =>
      (await written()).modes[0]!.slots.map((s) => ('channel' in s ? `${s.channel}/${s.byte}` : '-'));
    const before = await order();
    const lying = (await rows.allInnerTexts()).join();
    const from = (await rows.nth(5).locator('.grip').boundingBox())!;
    const to = (await rows.nth(8).locator('.grip').boundingBox())!;
    await page.mouse.move(from.x + 5, from.y + 5);
    await page.mouse.down();
    await page.mouse.move(from.x + 5, from.y + 30, { steps: 6 });
    await page.mouse.move(to.x + 5, to.y + 12, { steps: 12 });
    // The others make room for it.
    await until('room for it', async () => (await rows.allInnerTexts()).join() !== lying);
    await page.mouse.up();
    const after = await until('another order', async () => {
      const now = await order();
      return JSON.stringify(now) === JSON.stringify(before) ? null : now;
    });
    assert.deepEqual([...after].sort(), [...before].sort());
    await page.getByRole('button', { name: 'Undo' }).click();
    await until('the old order', async () => JSON.stringify(await order()) === JSON.stringify(before));
  });

  test('cells repeat the same channels; a channel leaves all modes with it', async () => {
    await page.getByText('Add cells: the same channels').click();
    await page.getByLabel('Cells', { exact: true }).fill('6');
    await page.getByLabel('Zoom', { exact: true }).check();
    await page.getByLabel('Tilt', { exact: true }).check();
    await page.getByLabel('Pan', { exact: true }).check();
    await page.getByRole('button', { name: 'Add cells' }).click();
    // Pan is 16 bit here: it takes two slots in each cell.
    await until('all the cells', async () => footprintOf((await written()).modes[0]!) === 14 + 6 * 4);
    await page.getByRole('button', { name: 'Undo' }).click();
    await until('fourteen', async () => footprintOf((await written()).modes[0]!) === 14);
    await tab('Channels').click();
    await pick('Frost');
    await page.getByRole('button', { name: 'Remove Frost' }).click();
    await until('thirteen', async () => footprintOf((await written()).modes[0]!) === 13);
    await page.getByRole('button', { name: 'Undo' }).click();
    await until('fourteen again', async () => footprintOf((await written()).modes[0]!) === 14);
  });

  test('moods begin with a guess and are set by hand', async () => {
    await tab('Moods').click();
    await page.getByLabel('Gobo wheel when peak', { exact: true }).selectOption({ label: 'Gobo 8' });
    await until('the mood', async () => {
      const row = Object.values((await written()).moods)[0];
      return row && JSON.stringify(row[4]) === JSON.stringify({ range: 'Gobo 8', at: 0.5 });
    });
    await page.getByRole('button', { name: 'Guess again' }).click();
    await until('the guess', async () => Object.keys((await written()).moods).length === 0);
  });

  test('what an undocumented channel does is found out and named while it is tried', async () => {
    await tab('Channels').click();
    const now = page.getByRole('complementary', { name: 'Try it' });
    for (let i = 0; i < 20 && !/Reset/.test((await now.locator('.now').first().textContent()) ?? ''); i++)
      await page.getByRole('button', { name: 'Next channel' }).click();
    const fader = page.getByLabel('Value of Reset');
    await fader.fill('200');
    await page.getByRole('button', { name: 'Begins here (200)' }).click();
    await fader.fill('219');
    await page.getByLabel('What it does', { exact: true }).fill('Lamp on');
    await page.getByRole('button', { name: 'Name it' }).click();
    await until(
      'the range',
      async () =>
        JSON.stringify((await channel('Reset'))?.ranges) === JSON.stringify([{ from: 200, to: 219, name: 'Lamp on' }]),
    );
    await page.getByRole('link', { name: 'Back to the Kit' }).click();
  });
});

test('the editor fits a phone', async () => {
  const { id } = await written();
  const phone = await stage.open(`/kit/edit?id=${encodeURIComponent(id)}`, { width: 390, height: 844, touch: true });
  for (const name of ['About', 'Channels', 'Modes', 'Moods']) {
    await phone.getByRole('tab', { name, exact: true }).click();
    const over = await phone.evaluate(() => document.documentElement.scrollWidth - window.innerWidth);
    assert.ok(over <= 0, `${name} is ${over} px too wide`);
  }
});

describe('using it', () => {
  test('it is patched at once, and programmed', async () => {
    await page.getByLabel('Search the kit').fill('test head');
    await list().getByRole('row').first().click();
    await page.getByRole('radio', { name: /Mode 1/ }).check();
    await page.getByLabel('Name', { exact: true }).fill('My head');
    await page.getByRole('button', { name: 'Add unit' }).click();
    const unit = await until(
      'the unit',
      async () => (await records()).find((r) => r.kind === 'unit' && r.name === 'My head') as UnitRecord | undefined,
    );
    const { id } = await stage.app.openShow();
    const scene = {
      kind: 'scene',
      id: 'scene:head',
      number: 90,
      name: 'Head in red',
      values: { [unit.id]: { Dimmer: 1, Color1: { range: 'Red', at: 0 } } },
    };
    assert.equal((await stage.app.edit(id, { put: [scene] as never })).status, 200);
    assert.equal((await stage.app.command({ do: 'play', target: 'scene:head' })).status, 200, 'at once after the edit');
    const wheel = (await written()).modes[0]!.slots.findIndex((s) => 'channel' in s && /Colour/.test(s.channel));
    await until(
      'red on the wire',
      async () => (await stage.app.slots(unit.patch!.universe))[unit.patch!.address - 1 + wheel] === 10,
    );
  });

  test('a change that takes something away shows what it does before; what lost its home comes back with it', async () => {
    await page.getByRole('button', { name: 'Change profile' }).click();
    await pick('Colour wheel');
    const rename = async (from: string, to: string): Promise<void> => {
      const field = page.getByLabel(new RegExp(`^Name of ${from}$`));
      await field.fill(to);
      await field.press('Tab');
    };
    await rename('10-19', 'Crimson');
    const dialog = page.getByRole('dialog');
    await dialog.getByText('Head in red').waitFor();
    await dialog.getByText('there is no range “Red”').waitFor();
    await dialog.getByRole('button', { name: 'Change it' }).click();
    await until('the new name', async () => (await channel('Colour wheel'))?.ranges[1]?.name === 'Crimson');
    const scene = (await records()).find((r) => r.id === 'scene:head');
    assert.ok(scene?.kind === 'scene' && JSON.stringify(scene.values).includes('"Red"'), 'the value is kept');
    await rename('10-19', 'Red');
    await until('red again', async () => (await channel('Colour wheel'))?.ranges[1]?.name === 'Red');
    const unit = (await records()).find((r) => r.kind === 'unit' && r.name === 'My head') as UnitRecord;
    const wheel = (await written()).modes[0]!.slots.findIndex((s) => 'channel' in s && /Colour/.test(s.channel));
    await until(
      'red on the wire',
      async () => (await stage.app.slots(unit.patch!.universe))[unit.patch!.address - 1 + wheel] === 10,
    );
  });

  test('exported as GDTF and as a file of profiles, and brought in again', async () => {
    await page.getByRole('link', { name: 'Back to the Kit' }).click();
    await page.getByLabel('Search the kit').fill('test head');
    await list().getByRole('row').first().click();
    const [gdtf] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('button', { name: 'GDTF', exact: true }).click(),
    ]);
    const read = readGdtf(readFileSync(await gdtf.path()), () => 'profile:x');
    assert.deepEqual([read.faults, read.profiles], [[], [await written()]]);
    await page.getByRole('button', { name: 'Favourite Test Head 14' }).click();
    await page.getByLabel('Search the kit').fill('heron 150');
    await page.getByRole('button', { name: 'Favourite Heron 150 Spot' }).click();
    const [file] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('button', { name: 'Favourites as file' }).click(),
    ]);
    assert.deepEqual(
      readProfiles(readFileSync(await file.path())).profiles.map((p) => p.model),
      ['Test Head 14'],
    );
    const count = (await records()).length;
    await page
      .getByLabel('Import GDTF or profiles')
      .setInputFiles({ name: 'again.gdtf', mimeType: 'application/zip', buffer: readFileSync(await gdtf.path()) });
    await page.getByText('1 profile here already, the same.').waitFor();
    assert.equal((await records()).length, count);
    const { id } = await stage.app.openShow();
    const newer = { ...(await written()), revision: 2, notes: 'Second edition.' };
    await page.getByLabel('Import GDTF or profiles').setInputFiles({
      name: 'newer.kitepro',
      mimeType: 'application/zip',
      buffer: Buffer.from(writeProfiles([newer])),
    });
    await page.getByRole('button', { name: 'Take revision 2 of Test Head 14 (here: 1)' }).click();
    await until('the newer one', async () => (await written()).notes === 'Second edition.');
    assert.equal((await stage.app.openShow()).id, id);
    await page
      .getByLabel('Import GDTF or profiles')
      .setInputFiles({ name: 'broken.gdtf', mimeType: 'application/zip', buffer: Buffer.from('nonsense') });
    const failed = page.getByRole('alert').filter({ hasText: 'broken.gdtf was not imported.' });
    await failed.filter({ hasText: 'not a zip archive' }).waitFor();
    assert.equal(await page.getByText('here already, the same').count(), 0, 'nothing of an older import beside it');
    await failed.getByRole('button', { name: 'Close' }).click();
    await failed.waitFor({ state: 'detached' });
  });
});

describe('adding', () => {
  const form = () => page.locator('form').filter({ hasText: 'Add to the rig' });
  const add = () => form().getByRole('button', { name: /^Add (unit|\d+ units)$/ });
  const called = async (name: RegExp) =>
    (await records()).flatMap((r) => (r.kind === 'unit' && name.test(r.name) ? [r] : []));

  test('an arch is found by its name, as large as wanted, and six more get names of their own', async () => {
    await page.getByLabel('Search the kit').fill('arch');
    await list().getByRole('row', { name: /^Arch/ }).click();
    await page.getByRole('img', { name: 'Its 50 cells' }).waitFor();
    await fill('Cells', '60');
    await page.getByRole('img', { name: 'Its 60 cells' }).waitFor();
    for (const [count, names] of [
      ['2', ['Arch 1', 'Arch 2']],
      ['3', ['Arch 1', 'Arch 2', 'Arch 3', 'Arch 4', 'Arch 5']],
    ] as const) {
      await form().getByLabel('Units', { exact: true }).fill(count);
      await add().click();
      await until('them', async () => (await called(/^Arch \d+$/)).length === names.length);
      assert.deepEqual((await called(/^Arch \d+$/)).map((u) => u.name).sort(), names);
    }
    for (const { prop } of await called(/^Arch \d+$/))
      assert.ok(prop?.shape.shape === 'arch' && prop.shape.count === 60);
  });

  test('an address that is taken says who lives there and what is next; “after” makes a chain', async () => {
    const [first] = await called(/^Arch 1$/);
    const place = `${first!.patch!.universe}.${first!.patch!.address}`;
    await page.getByLabel('Search the kit').fill('plumlet rgb');
    await list()
      .getByRole('row', { name: /Plumlet RGB/ })
      .first()
      .click();
    await form().getByLabel('Name', { exact: true }).fill('Latecomer');
    await form().getByLabel('First address').fill(place);
    await page
      .getByRole('alert')
      .filter({ hasText: `${place}: ${first!.number} Arch 1 lives at` })
      .waitFor();
    assert.equal(await add().isDisabled(), true);
    const offer = form().getByRole('button', { name: /^Start at/ });
    const next = (await offer.textContent())!.replace('Start at ', '');
    await offer.click();
    await add().click();
    const [late] = await until('it', async () =>
      (await called(/^Latecomer$/)).length === 1 ? called(/^Latecomer$/) : null,
    );
    assert.equal(`${late!.patch!.universe}.${late!.patch!.address}`, next);
    await form().getByLabel('Name', { exact: true }).fill('Follower');
    await form().getByLabel('First address').fill(`after ${late!.number}`);
    await add().click();
    const [follower] = await until('the follower', async () =>
      (await called(/^Follower$/)).length === 1 ? called(/^Follower$/) : null,
    );
    assert.deepEqual(follower!.relation, { after: late!.id, gap: 0 });
  });
});

test('nothing went wrong inside the pages', () => assert.deepEqual(stage.errors, []));
