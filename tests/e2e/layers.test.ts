import assert from 'node:assert/strict';
import { after, before, describe, test } from 'node:test';
import type { Page } from 'playwright-core';
import type { AimPart } from '../../src/core/records/effect.ts';
import { make } from '../../src/core/records/index.ts';
import { until } from '../support/app.ts';
import { Stage } from '../support/browser.ts';
import { showHands } from '../support/show-hands.ts';

/** Masters and solo, chases and effects as they are made, what a page draws against the wire, blind over a restart. */
let stage: Stage;
let page: Page;
before(async () => {
  stage = await Stage.start();
  page = await stage.open('/show');
});
after(() => stage?.end());

const { live, slots, record, step, library, letGo } = showHands(
  () => stage,
  () => page,
);
const pick = (name: string) => library().getByRole('button', { name, exact: true }).click();
/** Level of the first north and the first south wash, and of the first lamp of the house, as they are sent. */
const levels = async (): Promise<number[]> => {
  const [one, three] = [await slots(1), await slots(3)];
  return [one[80]!, one[112]!, three[0]!];
};
const shown = (...wanted: number[]) => until(wanted.join(), async () => (await levels()).join() === wanted.join());
/** Moves a slider to its end or its beginning, with the keyboard. */
const slide = async (region: string, label: string, key: 'Home' | 'End'): Promise<void> => {
  const slider = page.getByRole('region', { name: region }).getByRole('slider', { name: label, exact: true });
  await slider.focus();
  await slider.press(key);
};

describe('masters', () => {
  before(async () => {
    for (const scene of ['north', 'south'])
      await stage.app.command({ do: 'play', target: `scene:${scene}`, fadeInMs: 0 });
    await stage.app.command({ do: 'hand', set: { 'unit:hire': { Dimmer: 1 } } });
    await page.getByRole('tab', { name: 'Masters' }).click();
    await shown(255, 255, 255);
  });
  after(letGo);

  test('a group alone, and given back', async () => {
    await slide('Groups', 'North washes', 'Home');
    await shown(0, 255, 255);
    await slide('Groups', 'North washes', 'End');
    await shown(255, 255, 255);
  });

  test('a unit in two groups is held by both', async () => {
    await stage.app.command({ do: 'group', groupId: 'group:washes', level: 0.5 });
    await stage.app.command({ do: 'group', groupId: 'group:north', level: 0.5 });
    await shown(64, 128, 255);
    await slide('Groups', 'North washes', 'End');
    await slide('Groups', 'All washes', 'End');
    await shown(255, 255, 255);
  });

  test('a kind of fixture', async () => {
    await slide('Kinds of fixture', 'par', 'Home');
    await shown(0, 0, 255);
    await slide('Kinds of fixture', 'par', 'End');
    await shown(255, 255, 255);
  });

  test('only a group is to be seen, then all again', async () => {
    const row = page.getByRole('region', { name: 'Groups' }).locator('.line').filter({ hasText: 'South washes' });
    await row.getByRole('button', { name: 'Solo' }).click();
    await shown(0, 255, 0);
    await row.getByRole('button', { name: 'Solo' }).click();
    await shown(255, 255, 255);
  });

  test('only one of the things that play, then all again', async () => {
    const row = page.getByRole('listitem').filter({ hasText: 'North side' });
    await row.getByRole('button', { name: 'Solo' }).click();
    // What is by hand is not something that plays.
    await shown(255, 0, 255);
    await row.getByRole('button', { name: 'Solo' }).click();
    await shown(255, 255, 255);
  });
});

describe('a chase', () => {
  const steps = async (): Promise<string[]> => {
    const chase = await record('chase', 'Counter run');
    assert.ok(chase?.kind === 'chase');
    return chase.steps.map((s) => s.sceneId ?? s.chaseId ?? s.effectId ?? 'values');
  };
  before(async () => {
    await step('Scenes').click();
    await pick('Counter run');
  });

  test('its steps are dragged into order, and moved with the keyboard', async () => {
    const before = await steps();
    const rows = page.locator('ol').getByRole('listitem');
    const lying = (await rows.allInnerTexts()).join();
    const from = (await rows.nth(0).locator('.grip').boundingBox())!;
    const to = (await rows.nth(2).boundingBox())!;
    await page.mouse.move(from.x + 6, from.y + 6);
    await page.mouse.down();
    await page.mouse.move(from.x + 8, from.y + 30, { steps: 6 });
    await page.mouse.move(to.x + 20, to.y + to.height - 4, { steps: 14 });
    await until('room for it', async () => (await rows.allInnerTexts()).join() !== lying);
    await page.mouse.up();
    await until('dragged down', async () => (await steps()).indexOf(before[0]!) > 0);
    const dragged = await steps();
    assert.deepEqual([...dragged].sort(), [...before].sort());
    await page.keyboard.press('Control+z');
    await until('undone', async () => (await steps()).join() === before.join());
    const down = page.getByRole('button', { name: 'Move step 1 down' });
    await down.focus();
    await down.press('Enter');
    await until('moved', async () => (await steps()).slice(0, 2).join() === [before[1], before[0]].join());
    await page.keyboard.press('Control+z');
  });

  test('a step has times of its own; times that are none stay in their field', async () => {
    const hold = page.getByLabel('Hold of step 2');
    await hold.fill('-1');
    await hold.press('Enter');
    await page.getByText('Give 0 to 3600 s, or nothing for the common time.').waitFor();
    await hold.fill('2,5');
    await hold.press('Enter');
    await until('kept', async () => {
      const chase = await record('chase', 'Counter run');
      return chase?.kind === 'chase' && chase.steps[1]!.hold === 2.5;
    });
  });

  test('one that would contain itself is refused by name', async () => {
    await pick('Side to side');
    await page.getByLabel('Scene to add').selectOption({ label: 'Chase Lap and sides' });
    await page.getByRole('button', { name: 'Add step' }).click();
    await page
      .getByText(/Lap and sides.*Side to side|Side to side.*Lap and sides/)
      .first()
      .waitFor();
    const chase = await record('chase', 'Side to side');
    assert.ok(chase?.kind === 'chase' && chase.steps.length === 2, 'as it was');
  });
});

test('a chase of 10,000 steps is shown in pieces, and its last step can be changed', async () => {
  const { id } = await stage.app.openShow();
  const steps = Array.from({ length: 10_000 }, (_, i) => ({ sceneId: `scene:wave${1 + (i % 4)}` as const }));
  const long = make('chase', { id: 'chase:long', number: 90, name: 'Very long', steps, hold: 0.1 });
  assert.equal((await stage.app.edit(id, { put: [long] })).status, 200);
  await pick('Very long');
  await page.getByText('10000 steps, one round lasts').waitFor();
  assert.equal(await page.locator('.editor ol').getByRole('listitem').count(), 200);
  await page.getByRole('button', { name: 'Take step 1 out' }).click();
  await page.getByText('1-200 of 9999').waitFor();
  await page.getByLabel('Scene to add').selectOption({ label: 'Mirror ball' });
  await page.getByRole('button', { name: 'Add step' }).click();
  await page.getByText('9801-10000 of 10000').waitFor();
  await page.getByRole('button', { name: 'Move step 10000 up' }).click();
  await until('moved', async () => {
    const chase = await record('chase', 'Very long');
    return chase?.kind === 'chase' && chase.steps[9998]!.sceneId === 'scene:globe';
  });
  await stage.app.edit(id, { remove: [long.id] });
});

test('a path is drawn with the mouse, its corners are moved with the keys and pressed away', async () => {
  const points = async (): Promise<AimPart['points']> => {
    const effect = await record('effect', 'Beams circle slowly');
    assert.ok(effect?.kind === 'effect' && effect.parts[0]?.does === 'aim');
    return effect.parts[0].points;
  };
  await pick('Beams circle slowly');
  const part = page.getByRole('region', { name: /^Part 1/ });
  await part.getByLabel('How').selectOption('drawn');
  const paper = page.getByRole('application', { name: /Drawn path/ });
  const box = (await paper.boundingBox())!;
  const count = (await points()).length;
  // Waits until nothing (such as a message that goes by) lies over the place.
  const press = (x: number, y: number): Promise<void> =>
    paper.click({ position: { x: box.width * x, y: box.height * y } });
  await press(0.25, 0.25);
  await until('one', async () => (await points()).length === count + 1);
  await press(0.75, 0.3);
  await until('two', async () => (await points()).length === count + 2);
  await press(0.5, 0.8);
  await until('three', async () => (await points()).length === count + 3);
  const [x, y] = (await points())[count]!;
  assert.ok(Math.abs(x + 0.5) < 0.08 && Math.abs(y - 0.5) < 0.08, `${x}, ${y}`);
  const corner = paper.getByRole('button', { name: `Corner ${count + 1}:` });
  await corner.focus();
  await corner.press('ArrowRight');
  await until('moved', async () => (await points())[count]![0] > x);
  await paper.getByRole('button', { name: `Corner ${count + 3}:` }).press('Delete');
  await until('taken out', async () => (await points()).length === count + 2);
});

test('a tag is ticked, and found by', async () => {
  await pick('Mirror ball');
  await page.getByRole('checkbox', { name: 'Needs the ladder' }).check();
  await until('tagged', async () => {
    const scene = await record('scene', 'Mirror ball');
    return scene?.kind === 'scene' && scene.tags.join() === 'ladder';
  });
  const find = page.getByLabel('Find by name, folder or tag');
  await find.fill('ladder');
  await until('alone', async () => (await library().getByRole('listitem').count()) === 1);
  await find.fill('');
});

test('a picture from a file goes onto the pad; what is none is refused with the reason', async () => {
  await pick('Haze');
  const choose = async (name: string, mimeType: string, text: string): Promise<void> => {
    const chooser = page.waitForEvent('filechooser');
    await page.getByText('Picture on its pad…').click();
    await (await chooser).setFiles({ name, mimeType, buffer: Buffer.from(text) });
  };
  await choose('globe.png', 'image/png', 'no picture at all');
  await page.getByText('The file is no PNG picture, or it is broken.').waitFor();
  const drawn =
    '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 40 20"><circle cx="20" cy="10" r="9" fill="#fff"/></svg>';
  await choose('globe.svg', 'image/svg+xml', drawn);
  const picture = await until('the picture', () => record('picture', 'globe'));
  assert.ok(picture.kind === 'picture' && Math.max(picture.widthPx, picture.heightPx) === 480);
  const scene = await record('scene', 'Haze');
  assert.ok(scene?.kind === 'scene' && scene.pictureId === picture.id);
  await library().locator('li').filter({ hasText: 'Haze' }).locator('img').waitFor();
});

test('what the worker of the page draws is what is sent, byte for byte', async () => {
  const other = await stage.open('/scenes');
  // Every frame that the worker gives is kept beside.
  await other.addInitScript(() => {
    const kept = ((window as unknown as { drawn: unknown }).drawn = {} as Record<string, number[]>);
    const held = ((window as unknown as { drawnAlike: unknown }).drawnAlike = { alike: 0 });
    const Real = window.Worker;
    window.Worker = class extends Real {
      constructor(...given: ConstructorParameters<typeof Worker>) {
        super(...given);
        this.addEventListener(
          'message',
          ({ data }: MessageEvent<{ type: string; universes: number[]; bytes: Uint8Array }>) => {
            if (data.type !== 'frame') return;
            const before = JSON.stringify(kept);
            data.universes.forEach((u, i) => (kept[u] = Array.from(data.bytes.subarray(i * 512, i * 512 + 512))));
            held.alike = JSON.stringify(kept) === before ? held.alike + 1 : 0;
          },
        );
      }
    };
  });
  await other.reload();
  await other.getByRole('button', { name: 'Blind' }).click();
  for (const name of ['Doors open', 'Blue lap', 'Beams crossed', 'Counter wave 2', 'Haze'])
    await other.getByRole('button', { name: `Play ${name}` }).click();
  // Everything is in once a second of frames is the same.
  await until('all faded in', () =>
    other.evaluate(() => (window as unknown as { drawnAlike: { alike: number } }).drawnAlike.alike > 40),
  );
  const drawn = await other.evaluate(() => (window as unknown as { drawn: Record<string, number[]> }).drawn);
  assert.deepEqual(Object.keys(drawn), ['1', '2', '3']);
  assert.notDeepEqual(await slots(1), drawn[1], 'nothing of it is sent yet');
  await other.getByLabel('Fade', { exact: true }).selectOption('0');
  await other.getByRole('button', { name: 'Go live' }).click();
  for (const universe of [1, 2, 3])
    await until(`universe ${universe}`, async () => (await slots(universe)).join() === drawn[universe]!.join());
  await letGo();
});

test('what is edited blind stays held when the engine is killed', async () => {
  await stage.app.command({ do: 'play', target: 'scene:north', fadeInMs: 0 });
  await until('it plays', async () => (await slots(1))[80] === 255);
  await page.getByRole('button', { name: 'Blind' }).click();
  await pick('North side');
  await page.getByRole('button', { name: 'Take Level of Wash north 1 out' }).click();
  await until('held', async () => (await live()).held.length === 1);
  const before = await stage.app.health();
  process.kill(before.processes.engine!, 'SIGKILL');
  // Edited while no engine runs: nobody has noted yet that this must be held.
  await page.getByRole('button', { name: 'Take Level of Wash north 2 out' }).click();
  await until('another engine', async () => {
    const health = await stage.app.health();
    return health.ok && health.processes.engine !== before.processes.engine;
  });
  await until('held as before', async () => (await live()).held.length === 1);
  await until('as before the edits', async () => (await slots(1))[80] === 255 && (await slots(1))[88] === 255);
  await page.getByRole('button', { name: 'Leave without sending' }).click();
  await page.getByText('edited blind').waitFor();
  await page.getByLabel('Fade', { exact: true }).selectOption('0');
  await page.getByRole('button', { name: 'Take live' }).click();
  await until('as it is now', async () => (await slots(1))[80] === 0 && (await slots(1))[88] === 0);
  assert.equal((await live()).held.length, 0);
  for (let i = 0; i < 2; i++) await page.getByRole('button', { name: /^Undo/ }).click();
  await letGo();
});

test('on a phone: a pad is touched, a ready look for a group, an effect let go', async () => {
  const phone = await stage.open('/show', { width: 390, height: 844, touch: true });
  await phone.locator('button.pad').filter({ hasText: 'South side' }).tap();
  await until('it plays', async () => (await live()).playing.some((p) => p.target === 'scene:south'));
  await phone.locator('button.pad').filter({ hasText: 'South side' }).tap();
  await phone.getByRole('tab', { name: 'Ready' }).first().tap();
  const wide = await phone.evaluate(() => document.documentElement.scrollWidth);
  assert.ok(wide <= 390, `${wide} px wide`);
  await letGo();
});

test('a scene goes into another show, on the units there that are most like its own', async () => {
  await pick('South side');
  await page.getByRole('button', { name: 'Use again…' }).click();
  await page.getByRole('button', { name: 'Copy for another show' }).click();
  const { id, records } = await stage.app.openShow();
  const wanted = records.find((r) => r.id === 'scene:south');
  const file = new Uint8Array(await (await fetch(`${stage.app.url}/api/shows/${id}/archive`)).arrayBuffer());
  const { body } = await stage.app.call<{ id: string }>('POST', '/api/shows/import', file);
  await stage.app.call('POST', `/api/shows/${body.id}/open`);
  await until('the other show', async () => (await stage.app.openShow()).id === body.id);
  // In the other house the washes of the north hang in the south.
  const washes = records.flatMap((r) => (r.kind === 'unit' && r.name.startsWith('Wash') ? [r] : []));
  const put = washes.map((r, i) => ({ ...r, name: washes[(i + 4) % 8]!.name }));
  assert.equal((await stage.app.edit(body.id, { put })).status, 200);
  await page.reload();
  await page.getByRole('button', { name: 'Paste…' }).click();
  await page.getByText('those like it here: 4 of 4').waitFor({ state: 'attached' });
  await page.getByRole('button', { name: 'Paste 1 scene' }).click();
  const pasted = await until('pasted', async () => {
    const found = (await stage.app.openShow()).records.filter((r) => r.kind === 'scene' && r.name === 'South side');
    return found.find((r) => r.id !== 'scene:south');
  });
  assert.ok(pasted.kind === 'scene' && wanted?.kind === 'scene');
  const there = Object.entries(wanted.values).map(([unit, values]) => [
    washes[(washes.findIndex((w) => w.id === unit) + 4) % 8]!.id,
    values,
  ]);
  assert.deepEqual(pasted.values, Object.fromEntries(there));
});

test('pasted where nobody is like them, or on whom one likes: asked first, then order and spread go along', async () => {
  // The model of the clip is one that this show does not have.
  await page.evaluate(() => {
    const clip = JSON.parse(localStorage.getItem('amber-scenes')!) as { units: { model: string }[] };
    for (const unit of clip.units) unit.model = 'Gone Works Lamp 9';
    localStorage.setItem('amber-scenes', JSON.stringify(clip));
  });
  await page.getByRole('button', { name: 'Paste…' }).click();
  const paste = page.getByRole('button', { name: 'Paste 1 scene' });
  await page.getByText('Nobody here is like Gone Works Lamp 9').waitFor();
  assert.equal(await paste.isDisabled(), true);
  await page.getByLabel('4 × Gone Works Lamp 9').selectOption({ label: 'All washes (8)' });
  await paste.click();
  const found = await until('pasted on eight', async () =>
    (await stage.app.openShow()).records.find(
      (r) => r.kind === 'scene' && r.name === 'South side' && Object.keys(r.values).length === 8,
    ),
  );
  assert.ok(found.kind === 'scene');
  for (const own of Object.values(found.values)) assert.equal(own['Dimmer'], 1);
});

test('nothing went wrong inside the pages', () => assert.deepEqual(stage.errors, []));
