import assert from 'node:assert/strict';
import { after, before, describe, test } from 'node:test';
import type { Page } from 'playwright-core';
import { axesOf, sentFor } from '../../src/core/aim/axes.ts';
import { solutionFor } from '../../src/core/aim/solutions.ts';
import { documentOf, recordsOf, type Document } from '../../src/core/document/change.ts';
import type { AimId, UnitId } from '../../src/core/ids.ts';
import type { AimRecord, UnitRecord } from '../../src/core/records/index.ts';
import { until } from '../support/app.ts';
import { Stage } from '../support/browser.ts';
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
  await stage.app.rest();
  await side('Plan');
  await tab('Aims');
});
after(async () => {
  assert.deepEqual(stage?.errors ?? [], []);
  await stage?.end();
});

const document = async (): Promise<Document> => documentOf(await records());
const aim = async (name: string): Promise<AimRecord | undefined> =>
  recordsOf(await document(), 'aim').find((a) => a.name === name);
const tile = (name: string) => page.locator('.tiles').getByRole('button', { name, exact: true });
/** Pan and tilt of a head as they stand on the wire, 16 bit. */
async function sent(name: string): Promise<[number, number]> {
  const { universe, address } = (await unit(name))!.patch!;
  const slots = await stage.app.slots(universe);
  const word = (i: number): number => slots[address - 1 + i]! * 256 + slots[address + i]!;
  return [word(0), word(2)];
}
/** The same as the core works it out. */
async function wanted(name: string, aimName: string): Promise<[number, number]> {
  const show = await document();
  const head = (await unit(name)) as UnitRecord;
  const found = solutionFor(show, head.id as UnitId, (await aim(aimName))!.id as AimId)!;
  const { panDmx, tiltDmx } = sentFor(axesOf(show, head)!, head, found);
  return [panDmx!, tiltDmx!];
}
const near = (a: readonly number[], b: readonly number[]): boolean => a.every((v, i) => Math.abs(v - b[i]!) <= 1);
const follows = (name: string, aimName: string): Promise<unknown> =>
  until(`${name} points at ${aimName}`, async () => near(await sent(name), await wanted(name, aimName)));
const levelOf = async (name: string): Promise<number> => {
  const { universe, address } = (await unit(name))!.patch!;
  return (await stage.app.slots(universe))[address - 1 + 6]!;
};

describe('aims', () => {
  test('the usual ones are made by one press, set anew by another, and undone', async () => {
    const before = recordsOf(await document(), 'aim').length;
    await page.getByRole('button', { name: 'Make the usual aims' }).click();
    await page.getByRole('button', { name: 'Make the usual aims' }).click();
    assert.equal(recordsOf(await document(), 'aim').length, before, 'none is there twice');
    for (const name of ['Home', 'Up', 'Booth', 'Floor centre', 'Front corners crossing', 'Out', 'Down'])
      await tile(name).waitFor();
  });

  test('a tile sends the heads there, with light, as the core says; the next one too', async () => {
    await tile('Row on the floor').click();
    for (const name of ['Beam spot 1', 'Beam spot 3']) await follows(name, 'Row on the floor');
    await choose('Beam spot 2', 'Scanner right');
    await tab('Aims');
    await tile('Booth').click();
    await follows('Beam spot 2', 'Booth');
    assert.ok(near(await sent('Beam spot 1'), await wanted('Beam spot 1', 'Row on the floor')), 'the others stay');
  });

  test('what cannot reach one is named, and goes as near as it can', async () => {
    await tile('Up').click();
    await page
      .getByText(/cannot reach Up/)
      .first()
      .waitFor();
    await page
      .getByText(/Scanner left misses by|Beam spot \d misses by/)
      .first()
      .waitFor();
  });

  test('it is dragged on the plan, the heads come after it, in another browser too, and undo brings it back', async () => {
    await page.keyboard.press('Escape');
    await tile('Floor centre').click();
    const where = (await aim('Floor centre'))!.where;
    assert.ok(where.is === 'point', 'a point');
    const second = await stage.open('/plot');
    await choose('Beam spot 3');
    await tab('Aims');
    await tile('Floor centre').click();
    await follows('Beam spot 3', 'Floor centre');
    const from = await at(0, 0.7);
    await drag(from, await at(2, -1.5), true);
    await until('it is kept', async () => {
      const now = (await aim('Floor centre'))!.where;
      return now.is === 'point' && Math.abs(now.at.x - 2) < 0.1 && Math.abs(now.at.y + 2.2) < 0.1;
    });
    await follows('Beam spot 3', 'Floor centre');
    await second.getByRole('tablist', { name: 'Details' }).getByRole('tab', { name: 'Aims' }).click();
    await second.getByText('Floor centre').first().waitFor();
    await undo();
    await until('it is back', async () => JSON.stringify((await aim('Floor centre'))!.where) === JSON.stringify(where));
    await follows('Beam spot 3', 'Floor centre');
  });

  test('a new one of each kind, changed by its fields; what is no number is refused with words', async () => {
    await page.getByLabel('New aim').selectOption('ring');
    await page.getByRole('button', { name: 'Put in', exact: true }).click();
    const made = await until('it is made', async () => aim('Ring 1'));
    await fill('Radius', '3,5');
    await until('its radius', async () => {
      const { where } = (await aim('Ring 1'))!;
      return where.is === 'ring' && where.radiusM === 3.5;
    });
    await page.getByLabel('Radius').fill('wide');
    await page.keyboard.press('Enter');
    await page.getByText('Give a length such as').waitFor();
    await page.keyboard.press('Escape');
    await page.getByLabel('Stands on').selectOption({ label: 'Music booth' });
    await until('it stands there', async () => (await aim('Ring 1'))!.anchor === 'thing:booth');
    await page.getByRole('button', { name: 'Take it away' }).click();
    await until('it is gone', async () => !(await document()).has(made.id));
  });

  test('a scene stored from aims follows them; where the aim goes, the scene stays as it looked', async () => {
    await stage.app.command({ do: 'letGo' });
    await choose('Beam spot 2', 'Beam spot 3');
    await tab('Aims');
    await tile('Arc to the booth').click();
    await follows('Beam spot 2', 'Arc to the booth');
    await page.getByRole('button', { name: 'Store', exact: true }).click();
    await page.getByRole('button', { name: 'New scene' }).click();
    const stored = await until('it is stored', async () =>
      recordsOf(await document(), 'scene').find((s) => s.number > 19 && s.values['unit:spot2']?.['Pan']),
    );
    assert.deepEqual(stored.values['unit:spot2']!['Pan'], { aim: 'aim:arc-north' });
    await until('it plays from the scene', async () =>
      near(await sent('Beam spot 2'), await wanted('Beam spot 2', 'Arc to the booth')),
    );
    const before = await sent('Beam spot 2');
    await tile('Arc to the booth').click();
    if (!(await page.getByRole('button', { name: 'Take it away' }).isVisible()))
      await page.getByText('Arc to the booth: change it').click();
    await page.getByRole('button', { name: 'Take it away' }).click();
    await until('the aim is gone', async () => !(await document()).has('aim:arc-north'));
    await stage.app.command({ do: 'letGo' });
    await until('the look stays', async () => near(await sent('Beam spot 2'), before));
    await undo();
    await until('and it is back', async () => (await document()).has('aim:arc-north'));
    await stage.app.rest();
  });
});

describe('never in the eyes', () => {
  test('a beam at eye height stays dark whoever asks for it, identify says why, and it is put off on purpose', async () => {
    await choose('Beam spot 1');
    await tab('Aims');
    await tile('Front corners crossing').click();
    await follows('Beam spot 1', 'Front corners crossing');
    await page.getByRole('button', { name: 'Identify' }).focus();
    await page.keyboard.down('Enter');
    await page.getByText('1 head held back: never in the eyes on Rink floor').waitFor();
    await page.keyboard.up('Enter');
    const dark = await levelOf('Beam spot 1');
    await tab('Areas');
    await page
      .getByRole('button', { name: /Rink floor/ })
      .first()
      .click();
    await page.getByText('People stand here').click();
    await page.getByText('Off on purpose').waitFor();
    const lit = await until('light', async () => {
      const now = await levelOf('Beam spot 1');
      return now > dark ? now : null;
    });
    assert.ok(dark === 0 && lit > 200, `${dark} and ${lit}`);
    await page.getByText('People stand here').click();
    await until('dark again', async () => (await levelOf('Beam spot 1')) === 0);
  });
});

describe('on a phone', () => {
  let phone: Page;
  test('an aim is corrected for one head, seen at once, and undone', async () => {
    await stage.app.rest();
    phone = await stage.open('/aims', { width: 390, height: 800, touch: true });
    await phone.getByRole('button', { name: 'Row on the floor' }).click();
    await follows('Beam spot 4', 'Row on the floor');
    const before = await sent('Beam spot 4');
    await phone.getByRole('button', { name: /Beam spot 4/ }).click();
    await phone.getByRole('button', { name: 'Beam spot 4: left' }).tap();
    await until('it is kept', async () => (await aim('Row on the floor'))!.corrections['unit:spot4']?.pan === -1);
    await follows('Beam spot 4', 'Row on the floor');
    assert.notDeepEqual(await sent('Beam spot 4'), before);
    const pad = phone.getByRole('application');
    const box = (await pad.boundingBox())!;
    await phone.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
    await phone.mouse.down();
    await phone.mouse.move(box.x + box.width / 2 + 60, box.y + box.height / 2 - 40, { steps: 5 });
    await phone.mouse.up();
    await until(
      'the drag is kept',
      async () => ((await aim('Row on the floor'))!.corrections['unit:spot4']?.tilt ?? 0) > 1,
    );
    await follows('Beam spot 4', 'Row on the floor');
    await phone.getByRole('button', { name: 'As worked out' }).click();
    await until('nothing is off', async () => !(await aim('Row on the floor'))!.corrections['unit:spot4']);
    await until('as it was', async () => near(await sent('Beam spot 4'), before));
  });

  test('the aim itself is moved for all', async () => {
    await phone.getByRole('button', { name: 'all, by the aim itself' }).click();
    const before = (await aim('Row on the floor'))!.where;
    await phone.getByRole('button', { name: 'Row on the floor: up' }).tap();
    await until('it moved up-stage', async () => {
      const now = (await aim('Row on the floor'))!.where;
      return now.is === 'spread' && before.is === 'spread' && Math.abs(now.from.y - before.from.y - 0.2) < 0.001;
    });
    await follows('Beam spot 1', 'Row on the floor');
  });

  test('a head is trued up from spots it is pointed at, and aims right after that', async () => {
    // It really hangs the other way round than it is noted: its pan runs backwards, and it is turned.
    const noted = (await unit('Beam spot 2'))!;
    const real = { ...noted, invertPan: true, rotation: { ...noted.rotation, z: 25 } } as UnitRecord;
    await phone.goto(`${stage.app.url}/aims?do=trueup`);
    await phone.getByRole('button', { name: /Beam spot 2/ }).click();
    const spots = ['Middle of the floor', 'Corner right, down-stage', 'Corner left, up-stage'];
    const places = [
      { x: 0, y: 0, z: 0 },
      { x: 12, y: -7, z: 0 },
      { x: -12, y: 7, z: 0 },
    ];
    const { solve } = await import('../../src/core/aim/solve.ts');
    for (const [i, name] of spots.entries()) {
      await phone.getByLabel('Spot', { exact: true }).selectOption({ label: name });
      // What a person does at the pad until the beam of the real head is on the spot, by hand of another page.
      const show = await document();
      const axes = axesOf(show, real)!;
      const found = solve(
        { ...axes, ...{ standing: { ...axes.standing, rotation: real.rotation } } },
        { position: real.position, rotation: real.rotation },
        places[i]!,
      )!;
      const channel = sentFor(axes, real, found);
      const target = [channel.panDmx! / 65_535, channel.tiltDmx! / 65_535];
      const range = [axes.panRange!.rangeDeg, axes.tiltRange!.rangeDeg];
      await turnTo(phone, target.map((f, k) => (f - 0.5) * range[k]!) as [number, number]);
      await phone.getByRole('button', { name: 'It is on the spot' }).click();
    }
    await phone
      .getByText(/pan the other way round/)
      .first()
      .waitFor();
    await phone.getByRole('button', { name: 'Take it over' }).click();
    await until('it is kept', async () => (await unit('Beam spot 2'))!.invertPan);
    const { rotation } = (await unit('Beam spot 2'))!;
    assert.ok(Math.abs(rotation.z - 25) < 1.5, JSON.stringify(rotation));
    await phone.locator('[aria-label="Undo"]').click();
  });

  /** Brings the head of the true-up to angles by the buttons of its pad: whole degrees, then tenths. */
  async function turnTo(on: Page, [pan, tilt]: [number, number]): Promise<void> {
    const pad = on.getByRole('application');
    const text = async (): Promise<[number, number]> => {
      const [, p, t] = /pan (-?[\d.]+)°\s*tilt (-?[\d.]+)°/.exec((await pad.textContent())!)!;
      return [Number(p), Number(t)];
    };
    await pad.focus();
    for (const fine of [false, true]) {
      const box = on.getByLabel('Fine');
      if ((await box.isChecked()) !== fine) await box.click();
      await pad.focus();
      const step = fine ? 0.1 : 1;
      const now = await text();
      for (const [k, keys] of [
        [0, ['ArrowLeft', 'ArrowRight']],
        [1, ['ArrowDown', 'ArrowUp']],
      ] as const) {
        const left = Math.round((([pan, tilt][k] as number) - now[k]!) / step);
        const key = keys[left < 0 ? 0 : 1];
        for (let i = 0; i < Math.floor(Math.abs(left) / 10); i++) await on.keyboard.press(`Shift+${key}`);
        for (let i = 0; i < Math.abs(left) % 10; i++) await on.keyboard.press(key);
      }
    }
  }

  test('which way: two heads move both axes, and one that goes the wrong way is turned round while it is seen', async () => {
    await phone.goto(`${stage.app.url}/aims?do=axes`);
    await phone.getByRole('button', { name: 'Move both' }).click();
    const first = await sent('Beam spot 1');
    await until('both axes move', async () => {
      const now = await sent('Beam spot 1');
      return Math.abs(now[0] - first[0]) > 300 && Math.abs(now[1] - first[1]) > 300;
    });
    await phone.getByRole('button', { name: 'This one pans the wrong way' }).last().click();
    await until('it is turned round', async () => (await unit('Beam spot 2'))!.invertPan);
    await phone.getByRole('button', { name: 'Stop' }).click();
    await phone.locator('[aria-label="Undo"]').click();
    await until('and back', async () => !(await unit('Beam spot 2'))!.invertPan);
  });

  test('tonight’s room: other measures while a chase of aims plays, and home again', async () => {
    await stage.app.command({ do: 'play', target: 'chase:aims' });
    await phone.goto(`${stage.app.url}/tonight`);
    await phone.getByRole('button', { name: 'Another room' }).click();
    await phone.getByLabel('Name', { exact: true }).fill('Cellar club');
    for (const [label, value] of [
      ['Width', '12'],
      ['Depth', '9'],
      ['Height', '3.6'],
    ] as const) {
      await phone.getByLabel(label, { exact: true }).fill(value);
      await phone.keyboard.press('Enter');
    }
    const before = await unit('Beam spot 1');
    await phone.getByRole('button', { name: 'Set the rig in' }).click();
    await until('it is another room', async () => recordsOf(await document(), 'show')[0]!.room.name === 'Cellar club');
    assert.notDeepEqual((await unit('Beam spot 1'))!.position, before!.position);
    const { playing } = await stage.app.live();
    assert.ok(
      playing.some((p) => p.target === 'chase:aims' && p.releasedAt === null),
      'the chase plays on',
    );
    await phone.getByRole('button', { name: 'Floor centre', exact: true }).click();
    await follows('Beam spot 1', 'Floor centre');
    await phone.getByRole('button', { name: 'Rooms' }).click();
    await phone.getByRole('button', { name: 'Go there' }).click();
    await until('home', async () => recordsOf(await document(), 'show')[0]!.room.name === 'Rink hall');
    assert.deepEqual((await unit('Beam spot 1'))!.position, before!.position);
    await follows('Beam spot 1', 'Floor centre');
  });
});
