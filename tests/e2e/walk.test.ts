import assert from 'node:assert/strict';
import { after, before, describe, test } from 'node:test';
import type { Locator, Page } from 'playwright-core';
import { until } from '../support/app.ts';
import { Stage } from '../support/browser.ts';
import { patchHands } from '../support/patch-hands.ts';

let stage: Stage;
let page: Page;
before(async () => {
  stage = await Stage.start();
  page = await stage.open('/patch');
});
after(() => stage?.end());
const { records, unitNamed, cellOf, reveal, readdress, undo } = patchHands(
  () => stage,
  () => page,
);

describe('the walk', () => {
  let phone: Page;
  const button = (name: string | RegExp, on = phone): Locator => on.getByRole('button', { name });
  before(async () => {
    phone = await stage.open('/walk', { width: 390, height: 844, touch: true });
    await phone.getByLabel('Your name').fill('Mira');
    await phone.getByLabel('In cable order').check();
    await button('Begin').tap();
  });

  test('goes from unit to unit in cable order and is followed on the laptop', async () => {
    await phone.getByRole('heading', { name: 'Strobe' }).waitFor();
    await page.getByRole('button', { name: 'Walk', exact: true }).click();
    const side = page.getByRole('region', { name: 'Address walk' });
    await side.getByText('Mira').waitFor();
    await side.getByRole('button', { name: 'Strobe' }).waitFor();
    await button('Done, next').tap();
    await phone.getByRole('heading', { name: 'Beam spot 1' }).waitFor();
    await side.getByText('1 of 29 ticked off').waitFor();
    await reveal('Strobe');
    await cellOf('Strobe', 'done').filter({ hasText: 'done' }).waitFor();
    const walk = (await unitNamed('Strobe'))?.walk;
    assert.deepEqual([walk?.state, walk?.by, walk?.place], ['done', 'Mira', { universe: 1, address: 181 }]);
  });

  test('lights the unit up: shutter, level and open wheels', async () => {
    await button('Light it').tap();
    // Beam spot 1 in Extended: shutter open, level full, both wheels open.
    const profile = (await records()).find((r) => r.kind === 'profile' && r.id === 'profile:quillon-heron');
    assert.ok(profile?.kind === 'profile');
    const slots = profile.modes.find((m) => m.key === '16ch')!.slots;
    const at = (attribute: string): number =>
      slots.findIndex(
        (s) =>
          'channel' in s && s.byte === 0 && profile.channels.find((c) => c.key === s.channel)?.attribute === attribute,
      );
    const level = at('Dimmer');
    assert.ok(level >= 0);
    await until('full', async () => (await stage.app.slots(1))[level] === 255);
    const sent = await stage.app.slots(1);
    const rangeAt = (attribute: string) => {
      const channel = profile.channels.find((c) => c.attribute === attribute)!;
      return channel.ranges.find((r) => r.from <= sent[at(attribute)]! && r.to >= sent[at(attribute)]!);
    };
    assert.equal(rangeAt('Shutter1')?.light, 'open');
    assert.match(rangeAt('Color1')?.name ?? '', /open|white/i);
    assert.match(rangeAt('Gobo1')?.name ?? '', /open/i);
    await button(/^Lit/).tap();
    await until('dark again', async () => (await stage.app.slots(1))[level] === 0);
  });

  test('skips with a reason', async () => {
    await button('Skip').tap();
    await button('Cannot reach it').tap();
    await phone.getByRole('heading', { name: 'Beam spot 2' }).waitFor();
    await page.getByRole('region', { name: 'Address walk' }).getByText('Beam spot 1: Cannot reach it').waitFor();
  });

  test('two people walk at once: nobody is sent where the other stands', async () => {
    const second = await stage.open('/walk', { width: 390, height: 844, touch: true });
    await second.getByLabel('Your name').fill('Jo');
    await second.getByLabel('In cable order').check();
    await button('Begin', second).tap();
    await second.getByRole('heading', { name: 'Derby left' }).waitFor();
    await button('Done, next', second).tap();
    await second.getByRole('heading', { name: 'Mirror-ball motor' }).waitFor();
    // The phone has heard of what Jo ticked off.
    await phone.getByText('3 of 29').waitFor();
    await button('Done, next').tap();
    await phone.getByRole('heading', { name: 'Derby right' }).waitFor();
    await page.getByRole('region', { name: 'Address walk' }).getByText('Jo').first().waitFor();
    await second.close();
    await until(
      'one walker',
      async () => (await page.getByRole('region', { name: 'Address walk' }).getByText('Jo is').count()) === 0,
    );
  });

  test('goes on after the phone slept', async () => {
    await phone.context().setOffline(true);
    await phone.evaluate(() => window.dispatchEvent(new Event('offline')));
    await phone.reload().catch(() => undefined);
    await phone.context().setOffline(false);
    await phone.goto(`${stage.app.url}/walk`);
    await phone.getByRole('heading', { name: 'Derby right' }).waitFor();
    await button('Done, next').tap();
    await page.getByRole('region', { name: 'Address walk' }).getByText('4 of 29 ticked off').waitFor();
  });

  test('a tick is out of date when the address changes, and the unit is walked to again', async () => {
    await readdress('Strobe', '1.300');
    await reveal('Strobe');
    await cellOf('Strobe', 'done').filter({ hasText: 'done for 1.181' }).waitFor();
    await page.getByRole('region', { name: 'Address walk' }).getByText('3 of 29 ticked off').waitFor();
    await undo();
  });
});
