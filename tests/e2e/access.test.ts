import assert from 'node:assert/strict';
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { after, before, describe, test } from 'node:test';
import type { Page } from 'playwright-core';
import { Stage } from '../support/browser.ts';

/** Every main view against the rules of an automatic checker, in the dark and in the light; what is measured by eye. */
const AXE = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');
const VIEWS = [
  '/kit',
  '/patch',
  '/patch?tab=universes',
  '/patch?tab=groups',
  '/lines',
  '/lines?tab=outputs',
  '/lines?tab=monitor',
  '/plot',
  '/scenes?open=scene:doors',
  '/scenes?open=chase:sides',
  '/scenes?open=effect:lap',
  '/music',
  '/show',
  '/calendar',
  '/preflight',
  '/keep',
  '/settings',
  '/walk',
] as const;

let stage: Stage;
before(async () => {
  stage = await Stage.start({ playing: true });
});
after(() => stage?.end());

interface Finding {
  readonly id: string;
  readonly help: string;
  readonly nodes: readonly { readonly target: readonly string[]; readonly html: string }[];
}
async function findings(page: Page): Promise<Finding[]> {
  await page.evaluate(AXE);
  return page.evaluate(async () => {
    const { axe } = window as unknown as {
      axe: { run(what: Document, options: object): Promise<{ violations: Finding[] }> };
    };
    const rules = { runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'best-practice'] };
    return (await axe.run(document, rules)).violations;
  });
}
const words = (list: readonly Finding[]): string[] =>
  list.map(
    (f) =>
      `${f.id} (${f.help}): ${f.nodes
        .slice(0, 3)
        .map((n) => `${n.target.join(' ')} ${n.html.slice(0, 120)}`)
        .join(' | ')}`,
  );

for (const light of [false, true])
  describe(light ? 'in the light' : 'in the dark', () => {
    let page: Page;
    before(async () => {
      page = await stage.open('/plot', { light });
      await page.getByRole('application').waitFor();
    });
    for (const view of VIEWS)
      test(view, async () => {
        await page.goto(stage.app.url + view);
        await page.getByRole('main').waitFor();
        await page.getByRole('heading', { level: 1 }).first().waitFor({ state: 'attached' });
        assert.deepEqual(words(await findings(page)), []);
      });
  });

describe('room to work', () => {
  test('at 1280 x 800 the work area has at least half of the window, with a unit selected and its details open', async () => {
    const page = await stage.open('/plot');
    await page
      .getByRole('contentinfo')
      .getByRole('button', { name: /All washes/ })
      .click();
    const area = async (selector: string): Promise<number> => {
      const box = await page.locator(selector).first().boundingBox();
      return box ? (box.width * box.height) / (1280 * 800) : 0;
    };
    assert.ok((await area('.plot .wrap')) >= 0.5, `the paper has ${await area('.plot .wrap')}`);
    for (const view of ['/patch', '/scenes?open=scene:doors', '/lines', '/show', '/kit']) {
      await page.goto(stage.app.url + view);
      await page
        .getByRole('contentinfo')
        .getByRole('button', { name: /All washes/ })
        .click();
      await page.locator('.step .content').waitFor();
      assert.ok((await area('.step .content')) >= 0.5, `${view}: ${await area('.step .content')}`);
    }
  });
  test('the paper does not move when the first unit is selected, and shows the whole room', async () => {
    const page = await stage.open('/plot');
    const paper = page.getByRole('application');
    await paper.waitFor();
    const before = [await paper.boundingBox(), await paper.getAttribute('data-view')];
    await page
      .getByRole('contentinfo')
      .getByRole('button', { name: /Beam spots/ })
      .click();
    await page.getByRole('contentinfo').getByRole('region', { name: 'Level' }).first().waitFor();
    assert.deepEqual([await paper.boundingBox(), await paper.getAttribute('data-view')], before);
    const view = JSON.parse(before[1] as string) as { x: number; y: number; scale: number };
    const { width, height } = before[0] as { width: number; height: number };
    const room = (await stage.app.openShow()).records.find((r) => r.kind === 'show')!;
    assert.ok(room.kind === 'show');
    const { widthM, depthM } = room.room;
    for (const [x, y] of [
      [-widthM / 2, -depthM / 2],
      [widthM / 2, depthM / 2],
    ] as const) {
      const at = { x: width / 2 + (x - view.x) * view.scale, y: height / 2 - (y - view.y) * view.scale };
      assert.ok(at.x >= 0 && at.x <= width && at.y >= 0 && at.y <= height, `${x}, ${y} is at ${at.x}, ${at.y}`);
    }
  });
  test('a double press on the paper chooses no words', async () => {
    const page = await stage.open('/plot');
    const box = (await page.getByRole('application').boundingBox())!;
    for (const [x, y] of [
      [0.3, 0.5],
      [0.99, 0.3],
    ] as const)
      await page.mouse.dblclick(box.x + box.width * x, box.y + box.height * y);
    assert.equal(await page.evaluate(() => getSelection()?.toString()), '');
  });
  test('on a phone the first pad comes early, and what is pressed is as large as a fingertip', async () => {
    const phone = await stage.open('/show', { width: 390, height: 844, touch: true });
    const pad = (await phone.locator('button.pad').first().boundingBox())!;
    assert.ok(pad.y < 844 / 3, `the first pad begins at ${pad.y}`);
    const small = await phone.evaluate(() =>
      [...document.querySelectorAll('button, select, [role=tab]')].flatMap((e) => {
        const { width, height } = e.getBoundingClientRect();
        return width > 0 && height > 0 && height < 44
          ? [`${e.textContent?.trim().slice(0, 30)}: ${width} x ${height}`]
          : [];
      }),
    );
    assert.deepEqual(small, []);
    await phone.goto(`${stage.app.url}/patch`);
    const address = phone.getByRole('columnheader', { name: 'Address' });
    await address.waitFor();
    const box = (await address.boundingBox())!;
    assert.ok(box.x + box.width <= 390, `the address ends at ${box.x + box.width}`);
  });
  for (const width of [1024, 1280])
    test(`nothing is cut in the ridge at ${width}`, async () => {
      const page = await stage.open('/plot', { width, height: 768 });
      await page.getByRole('application').waitFor();
      await stage.app.rest();
      for (const text of ['Nothing playing', /^Sending \d of \d/]) {
        const words = page.getByRole('banner').getByText(text).and(page.locator(':visible')).first();
        const cut = await words.evaluate((e) => {
          const outer = e.closest('li, a') ?? e;
          return outer.scrollWidth > outer.clientWidth + 1 || outer.getBoundingClientRect().right > window.innerWidth;
        });
        assert.equal(cut, false, String(text));
      }
    });
  test('nothing went wrong inside the pages', () => assert.deepEqual(stage.errors, []));
});
