import assert from 'node:assert/strict';
import { after, before, test } from 'node:test';
import type { Page } from 'playwright-core';
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
const strip = (of: Page = page) => of.getByRole('region', { name: 'Auto' });

test('one press, and the rig plays: it says what, why and what comes next, in every browser', async () => {
  await page.getByRole('button', { name: 'Auto', exact: true }).click();
  await strip()
    .getByText(/easy: .*then another phrase, in \d+ (bar|beat)/)
    .waitFor();
  const phone = await stage.open('/show', { width: 390, height: 844, touch: true });
  await strip(phone)
    .getByText(/then another phrase/)
    .waitFor();
  assert.equal(await phone.evaluate(() => document.documentElement.scrollWidth <= innerWidth), true);
});

test('the mood is held, and let go', async () => {
  await strip().getByLabel('Mood of Auto').selectOption('peak');
  await strip()
    .getByText(/peak: peak, held/)
    .waitFor();
  await strip().getByLabel('Mood of Auto').selectOption('');
  await strip()
    .getByText(/easy: /)
    .waitFor();
});

test('another take is other light for the same music', async () => {
  const before = JSON.stringify((await auto())!.plays.filter((p) => p.releasedAt === null).map((p) => p.spec));
  await strip().getByRole('button', { name: 'Another take' }).click();
  await until('another', async () => {
    const plays = (await auto())!.plays.filter((p) => p.releasedAt === null);
    return JSON.stringify(plays.map((p) => p.spec)) !== before;
  });
});

test('with a song it goes by its sections, and by the tempo when that is over', async () => {
  await page.goto(`${stage.app.url}/music`);
  await page
    .getByRole('navigation', { name: 'Songs' })
    .getByRole('button', { name: /^♪?Night Ferry/ })
    .click();
  await page.getByRole('button', { name: 'Play', exact: true }).first().click();
  await strip()
    .getByText(/A begins, strong/)
    .waitFor();
  await page.getByRole('button', { name: 'End the song' }).click();
  await strip()
    .getByText(/goes by the tempo/)
    .waitFor();
});

test('after a reload it is still there; ended it fades out and is gone', async () => {
  await page.reload();
  await strip().getByRole('button', { name: 'End Auto' }).click();
  await strip().waitFor({ state: 'detached' });
  await until('nothing is left', async () => (await auto()) === null);
});

test('nothing went wrong inside the pages', () => {
  assert.deepEqual(stage.errors, []);
});
