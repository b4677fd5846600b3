import assert from 'node:assert/strict';
import { readFileSync } from 'node:fs';
import { after, before, describe, test } from 'node:test';
import type { Page } from 'playwright-core';
import { PNG } from 'pngjs';
import { documentOf } from '../../src/core/document/change.ts';
import { axesOf, sentFor } from '../../src/core/aim/axes.ts';
import { solve } from '../../src/core/aim/solve.ts';
import { focusSheet } from '../../src/core/room/focus.ts';
import { until } from '../support/app.ts';
import { Stage } from '../support/browser.ts';
import type { UnitRecord } from '../../src/core/records/index.ts';
import { plotHands } from '../support/plot-hands.ts';

let stage: Stage;
let page: Page;
const { at, choose, drag, fill, records, side, tab, undo, unit } = plotHands(
  () => stage,
  () => page,
);
before(async () => {
  stage = await Stage.start();
  page = await stage.open('/plot');
});
after(() => stage?.end());

const sight = () => page.getByRole('application');
const picture = () => page.locator('.sight canvas');
const placeOf = async (id: string): Promise<{ x: number; y: number } | undefined> =>
  (JSON.parse((await sight().getAttribute('data-places')) ?? '{}') as Record<string, { x: number; y: number }>)[id];
const things = async () => (await records()).flatMap((r) => (r.kind === 'thing' ? [r] : []));
/** Points of the picture that are brighter than the room without light; what is written over its edges is left out. */
async function bright(): Promise<number> {
  const { width, height, data } = PNG.sync.read(await picture().screenshot());
  let count = 0;
  for (let i = 60 * width * 4; i < (height - 60) * width * 4; i += 4)
    if (Math.max(data[i]!, data[i + 1]!, data[i + 2]!) > 120) count++;
  return count;
}
const selected = (count: number): Promise<unknown> =>
  until(`${count} selected`, async () => (await sight().getAttribute('aria-label'))?.includes(`, ${count} selected`));

describe('the room', () => {
  test('is a paper of the plot, and shines as the rig does', async () => {
    await side('Room');
    await until('its places', async () => placeOf('unit:spot1'));
    const none = await bright();
    await stage.app.command({ do: 'play', target: 'scene:north', fadeInMs: 0 });
    await until('light', async () => (await bright()) > none + 500);
    await stage.app.command({ do: 'dark', on: true });
    await until('no light', async () => (await bright()) <= none);
    await stage.app.command({ do: 'dark', on: false });
    await until('light again', async () => (await bright()) > none + 500);
  });

  test('a press on a unit chooses it, with Shift one more; a press beside lets go', async () => {
    const press = async (id: string, shift = false): Promise<void> => {
      const [box, at] = [(await sight().boundingBox())!, await until(id, () => placeOf(id))];
      if (shift) await page.keyboard.down('Shift');
      await page.mouse.click(box.x + at.x, box.y + at.y);
      if (shift) await page.keyboard.up('Shift');
    };
    await page.getByRole('button', { name: 'Front', exact: true }).click();
    await until('the front', async () => sight().getAttribute('data-places'));
    await press('unit:spot1');
    await selected(1);
    await press('unit:spot4', true);
    await selected(2);
    const box = (await sight().boundingBox())!;
    await page.mouse.click(box.x + box.width - 5, box.y + 5);
    await selected(0);
  });

  test('is turned by keys and by the mouse', async () => {
    await sight().focus();
    const before = await placeOf('unit:spot1');
    await page.keyboard.press('ArrowRight');
    await until('turned', async () => (await placeOf('unit:spot1'))!.x !== before!.x);
    const box = (await sight().boundingBox())!;
    const turned = await placeOf('unit:spot1');
    await page.mouse.move(box.x + 300, box.y + 300);
    await page.mouse.down();
    await page.mouse.move(box.x + 380, box.y + 300, { steps: 4 });
    await page.mouse.up();
    await until('dragged round', async () => (await placeOf('unit:spot1'))!.x !== turned!.x);
    await selected(0);
    await page.keyboard.press('0');
    await until('as at first', async () => (await placeOf('unit:spot1')) !== undefined);
  });

  test('is saved as a picture, and stands in a window of its own that follows the show', async () => {
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('button', { name: 'Save picture' }).click(),
    ]);
    assert.equal(download.suggestedFilename(), 'Copperline Rink room.png');
    const { width, height, data } = PNG.sync.read(readFileSync(await download.path()));
    assert.ok(width > 100 && height > 100 && data.some((value, i) => i % 4 < 3 && value > 100));
    const [own] = await Promise.all([
      page.context().waitForEvent('page'),
      page.getByRole('button', { name: 'Own window' }).click(),
    ]);
    const seen = own.getByRole('application', { name: /Room with 29 units/ });
    await seen.waitFor();
    assert.equal(await own.getByRole('navigation').count(), 0, 'nothing but the room');
    await choose('Beam spot 2');
    await sight().focus();
    await page.keyboard.press('Delete');
    await own.getByRole('application', { name: /Room with 28 units/ }).waitFor();
    await page.keyboard.press('Control+z');
    await seen.waitFor();
    await own.close();
  });

  test('comes back by itself when its picture is lost', async () => {
    const lit = await bright();
    await page.evaluate(() => {
      const canvas = document.querySelector<HTMLCanvasElement>('.sight canvas')!;
      const lose = canvas.getContext('webgl2')!.getExtension('WEBGL_lose_context')!;
      Object.assign(globalThis, { lose });
      lose.loseContext();
    });
    await page.getByText('The picture of the room was lost').waitFor();
    await page.evaluate(() => (globalThis as unknown as { lose: WEBGL_lose_context }).lose.restoreContext());
    await page.getByText('The picture of the room was lost').waitFor({ state: 'detached' });
    await until('light again', async () => (await bright()) > lit / 2);
  });
});

describe('things', () => {
  test('a truss is put in, six lamps are hung on it, and it takes them along: one undo brings all back', async () => {
    await tab('Things');
    const before = (await things()).length;
    await page.getByLabel('New').selectOption('truss');
    await page.getByRole('button', { name: 'Put in' }).click();
    const truss = await until('the truss', async () => (await things()).find((t) => t.name === 'Truss 5'));
    assert.equal((await things()).length, before + 1);
    assert.deepEqual([truss.shape, truss.position.z], ['truss', 3]);
    const names = ['Wash north 1', 'Wash north 2', 'Wash north 3', 'Wash south 1', 'Wash south 2', 'Wash south 3'];
    await choose(...names);
    await page.getByRole('button', { name: 'Hang 6 units on it' }).click();
    const hanging = async (): Promise<UnitRecord[]> =>
      (await Promise.all(names.map((name) => unit(name)))).filter((u) => u!.hungOn === truss.id) as UnitRecord[];
    await until('they hang', async () => (await hanging()).length === 6);
    const old = await hanging();
    await fill('Off the floor, z', '3.5 m');
    await until('the truss', async () => (await things()).find((t) => t.id === truss.id)!.position.z === 3.5);
    const moved = await hanging();
    for (const [i, { position }] of moved.entries())
      assert.deepEqual(position, { ...old[i]!.position, z: Math.round((old[i]!.position.z + 0.5) * 1000) / 1000 });
    await fill('Turned', '90');
    await until('turned', async () => (await things()).find((t) => t.id === truss.id)!.rotation.z === 90);
    // A quarter about the middle of the truss, at 0, 0.
    for (const [i, { position }] of (await hanging()).entries())
      assert.deepEqual([position.x, position.y], [-moved[i]!.position.y + 0, moved[i]!.position.x + 0]);
    await undo();
    await undo();
    await until('as they were', async () => JSON.stringify(await hanging()) === JSON.stringify(old));
  });

  test('are dragged on a paper, with what hangs on them', async () => {
    const truss = async () => (await things()).find((t) => t.name === 'Truss 5')!;
    const [old, lamp] = [await truss(), (await unit('Wash north 1'))!];
    await side('Plan');
    await drag(await at(1, 0), await at(3, 1.5));
    await until('it moved', async () => Math.abs((await truss()).position.x - 2) < 0.06);
    assert.ok(Math.abs((await truss()).position.y - 1.5) < 0.06);
    const by = (await truss()).position;
    const carried = (await unit('Wash north 1'))!.position;
    for (const axis of ['x', 'y', 'z'] as const)
      assert.ok(Math.abs(carried[axis] - lamp.position[axis] - by[axis] + old.position[axis]) < 1e-6);
    await undo();
    await until('back', async () => (await truss()).position.x === old.position.x);
    await side('Room');
  });

  test('are taken away and brought back in every other browser', async () => {
    const other = await stage.open('/plot');
    await other.getByRole('tablist', { name: 'Details' }).getByRole('tab', { name: 'Things' }).click();
    await other.getByRole('button', { name: /Truss 5/ }).waitFor();
    await page.getByRole('button', { name: 'Take it away' }).click();
    await other.getByRole('button', { name: /Truss 5/ }).waitFor({ state: 'detached' });
    assert.equal((await unit('Wash north 1'))!.hungOn, null);
    await undo();
    await other.getByRole('button', { name: /Truss 5/ }).waitFor();
    await other.close();
  });

  test('a size that cannot be is refused with the reason, and nothing is lost', async () => {
    await page.getByRole('button', { name: /Truss 5/ }).click();
    const old = await things();
    for (const text of ['0 m', '-3', 'wide', '10000000 m']) {
      await page.getByLabel('Width').fill(text);
      await page.getByLabel('Width').press('Enter');
      await page.getByRole('alert').or(page.locator('.fault, [aria-invalid=true]')).first().waitFor();
    }
    await page.getByLabel('Width').press('Escape');
    assert.deepEqual(await things(), old);
  });
});

describe('fixed lamps', () => {
  /** Where the axes of two washes meet the room. */
  const spots = async () => {
    const lines = focusSheet(documentOf(await records()));
    return ['Wash north 2', 'Wash north 3'].map((name) => lines.find((line) => line.unit.name === name)!);
  };
  test('point at the spot where a press is held; one undo brings both back', async () => {
    await page.getByRole('button', { name: 'Above', exact: true }).click();
    await choose('Wash north 2', 'Wash north 3');
    const before = await spots();
    const box = (await sight().boundingBox())!;
    await page.mouse.move(box.x + box.width * 0.52, box.y + box.height * 0.55);
    await page.mouse.down();
    const [a, b] = await until('they turned', async () => {
      const now = await spots();
      return now.every((line, i) => line.panDeg !== before[i]!.panDeg) ? now : null;
    });
    await page.mouse.up();
    for (const axis of ['x', 'y', 'z'] as const)
      assert.ok(Math.abs(a!.target![axis] - b!.target![axis]) < 0.03, `${axis} of both`);
    await undo();
    await until('as before', async () => JSON.stringify(await spots()) === JSON.stringify(before));
  });
  test('or at a place that is typed', async () => {
    await tab('Units');
    await fill('Point at (across, deep, high)', '1; -2; 0');
    const [a, b] = await until('they turned', async () => {
      const now = await spots();
      return now.every((line) => Math.abs((line.target?.x ?? 9) - 1) < 0.03) ? now : null;
    });
    for (const { target } of [a!, b!]) assert.deepEqual([Math.round(target!.y * 10) / 10, target!.z], [-2, 0]);
    await undo();
  });
});

describe('heads', () => {
  /** What is sent for a head's pan and tilt, 16 bit, and what the core says for a place. */
  const sent = async (address: number): Promise<readonly [number, number]> => {
    const slots = await stage.app.slots(1);
    const two = (at: number): number => slots[at - 1]! * 256 + slots[at]!;
    return [two(address), two(address + 2)];
  };
  const wanted = async (name: string, target: { x: number; y: number; z: number }) => {
    const document = documentOf(await records());
    const head = (await unit(name))!;
    const axes = axesOf(document, head)!;
    const { panDmx, tiltDmx } = sentFor(axes, head, solve(axes, head, target)!);
    return [panDmx!, tiltDmx!] as const;
  };
  const near = (a: readonly number[], b: readonly number[]): boolean => a.every((v, i) => Math.abs(v - b[i]!) <= 1);
  test('aim at a place that is typed, each by its own pan and tilt, on the wire', async () => {
    await choose('Beam spot 1', 'Beam spot 4');
    await tab('Units');
    await fill('Aim at (across, deep, high)', '0; -1; 1.2');
    for (const name of ['Beam spot 1', 'Beam spot 4']) {
      const { address } = (await unit(name))!.patch!;
      const angles = await wanted(name, { x: 0, y: -1, z: 1.2 });
      await until(`${name} as the core says`, async () => near(await sent(address), angles));
    }
    await page.getByLabel('Aim at (across, deep, high)').fill('over there');
    await page.keyboard.press('Enter');
    await page.getByText('Give three lengths such as').waitFor();
    await page.keyboard.press('Escape');
  });
  test('or at the spot where a press is held', async () => {
    await page.getByRole('button', { name: 'Above', exact: true }).click();
    const before = await sent((await unit('Beam spot 1'))!.patch!.address);
    const box = (await sight().boundingBox())!;
    await page.mouse.move(box.x + box.width * 0.45, box.y + box.height * 0.52);
    await page.mouse.down();
    const places = await until('they turned', async () => {
      const now = await Promise.all(
        ['Beam spot 1', 'Beam spot 4'].map(async (name) => sent((await unit(name))!.patch!.address)),
      );
      return near(now[0]!, before) ? null : now;
    });
    await page.mouse.up();
    assert.ok(!near(places[0]!, places[1]!), 'each has angles of its own');
    await stage.app.command({ do: 'letGo' });
  });
});

describe('without WebGL', () => {
  test('the room says so, and the papers go on', async () => {
    const other = await stage.open('/plot', {
      init: () => {
        const get = HTMLCanvasElement.prototype.getContext;
        HTMLCanvasElement.prototype.getContext = function (this: HTMLCanvasElement, kind: string, ...rest: unknown[]) {
          return kind.startsWith('webgl') ? null : (get as (...all: unknown[]) => unknown).call(this, kind, ...rest);
        } as typeof HTMLCanvasElement.prototype.getContext;
      },
    });
    await other.getByRole('tablist', { name: 'Side' }).getByRole('tab', { name: 'Room' }).click();
    await other.getByText('This browser has no WebGL').waitFor();
    await other.getByRole('tablist', { name: 'Side' }).getByRole('tab', { name: 'Plan' }).click();
    await other.getByRole('application', { name: /Plan of the rig/ }).waitFor();
    await other.close();
  });
});
