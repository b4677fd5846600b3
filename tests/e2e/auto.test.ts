import assert from 'node:assert/strict';
import { after, before, test } from 'node:test';
import type { Page } from 'playwright-core';
import { builtInProfiles } from '../../src/core/profile/library.ts';
import { make } from '../../src/core/records/index.ts';
import { until } from '../support/app.ts';
import { Stage } from '../support/browser.ts';

let stage: Stage;
let page: Page;
before(async () => {
  stage = await Stage.start();
  page = await stage.open('/show');
});
after(() => stage?.end());

const auto = async () => (await stage.app.live()).auto;
/** What is said of it on its page. */
const why = (of: Page = page) => of.locator('p.why');
const press = (name: string, of: Page = page) =>
  of.getByRole('main').getByRole('button', { name, exact: true }).click();

test('one press, and the rig plays: it says what, why and what comes next, in every browser', async () => {
  await page.getByRole('button', { name: 'Auto', exact: true }).click();
  const chip = (of: Page) => of.getByRole('button', { name: /^Auto: easy, then another phrase, in \d+ (bar|beat)/ });
  await chip(page).waitFor();
  const phone = await stage.open('/show', { width: 390, height: 844, touch: true });
  await chip(phone).click();
  await phone.getByRole('button', { name: 'End Auto' }).waitFor();
  await phone.getByText(/easy: no music is known: it goes by the tempo/).waitFor();
  assert.equal(await phone.evaluate(() => document.documentElement.scrollWidth <= innerWidth), true);
  await phone.getByRole('link', { name: /All of Auto/ }).click();
  await phone.getByText('Plays now').waitFor();
  assert.equal(await phone.evaluate(() => document.documentElement.scrollWidth <= innerWidth), true);
  await phone.close();
});

test('the mood is held, and let go', async () => {
  await page.getByRole('tab', { name: 'Auto' }).click();
  const moods = page.getByRole('group', { name: 'Mood of Auto' });
  await moods.getByRole('button', { name: 'peak' }).click();
  await why()
    .getByText(/peak, held/)
    .waitFor();
  await moods.getByRole('button', { name: 'As the music has it' }).click();
  await why().getByText('easy').waitFor();
});

test('next: other ideas from the next bar on; held, it stays', async () => {
  const before = JSON.stringify((await auto())!.now!.cast);
  await press('Next');
  await until('another', async () => JSON.stringify((await auto())!.now!.cast) !== before);
  await press('Hold this');
  await why()
    .getByText(/is held/)
    .waitFor();
  await press('Held: let go');
  await until('let go', async () => (await auto())!.hold === false);
});

test('its page: not this again, more, colours and roles', async () => {
  const wash = (await auto())!.now!.cast.find(({ role }) => role === 'wash')!;
  await page
    .getByRole('button', { name: `Not this again: ${wash.name}` })
    .first()
    .click();
  await until('something else', async () =>
    (await auto())!.now!.cast.every(({ role, idea }) => role !== 'wash' || idea !== wash.idea),
  );
  const { records } = await stage.app.openShow();
  const variant = records.find((r) => r.kind === 'variant');
  assert.deepEqual(variant?.kind === 'variant' && variant.moods.easy?.roles.wash?.never, [wash.idea]);
  await page.getByRole('button', { name: 'more', exact: true }).click();
  await until('lively', async () => (await auto())!.now!.mood === 'lively');
  await page.getByRole('button', { name: 'Hold these' }).click();
  await page.getByLabel('Colour 1', { exact: true }).waitFor();
  await page.getByRole('button', { name: /^beams/ }).click();
  await until('no beams', async () => (await auto())!.now!.cast.every(({ role }) => role !== 'beams'));
  await page.getByLabel('Auto in North washes').selectOption('none');
  const north = (await stage.app.openShow()).records.find((r) => r.kind === 'group' && r.name === 'North washes')!;
  await until('left alone', async () =>
    (await auto())!.plays.every(
      (p) =>
        p.releasedAt !== null ||
        (p.on ?? []).every((id) => north.kind !== 'group' || !north.unitIds.includes(id as never)),
    ),
  );
  // All of it back, for what follows.
  await page.getByLabel('Auto in North washes').selectOption('');
  await page.getByRole('button', { name: /^beams/ }).click();
  await page.getByRole('button', { name: 'Its own again' }).click();
  await page.getByRole('button', { name: 'as it is', exact: true }).click();
  await until('as it was', async () => (await auto())!.lean === 0 && (await auto())!.roles === null);
});

test('a hand lies over it: what it sets stays, the rest goes on', async () => {
  const { records } = await stage.app.openShow();
  const washes = records.find((r) => r.kind === 'group' && r.name === 'All washes')!;
  const first = records.find((r) => washes.kind === 'group' && r.id === washes.unitIds[0])!;
  assert.ok(first.kind === 'unit' && first.patch && 'universe' in first.patch);
  const { universe, address } = first.patch;
  const own = async () => (await stage.app.slots(universe)).slice(address - 1, address + 5).join();
  await page
    .getByRole('contentinfo')
    .getByRole('button', { name: /All washes/ })
    .click();
  await page.getByRole('contentinfo').getByRole('button', { name: 'Red', exact: true }).click();
  await until('by hand', async () => Object.keys((await stage.app.live()).hand).length > 0);
  let [red, same] = ['', 0];
  await until('it stands', async () => {
    const now = await own();
    same = now === red ? same + 1 : 0;
    red = now;
    return same >= 5;
  });
  // Another take does not reach it, and all else changes.
  await press('Another take');
  const before = JSON.stringify((await auto())!.now!.cast);
  await until('another take', async () => JSON.stringify((await auto())!.now!.cast) !== before);
  assert.equal(await own(), red);
  await stage.app.command({ do: 'letGo' });
  await until('it plays again', async () => (await own()) !== red);
  await page.keyboard.press('Escape');
});

test('what may play is taught, kept under a name, undone', async () => {
  await page.getByRole('tab', { name: 'What may play' }).click();
  await page.getByRole('button', { name: 'Keep under another name' }).click();
  await page.getByLabel('Keep as').fill('Quiet Sunday');
  await page.keyboard.press('Enter');
  const variant = async () => {
    const { records } = await stage.app.openShow();
    return records.flatMap((r) => (r.kind === 'variant' && r.name === 'Quiet Sunday' ? [r] : []))[0];
  };
  await until('kept', variant);
  await page.getByRole('button', { name: 'calm', exact: true }).last().click();
  await page.getByRole('button', { name: /Comets/ }).click();
  await until('comets', async () => (await variant())?.moods.calm?.roles.pixels?.also[0] === 'comet');
  await page.getByLabel('Something changes after').fill('12');
  await page.keyboard.press('Enter');
  await until('twelve bars', async () => (await variant())?.moods.calm?.bars === 12);
  await page.getByLabel('Something changes after').fill('twelve');
  await page.keyboard.press('Enter');
  await page.getByText('Give a whole number from 1 to 64.').waitFor();
  await page.keyboard.press('Escape');
  await page.getByLabel('What is seen in silence').selectOption({ label: 'Doors open' });
  await until('a house look', async () => (await variant())?.silence.sceneId === 'scene:doors');
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await until('undone', async () => (await variant())?.silence.sceneId === null);
  const { records } = await stage.app.openShow();
  const lamps = records.flatMap((r) => (r.kind === 'group' && r.name === 'House lamps' ? r.unitIds : []));
  await page.getByRole('tab', { name: 'Who does what' }).click();
  await page.getByLabel('Role of House lamps').selectOption('wash');
  await until('lamps wash', async () => (await auto())!.plays.some((p) => lamps.some((id) => p.on?.includes(id))));
  await page.getByLabel('Role of House lamps').selectOption('');
});

test('silence of the ear: calm, then the house look; music again, and it plays', async () => {
  await stage.app.command({ do: 'ear', source: 'page:test' });
  const said = (silent: boolean, mood: string | null) =>
    stage.app.command({ do: 'earSays', source: 'page:test', silent, mood, turn: null });
  await said(false, 'strong');
  await page.getByRole('tab', { name: 'Now' }).click();
  await why()
    .getByText(/as the ear hears it/)
    .waitFor();
  await page.getByRole('tab', { name: 'What may play' }).click();
  await page.getByLabel('After', { exact: true }).fill('3');
  await page.keyboard.press('Enter');
  await page.getByLabel('What is seen in silence').selectOption({ label: 'Doors open' });
  await said(true, null);
  await page.getByRole('tab', { name: 'Now' }).click();
  await why()
    .getByText(/silence: Doors open/)
    .waitFor();
  await said(false, 'lively');
  await why()
    .getByText(/as the ear hears it/)
    .waitFor();
  await stage.app.command({ do: 'ear', source: null });
});

test('the plan of a song is seen beforehand, and a moment of it on the plot, without being sent', async () => {
  await page.getByRole('tab', { name: 'Plan of a song' }).click();
  await page.getByLabel('Song', { exact: true }).selectOption({ label: 'Night Ferry' });
  const slide = page.getByRole('slider', { name: 'Moment of the song' });
  await slide.fill('45');
  await page.getByText('0:45', { exact: true }).waitFor();
  const sent = (await auto())!.now!.key;
  await page.getByRole('button', { name: 'See it on the plot' }).click();
  const peek = page.getByRole('region', { name: 'A moment of the plan' });
  await peek.getByText(/Night Ferry as Auto will play it, 0:45/).waitFor();
  assert.equal((await auto())!.now!.key.split(' ')[0], sent.split(' ')[0], 'the show goes on as it was');
  await peek.getByRole('slider').fill('10');
  await peek.getByText(/0:10/).waitFor();
  await peek.getByRole('button', { name: 'Back to what is sent' }).click();
  await peek.waitFor({ state: 'detached' });
});

test('with a song it goes by its sections, and by the tempo when that is over', async () => {
  await page.goto(`${stage.app.url}/music`);
  await page
    .getByRole('navigation', { name: 'Songs' })
    .getByRole('button', { name: /^♪?Night Ferry/ })
    .click();
  await page.getByRole('button', { name: 'Play', exact: true }).first().click();
  const chip = page.getByRole('button', { name: /^Auto: / });
  await chip.click();
  await page.getByText(/A begins, strong/).waitFor();
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'End the song' }).click();
  await chip.click();
  await page.getByText(/goes by the tempo/).waitFor();
});

test('after a reload it is still there; ended it fades out and is gone', async () => {
  await page.reload();
  await page.getByRole('button', { name: /^Auto: / }).click();
  await page.getByRole('button', { name: 'End Auto' }).click();
  await page.getByRole('button', { name: /^Auto: / }).waitFor({ state: 'detached' });
  await until('nothing is left', async () => (await auto())?.plays.length === 0);
  // What was taught stays for the next time.
  assert.deepEqual([(await auto())!.on, (await auto())!.variantId !== null], [false, true]);
});

test('in an empty show it says what is missing; with units it plays', async () => {
  const made = await stage.app.call('POST', '/api/shows', { name: 'Empty' });
  const opened = await stage.app.call('POST', `/api/shows/${encodeURIComponent(String(made.body['id']))}/open`);
  assert.equal(opened.status, 200, JSON.stringify([made.body, opened.body]));
  await page.goto(`${stage.app.url}/show`);
  await page.getByRole('tab', { name: 'Auto' }).click();
  await page.getByText('No unit of this show gives light yet.').waitFor();
  await page.getByRole('button', { name: 'Let the light follow the music' }).click();
  const { id } = await stage.app.openShow();
  const profile = builtInProfiles().find((p) => p.id === 'profile:generic-dimmer')!;
  const units = [1, 2, 3].map((n) =>
    make('unit', {
      id: `unit:lamp${n}`,
      number: n,
      name: `Lamp ${n}`,
      profileId: profile.id,
      mode: '1ch',
      patch: { universe: 1, address: n },
    }),
  );
  assert.equal((await stage.app.edit(id, { put: [profile, ...units] })).status, 200);
  await until('light', async () => (await stage.app.slots(1)).slice(0, 3).some((v) => v > 0));
});

test('nothing went wrong inside the pages', () => {
  assert.deepEqual(stage.errors, []);
});
