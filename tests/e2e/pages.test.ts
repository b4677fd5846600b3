import assert from 'node:assert/strict';
import { rmSync } from 'node:fs';
import { after, before, describe, test } from 'node:test';
import { readArchive } from '../../src/core/format/archive.ts';
import { readFileSync } from 'node:fs';
import { temporaryFolder, until } from '../support/app.ts';
import { Stage } from '../support/browser.ts';

const STEPS = ['kit', 'patch', 'lines', 'plot', 'scenes', 'music', 'show', 'calendar', 'preflight', 'keep', 'settings'];

describe('an empty house', () => {
  let stage: Stage;
  const folder = temporaryFolder();
  before(async () => {
    stage = await Stage.start({ dataDir: folder, env: { AMBER_DEMO: '0' } });
  });
  after(async () => {
    await stage?.end();
    rmSync(folder, { recursive: true, force: true });
  });

  test('begins with a page that makes a show, asks for its name, and takes it out again as a file', async () => {
    const page = await stage.open('/');
    await page.getByRole('button', { name: 'Create show' }).click();
    await page.getByRole('alert').filter({ hasText: 'name' }).waitFor();
    await page.getByLabel('Name of the new show').fill('Small stage');
    await page.getByRole('button', { name: 'Create show' }).click();
    await page.getByText('Small stage').first().waitFor();
    await page.goto(`${stage.app.url}/patch`);
    await page.getByText('No units yet').waitFor();
    await page.goto(`${stage.app.url}/keep`);
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('link', { name: 'Export' }).click(),
    ]);
    const { faults, records } = readArchive(readFileSync(await download.path()));
    assert.deepEqual(faults, []);
    assert.ok(records.some((r) => r.kind === 'show' && r.name === 'Small stage'));
    await page.getByLabel('Import a .kite file').setInputFiles(await download.path());
    await page.getByText('Small stage (copy)').first().waitFor();
    await page
      .getByLabel('Import a .kite file')
      .setInputFiles({ name: 'x.kite', mimeType: 'application/zip', buffer: Buffer.from('nonsense') });
    await page.getByRole('alert').filter({ hasText: 'not a zip archive' }).waitFor();
    const { shows } = (await stage.app.call<{ shows: unknown[] }>('GET', '/api/shows')).body;
    assert.equal(shows.length, 2);
    assert.deepEqual(
      stage.errors.filter((e) => !e.includes('400')),
      [],
    );
  });
});

describe('every page', () => {
  let stage: Stage;
  before(async () => {
    stage = await Stage.start();
  });
  after(() => stage?.end());

  for (const [title, options] of [
    ['dark at 1280', {}],
    ['light at 1280', { light: true }],
    ['on a phone', { width: 390, height: 844, touch: true }],
  ] as const)
    test(`opens ${title} with nothing hanging out to the side and no error`, async () => {
      const page = await stage.open('/kit', options);
      for (const step of STEPS) {
        await page.goto(`${stage.app.url}/${step}`);
        await page.getByRole('heading').first().waitFor();
        await until(`${step} to be live`, async () => (await page.getByText('Connecting…').count()) === 0);
        const over = await page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth);
        assert.ok(over <= 0, `${step} is ${over} px too wide`);
        if (step === 'calendar') await page.getByText('not built yet').first().waitFor();
      }
      assert.deepEqual(stage.errors, []);
    });

  test('is reached with the keyboard alone', async () => {
    const page = await stage.open('/kit');
    await page.getByText(/^Sending \d of \d$/).waitFor();
    await page.keyboard.press('Control+k');
    await page.getByRole('dialog').waitFor();
    await page.keyboard.type('wash north 2');
    await page.keyboard.press('Enter');
    await until('the selection', async () =>
      /Wash north 2/.test((await page.getByRole('contentinfo').textContent()) ?? ''),
    );
    await page.keyboard.press('?');
    await page.getByRole('dialog', { name: 'Shortcuts' }).waitFor();
    await page.keyboard.press('?');
    assert.deepEqual(stage.errors, []);
  });

  test('says when it has lost the server, and comes back by itself', async () => {
    const page = await stage.open('/show');
    await page.getByText(/^Sending \d of \d$/).waitFor();
    const { web } = (await stage.app.health()).processes;
    process.kill(web, 'SIGKILL');
    await page.getByText('Connecting…').waitFor();
    await page.getByText(/^Sending \d of \d$/).waitFor();
    await page.locator('button.pad').filter({ hasText: 'Doors open' }).click();
    await until('it to play', async () => (await stage.app.live()).playing.length === 1);
  });

  test('of another address is an honest "no such page"', async () => {
    const page = await stage.open('/nothing');
    await page.getByText('There is no such page').waitFor();
  });
});
