import assert from 'node:assert/strict';
import { after, before, describe, test } from 'node:test';
import type { Page } from 'playwright-core';
import { make } from '../../src/core/records/index.ts';
import { hearSacn, until } from '../support/app.ts';
import { Stage } from '../support/browser.ts';
import { showHands } from '../support/show-hands.ts';

const EAR = `127.204.${process.pid & 255}.9`;
let stage: Stage;
let page: Page;
let ear: Awaited<ReturnType<typeof hearSacn>>;
after(() => ear?.close());
before(async () => {
  stage = await Stage.start();
  page = await stage.open('/show');
});
after(() => stage?.end());

const { live, slots, record, step, library, letGo } = showHands(
  () => stage,
  () => page,
);
const tail = () => page.getByRole('contentinfo');
/** Selects a group; what is open closes first. */
const choose = async (group: string): Promise<void> => {
  await page.keyboard.press('Escape');
  await page.keyboard.press('Escape');
  await tail().getByRole('button', { name: group }).click();
  await tail().getByRole('tab', { name: 'Ready' }).click();
};
describe('straight away', () => {
  test('a group, one touch, and there is light: nothing programmed', async () => {
    await choose('All washes');
    await tail().getByRole('button', { name: 'Full', exact: true }).click();
    await until('washes at full', async () => (await slots(1))[80] === 255);
    await tail().getByRole('button', { name: 'Turquoise' }).click();
    await until('turquoise', async () => {
      const [level, ...rest] = (await slots(1)).slice(80, 88);
      return level === 255 && rest.some((v) => v > 150);
    });
  });

  test('a rainbow along the bars runs by itself, and stops when it is let go', async () => {
    await choose('Counter bars');
    await tail().getByRole('button', { name: 'Rainbow along' }).click();
    const effect = await until('the effect by hand', async () => (await live()).handEffects[0]);
    assert.equal(effect.on?.length, 4);
    const first = (await slots(2)).join();
    await until('it moves', async () => (await slots(2)).join() !== first);
    assert.ok(new Set(await slots(2)).size > 8, 'many colours at once');
    await tail()
      .getByRole('tab', { name: /Running/ })
      .click();
    await tail().getByRole('button', { name: 'Let Rainbow along go' }).click();
    await until('gone', async () => (await live()).handEffects.length === 0);
    await letGo();
  });

  test('an effect of the show runs on others as well', async () => {
    await choose('Counter bars');
    await tail().getByRole('region', { name: 'Of this show' }).getByRole('button', { name: 'Wash lap' }).click();
    const effect = await until('the effect by hand', async () => (await live()).handEffects[0]);
    assert.deepEqual(effect.on, ['unit:bar1', 'unit:bar2', 'unit:bar3', 'unit:bar4']);
    assert.deepEqual(effect.spec?.parts[0]?.does, 'colour');
    await letGo();
  });

  test('an effect by hand is stored as one that plays on the same units', async () => {
    await choose('House lamps');
    await tail().getByRole('button', { name: 'Twinkle', exact: true }).click();
    await until('it runs', async () => (await live()).handEffects.length === 1);
    await tail().getByRole('button', { name: 'Store', exact: true }).click();
    await page.getByLabel('Name of the new effect').fill('Lamps twinkle');
    await page.getByRole('button', { name: 'New effect' }).click();
    const stored = await until('stored', () => record('effect', 'Lamps twinkle'));
    assert.ok(stored.kind === 'effect');
    assert.deepEqual([...stored.on].sort(), ['unit:exitwall', 'unit:festoon', 'unit:hire', 'unit:snack']);
    await until('it left the hand', async () => (await live()).handEffects.length === 0);
  });
});

describe('the hand', () => {
  test('a level is spread over the selection, from first to last', async () => {
    await step('Plot').click();
    await choose('House lamps');
    await tail().getByRole('button', { name: 'Spread Level over the selection' }).click();
    await page.getByRole('button', { name: 'Spread', exact: true }).click();
    await until('spread', async () => {
      const { hand } = await live();
      return (
        ['hire', 'festoon', 'snack', 'exitwall'].map((u) => hand[`unit:${u}`]?.['Dimmer']).join() ===
        '0,0.3333,0.6667,1'
      );
    });
    await letGo();
  });

  test('what plays is taken into the hand, copied and pasted on others', async () => {
    await stage.app.command({ do: 'play', target: 'scene:north', fadeInMs: 0 });
    await choose('North washes');
    await tail().getByRole('button', { name: 'More for the selection' }).click();
    await page.getByRole('button', { name: 'Take what is playing' }).click();
    const taken = await until('taken', async () => (await live()).hand['unit:wash1']);
    assert.equal(taken['Dimmer'], 1);
    await tail().getByRole('button', { name: 'More for the selection' }).click();
    await page.getByRole('button', { name: 'Copy values by hand' }).click();
    await choose('South washes');
    await tail().getByRole('button', { name: 'More for the selection' }).click();
    await page.getByRole('button', { name: 'Paste on the selection' }).click();
    await until('pasted', async () => JSON.stringify((await live()).hand['unit:wash5']) === JSON.stringify(taken));
    await letGo();
  });

  test('stored as a palette it is changed once for every scene', async () => {
    await choose('All washes');
    await tail().getByRole('button', { name: 'Red', exact: true }).click();
    await until('red by hand', async () => (await live()).hand['unit:wash1']);
    await tail().getByRole('button', { name: 'Store', exact: true }).click();
    await page.getByRole('tab', { name: 'Palette' }).click();
    await page.getByLabel('Name of the new palette').fill('House red');
    await page.getByRole('button', { name: 'Store palette' }).click();
    const palette = await until('palette', () => record('palette', 'House red'));
    assert.ok(palette.kind === 'palette' && palette.all['ColorRGB_Red'] === 1);
    // It stays by hand, and follows the palette from now on; chosen again it is the same.
    await until('it follows', async () => JSON.stringify((await live()).hand['unit:wash1']).includes(palette.id));
    await letGo();
    await tail().getByRole('tab', { name: 'Colour', exact: true }).click();
    await tail().getByRole('button', { name: 'House red' }).click();
    await until('by reference', async () => JSON.stringify((await live()).hand['unit:wash1']).includes(palette.id));
    await letGo();
  });
});

describe('blind', () => {
  test('nothing that is tried or edited blind changes a byte on the wire; then it goes live with a fade', async () => {
    await stage.app.command({ do: 'play', target: 'scene:blue', fadeInMs: 0 });
    await until('it plays', async () => (await slots(1))[80]! > 200);
    const other = await stage.open('/show');
    // Somebody listens on the wire: every packet of every universe, 40 times a second.
    ear = await hearSacn(EAR, 5568);
    const { id } = await stage.app.openShow();
    await stage.app.edit(id, {
      put: [
        make('output', { id: 'output:ear', name: 'Ear', protocol: 'sacn', destinations: [EAR] }),
        ...[1, 2, 3].map((u) =>
          make('route', { id: `route:ear${u}`, universe: u, outputId: 'output:ear', wireUniverse: u }),
        ),
      ],
    });
    await until('packets', () => Promise.resolve(ear.packets.length > 30));
    await step('Scenes').click();
    await page.getByRole('button', { name: 'Blind' }).click();
    await page.getByText('Nothing of it is sent').waitFor();
    const from = ear.packets.length;
    // By hand, by effect, by playing, by editing the very scene that plays, and by undoing.
    await choose('All washes');
    await tail().getByRole('button', { name: 'Full', exact: true }).click();
    await tail().getByRole('button', { name: 'Rainbow along' }).click();
    await library().getByRole('button', { name: 'Blue lap', exact: true }).click();
    await page.getByRole('button', { name: 'Play North side' }).click();
    const priority = page.getByLabel('Priority (0-200)');
    await priority.fill('120');
    await priority.press('Enter');
    await until('edited', async () => {
      const scene = await record('scene', 'Blue lap');
      return scene?.kind === 'scene' && scene.priority === 120;
    });
    await page.getByRole('button', { name: 'Take Level of Wash north 1 out' }).click();
    await until('taken out of the record', async () => {
      const scene = await record('scene', 'Blue lap');
      return scene?.kind === 'scene' && !('Dimmer' in scene.values['unit:wash1']!);
    });
    // A second and a half more of packets: whatever was done last would have been sent by then.
    const done = ear.packets.length;
    await until('what follows', () => ear.packets.length > done + 180);
    const heard = ear.packets.slice(from);
    for (const universe of [1, 2, 3]) {
      const own = heard.filter((p) => p.universe === universe).map((p) => p.slots.join());
      assert.ok(own.length > 40, `${own.length} packets of universe ${universe}`);
      assert.equal(new Set(own).size, 1, `universe ${universe}: not a byte changed`);
    }
    assert.deepEqual((await live()).hand, {});
    assert.equal((await live()).held.length, 1, 'the scene that plays is held as it was');
    // The other browser is live all the while: what it does is sent, and it sees that edits wait.
    await other.getByText('edited blind').waitFor();
    await other.locator('button.pad').filter({ hasText: 'Derbies turning' }).click();
    await until('live elsewhere', () =>
      Promise.resolve(
        new Set(
          ear.packets
            .slice(from)
            .filter((p) => p.universe === 1)
            .map((p) => p.slots.join()),
        ).size > 1,
      ),
    );
    await page.getByRole('button', { name: 'Go live' }).click();
    await until('live', async () => (await live()).held.length === 0 && Object.keys((await live()).hand).length === 8);
    await until('rainbow on the washes', async () => (await live()).handEffects.length === 1);
    const targets = (await live()).playing.map((p) => p.target);
    assert.ok(targets.includes('scene:north'));
    assert.ok(targets.includes('scene:derby'), 'what the other began meanwhile goes on');
    await page.getByRole('button', { name: 'Blind' }).waitFor();
    assert.equal(await page.getByText('Nothing of it is sent').count(), 0);
    await letGo();
    for (let i = 0; i < 2; i++) await page.getByRole('button', { name: /^Undo/ }).click();
    await until('as it was', async () => {
      const scene = await record('scene', 'Blue lap');
      return scene?.kind === 'scene' && scene.priority === 100 && 'Dimmer' in scene.values['unit:wash1']!;
    });
  });

  test('what is seen blind is what the engine sends once it is live', async () => {
    await step('Plot').click();
    const rest = (await slots(2)).join();
    await page.getByRole('button', { name: 'Blind' }).click();
    await choose('Counter bars');
    await tail().getByRole('button', { name: 'Full', exact: true }).click();
    await tail().getByRole('button', { name: 'Violet' }).click();
    const bow = tail().locator('[data-bow]').first();
    await until('the bow is violet here', async () => {
      const [r, g, b] = (await bow.evaluate((e: SVGElement) => e.style.fill)).match(/\d+/g)?.map(Number) ?? [];
      return b! > 200 && r! > 80 && g! < 120;
    });
    assert.equal((await slots(2)).join(), rest, 'not a byte is sent');
    await page.getByLabel('Fade', { exact: true }).selectOption('0');
    await page.getByRole('button', { name: 'Go live' }).click();
    await until('violet bars', async () => (await slots(2)).join() !== rest);
    await letGo();
  });
});

describe('while the show runs', () => {
  test('who sets a unit, and why', async () => {
    await step('Show').click();
    await stage.app.command({ do: 'play', target: 'scene:doors', fadeInMs: 0 });
    await stage.app.command({ do: 'play', target: 'scene:blue', fadeInMs: 0 });
    await choose('All washes');
    await page.getByRole('tab', { name: 'Why', exact: true }).click();
    const show = page.getByRole('region', { name: 'Show' });
    // All eight in a line each; one of them with its reasons.
    for (let n = 1; n <= 4; n++)
      for (const side of ['north', 'south']) {
        const row = show.getByRole('row').filter({ hasText: `Wash ${side} ${n}` });
        await row
          .getByText(/Blue lap/)
          .first()
          .waitFor();
      }
    await show.getByRole('button', { name: 'Wash south 4' }).click();
    const level = show.getByRole('region', { name: 'Level' });
    await level.getByText('Blue lap').waitFor();
    const rows = await level.getByRole('listitem').allTextContents();
    assert.match(rows[0]!, /Blue lap.*85 %.*is sent/);
    assert.match(rows[1]!, /Doors open.*lower: the highest level takes precedence/);
    await stage.app.command({ do: 'group', groupId: 'group:washes', level: 0.5 });
    await level.getByText(/group All washes 50 %/).waitFor();
    await stage.app.command({ do: 'group', groupId: 'group:washes', level: 1 });
    // With nobody selected it is about the whole rig, and Ready is for everybody.
    await page.keyboard.press('Escape');
    await show.getByRole('row').filter({ hasText: 'Beam spot 1' }).waitFor();
    await show.getByRole('tab', { name: 'Ready' }).click();
    await show.getByRole('button', { name: 'Red', exact: true }).click();
    await until('all that take a colour are red', async () => Object.keys((await live()).hand).length > 15);
    await stage.app.command({ do: 'letGo' });
    await page.getByRole('tab', { name: 'Pads' }).click();
    await letGo();
  });

  test('one pace for everything that plays, and for what begins later', async () => {
    await stage.app.command({ do: 'play', target: 'effect:lap' });
    const pace = page.getByRole('group', { name: 'Pace of everything' });
    await pace.getByRole('button', { name: '×2' }).click();
    await until('twice as fast', async () => (await live()).playing.every((p) => p.speed === 2));
    await stage.app.command({ do: 'play', target: 'effect:rainbow' });
    await until('the later one too', async () => {
      const { playing } = await live();
      return playing.length > 1 && playing.every((p) => p.speed === 2);
    });
    await pace.getByRole('button', { name: '×1' }).click();
    await until('as written', async () => (await live()).playing.every((p) => p.speed === 1));
    await letGo();
  });

  test('the tempo is tapped, typed, halved; the bar begins now', async () => {
    const tap = page.getByRole('button', { name: 'Tap', exact: true }).first();
    // Four taps half a second apart, by the page's own clock.
    await tap.evaluate(async (button: HTMLElement) => {
      for (let i = 0; i < 4; i++) {
        button.click();
        await new Promise((resolve) => setTimeout(resolve, 500));
      }
    });
    await until('about 120', async () => Math.abs((await live()).tempo.bpm - 120) < 6);
    await page.getByRole('button', { name: /^Tempo/ }).click();
    const typed = page.getByLabel('Beats a minute (20-300)');
    await typed.fill('96');
    await typed.press('Enter');
    await until('96', async () => (await live()).tempo.bpm === 96);
    await typed.fill('500');
    await typed.press('Enter');
    await page.getByText('Give 20 to 300.').waitFor();
    await typed.press('Escape');
    await page.getByLabel('Tempo', { exact: true }).getByRole('button', { name: 'Half' }).click();
    await until('48', async () => (await live()).tempo.bpm === 48);
    await page.getByRole('button', { name: 'The bar begins now' }).click();
    await until('a bar', async () => (await live()).tempo.points[0]!.beat % 4 === 0);
    await page.keyboard.press('Escape');
  });

  test('an effect is changed while it plays; the change is kept, or let go', async () => {
    await page.getByRole('button', { name: 'Counter rainbow 1 part' }).click();
    const rate = page.getByRole('group', { name: /Counter rainbow while/ });
    await rate.waitFor();
    const entry = page.getByLabel('Turns a beat, typed').first();
    await entry.fill('0.5');
    await entry.press('Enter');
    await until('changed', async () => (await live()).playing[0]?.spec?.rate === 0.5);
    await page.getByRole('button', { name: 'Drop the change', exact: true }).click();
    await until('as before', async () => (await live()).playing[0]?.spec === null);
    await entry.fill('0.25');
    await entry.press('Enter');
    await until('changed again', async () => (await live()).playing[0]?.spec?.rate === 0.25);
    await page.getByRole('button', { name: 'Keep the change' }).click();
    await until('kept', async () => {
      const effect = await record('effect', 'Counter rainbow');
      return effect?.kind === 'effect' && effect.rate === 0.25 && (await live()).playing[0]?.spec === null;
    });
    await letGo();
  });

  test('held, a pad flashes; a chase is held and stepped by hand; frozen, all stands still', async () => {
    const pad = (name: string) => page.locator('button.pad').filter({ hasText: name }).first();
    await page.getByLabel('Hold to flash').check();
    await pad('South side').hover();
    await page.mouse.down();
    await until('flash', async () => (await slots(1))[112] === 255);
    await page.mouse.up();
    await until('gone at once', async () => (await slots(1))[112] === 0);
    await page.getByLabel('Hold to flash').uncheck();
    await pad('Side to side').click();
    const controls = page.getByRole('group', { name: /Side to side while/ });
    await controls.getByRole('button', { name: 'One step on' }).click();
    await until('held', async () => (await live()).playing[0]?.speed === 0);
    const first = (await slots(1)).join();
    await controls.getByRole('button', { name: 'One step on' }).click();
    await until('the other side', async () => (await slots(1)).join() !== first);
    await controls.getByRole('button', { name: 'Go on' }).click();
    await until('it goes on', async () => (await live()).playing[0]?.speed === 1);
    await page.getByRole('button', { name: 'Freeze', exact: true }).click();
    await until('frozen', async () => (await live()).frozen !== null);
    // The page may hear of the last frame before it froze a moment after it hears that it is frozen.
    const frames = async (): Promise<number> => (await stage.app.health()).engine!.frames;
    const later = async (count: number): Promise<void> => {
      const from = await frames();
      await until(`${count} frames more`, async () => (await frames()) >= from + count);
    };
    await later(10);
    const still = await slots(1);
    for (let i = 0; i < 3; i++) {
      await later(15);
      assert.deepEqual(await slots(1), still);
    }
    await page.getByRole('button', { name: 'Frozen' }).last().click();
    await until('on again', async () => (await slots(1)).join() !== still.join());
    await letGo();
  });

  test('moods, one at a time; an area dark alone and handed back', async () => {
    await page.getByRole('button', { name: 'peak', exact: true }).click();
    await until('peak', async () => (await live()).playing.some((p) => p.target === 'mood:peak'));
    await page.getByRole('button', { name: 'calm', exact: true }).click();
    await until('calm alone', async () => {
      const moods = (await live()).playing.filter((p) => p.releasedAt === null).map((p) => p.target);
      return moods.join() === 'mood:calm';
    });
    await stage.app.command({ do: 'play', target: 'scene:doors', fadeInMs: 0 });
    await page.getByRole('tab', { name: 'Masters' }).click();
    const areas = page.getByRole('region', { name: 'Areas' });
    await areas.getByRole('button', { name: 'Dark' }).first().click();
    await until('dark alone', async () => Object.values((await live()).areasDark).some((d) => d?.on));
    await areas.getByRole('button', { name: 'Hand back' }).first().click();
    await until('back', async () => Object.values((await live()).areasDark).every((d) => !d?.on));
    await page.getByRole('tab', { name: 'Pads' }).click();
    await letGo();
  });
});

describe('scenes in the grid', () => {
  test('an attribute is taken in, typed over and taken out', async () => {
    await step('Scenes').click();
    await library().getByRole('button', { name: 'North side', exact: true }).click();
    await page.keyboard.press('Escape');
    await page.getByRole('tab', { name: 'Grid' }).click();
    const level = page.getByRole('button', { name: 'Level of Wash north 1: 100 %' });
    await level.click();
    const entry = page.getByLabel('Level of Wash north 1 in percent');
    await entry.fill('40');
    await entry.press('Enter');
    await until('40 %', async () => {
      const scene = await record('scene', 'North side');
      return scene?.kind === 'scene' && scene.values['unit:wash1']?.['Dimmer'] === 0.4;
    });
    await page.locator('th button', { hasText: 'Level' }).first().click();
    await until('levels out', async () => {
      const scene = await record('scene', 'North side');
      return scene?.kind === 'scene' && Object.values(scene.values).every((v) => !('Dimmer' in v));
    });
    await page.keyboard.press('Control+z');
    await until('undone', async () => {
      const scene = await record('scene', 'North side');
      return scene?.kind === 'scene' && scene.values['unit:wash1']?.['Dimmer'] === 0.4;
    });
  });

  test('copied to a group of another size, order and spread go along', async () => {
    await page.getByRole('button', { name: 'Use again…' }).click();
    await page.getByLabel('To', { exact: true }).selectOption({ label: 'All washes (8)' });
    await page.getByRole('button', { name: /Copy: order and spread/ }).click();
    const copy = await until('the copy', () => record('scene', 'North side on All washes'));
    assert.ok(copy.kind === 'scene');
    assert.equal(Object.keys(copy.values).length, 8);
  });
});

describe('scenes elsewhere', () => {
  test('copied and pasted, on the units that are most like theirs', async () => {
    await page.getByRole('button', { name: 'Use again…' }).click();
    await page.getByRole('button', { name: 'Copy for another show' }).click();
    await page.getByRole('button', { name: 'Paste…' }).click();
    await page.getByRole('button', { name: 'Paste 1 scene' }).click();
    const pasted = await until('pasted', async () => {
      const { records } = await stage.app.openShow();
      const found = records.filter((r) => r.kind === 'scene' && r.name === 'North side on All washes');
      return found.length === 2 ? found : null;
    });
    assert.ok(pasted[0]!.kind === 'scene' && pasted[1]!.kind === 'scene');
    assert.deepEqual(pasted[0]!.values, pasted[1]!.values);
  });

  test('found by folder', async () => {
    const nav = library();
    const folder = page.getByLabel('Folder', { exact: true });
    await folder.fill('Friday / Slow');
    await folder.press('Enter');
    await nav.getByText('Friday/Slow').waitFor();
    await page.getByLabel('Find by name, folder or tag').fill('friday');
    await until('one is left', async () => (await nav.getByRole('listitem').count()) === 1);
    await page.getByLabel('Find by name, folder or tag').fill('');
  });
});

test('the first light of an empty show: four units from the kit, one touch', async () => {
  const made = await stage.app.call<{ id: string }>('POST', '/api/shows', { name: 'Nothing yet' });
  await stage.app.call('POST', `/api/shows/${made.body.id}/open`);
  await until('the empty show', async () => (await stage.app.openShow()).records.length === 1);
  const fresh = await stage.open('/kit');
  await fresh.getByLabel('Search the kit').fill('plumlet');
  await fresh.getByRole('grid', { name: 'Profiles' }).getByRole('row').first().click();
  await fresh.getByLabel('Units', { exact: true }).fill('4');
  await fresh.getByRole('button', { name: 'Add 4 units' }).click();
  const count = async () => (await stage.app.openShow()).records.filter((r) => r.kind === 'unit').length;
  await until('four units', async () => (await count()) === 4);
  await fresh.getByRole('heading', { name: 'Kit' }).click();
  await fresh.keyboard.press('Control+a');
  await fresh.getByRole('contentinfo').getByRole('button', { name: 'Full', exact: true }).click();
  await until('light', async () => (await slots(1)).some((v) => v === 255));
});

test('nothing went wrong inside the pages', () => assert.deepEqual(stage.errors, []));
