import assert from 'node:assert/strict';
import { after, before, describe, test } from 'node:test';
import type { Page } from 'playwright-core';
import { make } from '../../src/core/records/index.ts';
import { hearSacn, until } from '../support/app.ts';
import { Stage } from '../support/browser.ts';

/** Where this file hears what is sent. */
const EAR = '127.94.7.1';
let stage: Stage;
let page: Page;
let ear: Awaited<ReturnType<typeof hearSacn>> | undefined;
before(async () => {
  stage = await Stage.start({ playing: true });
  page = await stage.open('/', { firstSight: true });
});
after(async () => {
  ear?.close();
  await stage?.end();
  assert.deepEqual(stage?.errors ?? [], []);
});

/** A person whose presses, drags and words typed are counted. */
class Newcomer {
  actions = 0;
  async #did(job: Promise<unknown>): Promise<void> {
    this.actions++;
    await job;
  }
  press = (name: string | RegExp, role: 'button' | 'link' | 'tab' = 'button'): Promise<void> =>
    this.#did(
      page
        .getByRole(role, { name, exact: typeof name === 'string' })
        .first()
        .click(),
    );
  write = (label: string, text: string): Promise<void> =>
    this.#did(
      (async () => {
        await page.getByLabel(label).fill(text);
        await page.keyboard.press('Enter');
      })(),
    );
  async paper(): Promise<void> {
    const box = (await page.getByRole('application').boundingBox())!;
    await this.#did(page.mouse.click(box.x + box.width / 2, box.y + box.height / 2));
  }
}
const slots = (universe: number): Promise<number[]> => stage.app.slots(universe);

describe('the first sight of it', () => {
  test('the demo rig is lit, and moves', async () => {
    const first = await until('light', async () => {
      const s = await slots(1);
      return s.some((v) => v > 100) && s;
    });
    await until('movement', async () => (await slots(1)).some((v, i) => v !== first[i]));
    await page.getByRole('region', { name: 'Welcome' }).waitFor();
  });

  test('the line goes for good once a way on was taken', async () => {
    await page.getByRole('button', { name: 'My own rig' }).click();
    await page.getByText('The plot is empty').waitFor();
    await page.reload();
    await page.getByText('The plot is empty').waitFor();
    assert.equal(await page.getByRole('region', { name: 'Welcome' }).count(), 0);
  });

  test('from an empty show to eight warm lamps in six actions', async () => {
    const who = new Newcomer();
    await who.write('What to add', 'rgbw par');
    await who.write('How many', '8');
    await who.paper();
    await until(
      'eight units',
      async () => (await stage.app.openShow()).records.filter((r) => r.kind === 'unit').length === 8,
    );
    await who.press('Candle white');
    const units = (await stage.app.openShow()).records.flatMap((r) => (r.kind === 'unit' ? [r] : []));
    await until('eight warm lamps', async () => {
      const s = await slots(1);
      return units.every((u) => {
        const own = s.slice(u.patch!.address - 1, u.patch!.address + 8);
        return own.some((v) => v > 150);
      });
    });
    assert.ok(who.actions <= 6, `${who.actions} actions`);
    // What is drawn is on the paper too, where it can be seen whole.
    assert.equal(await page.getByText('8 units').first().isVisible(), true);
  });

  test('three looks stored and played, without one dark step at the receiver', async () => {
    ear = await hearSacn(EAR, 5568);
    const output = make('output', { id: 'output:ear', name: 'Ear', protocol: 'sacn', destinations: [EAR] });
    const route = make('route', { id: 'route:ear', universe: 1, outputId: output.id, wireUniverse: 1 });
    await stage.app.edit((await stage.app.openShow()).id, { put: [output, route] });
    await until('packets', () => ear!.packets.length > 5);
    ear.packets.length = 0;
    const who = new Newcomer();
    for (const colour of ['Red', 'Blue', 'Candle white']) {
      await who.press(colour);
      await who.press('Store');
      await who.press('New scene');
      await until('it is stored, and plays instead of the hand', async () => {
        const live = await stage.app.live();
        return Object.keys(live.hand).length === 0 && live.playing.filter((p) => p.releasedAt === null).length === 1;
      });
    }
    assert.equal(who.actions, 9);
    // The hand is empty; the slider of a made-up level says what is drawn.
    const level = page.getByRole('contentinfo').getByRole('slider', { name: 'Level' });
    await until('full', async () => (await level.inputValue()) === '1');
    await page.getByRole('navigation', { name: 'Steps' }).getByRole('link', { name: 'Show' }).click();
    for (const scene of ['Scene 1', 'Scene 2', 'Scene 3', 'Scene 1']) {
      const pad = page.getByRole('button', { name: new RegExp(scene) }).and(page.locator('.pad'));
      if ((await pad.getAttribute('aria-pressed')) === 'false') await pad.click();
      await until(scene, async () => (await pad.getAttribute('aria-pressed')) === 'true');
    }
    const units = (await stage.app.openShow()).records.flatMap((r) => (r.kind === 'unit' ? [r] : []));
    assert.ok(ear.packets.length > 40, `${ear.packets.length} packets`);
    const footprint = units[1]!.patch!.address - units[0]!.patch!.address;
    for (const packet of ear.packets)
      for (const unit of units) {
        const at = unit.patch!.address - 1;
        const most = Math.max(...packet.slots.subarray(at, at + footprint));
        assert.ok(
          most > 100,
          `unit ${unit.number} is dark in a packet: ${[...packet.slots.subarray(at, at + footprint)].join(' ')}`,
        );
      }
  });

  test('a scene without light says so, and is lit with one press', async () => {
    const { id, records } = await stage.app.openShow();
    await stage.app.edit(id, {
      put: [
        make('scene', {
          id: 'scene:dim',
          number: 9,
          name: 'Colours alone',
          values: Object.fromEntries(
            records.flatMap((r) =>
              r.kind === 'unit' ? [[r.id, { ColorRGB_Red: 1, ColorRGB_Green: 0, ColorRGB_Blue: 0 }]] : [],
            ),
          ),
        }),
      ],
    });
    await stage.app.command({ do: 'releaseAll', fadeOutMs: 0 });
    await page.getByRole('button', { name: /Colours alone/ }).click();
    await page.getByText('playing, gives no light').waitFor();
    await page.getByText('Gives no light:').waitFor();
    await page.getByRole('button', { name: 'Light them' }).click();
    await until('red light', async () => (await slots(1)).some((v) => v === 255));
    assert.equal(await page.getByText('gives no light').count(), 0);
  });
});
