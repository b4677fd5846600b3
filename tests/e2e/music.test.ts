import assert from 'node:assert/strict';
import { copyFileSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { after, before, describe, test } from 'node:test';
import type { Page } from 'playwright-core';
import { writeWav } from '../../src/core/format/wav.ts';
import { EAR } from '../../src/core/music/version.ts';
import type { SongRecord } from '../../src/core/records/index.ts';
import { beatAt } from '../../src/core/show/index.ts';
import { beatsOf, gridOf, sectionsOf } from '../../src/core/song/grid.ts';
import { synthesise, type Note } from '../../src/sound/synth.ts';
import { until } from '../support/app.ts';
import { Stage } from '../support/browser.ts';

let stage: Stage;
let page: Page;
const folder = mkdtempSync(path.join(os.tmpdir(), 'amber-songs-'));
before(async () => {
  stage = await Stage.start();
  page = await stage.open('/music');
});
after(async () => {
  await stage?.end();
  rmSync(folder, { recursive: true, force: true });
});

/** Drums at a tempo: a bass drum and a snare in turn, hats between. */
function drums(bpm: number, seconds: number, name: string): string {
  const notes: Note[] = [];
  for (let i = 0, at = 0.5; at < seconds - 0.5; i++, at += 60 / bpm) {
    notes.push({ at, as: i % 2 === 0 ? 'kick' : 'snare', loud: 1, hz: 60, long: 0.2 });
    notes.push({ at: at + 30 / bpm, as: 'hat', loud: 0.4, hz: 60, long: 0.1 });
    if (i % 4 === 0) notes.push({ at, as: 'bass', loud: 0.8, hz: i % 8 === 0 ? 55 : 73, long: 1.5 });
  }
  const { samples, rate } = synthesise({ notes, seconds });
  const file = path.join(folder, name);
  writeFileSync(file, writeWav([samples], rate, 16));
  return file;
}
const songs = async (): Promise<SongRecord[]> =>
  (await stage.app.openShow()).records.flatMap((r) => (r.kind === 'song' ? [r] : []));
const song = async (name: string): Promise<SongRecord> => (await songs()).find((s) => s.name === name)!;
const list = () => page.getByRole('navigation', { name: 'Songs' });
const button = (name: string | RegExp) => page.getByRole('button', { name, exact: typeof name === 'string' });
const choose = (files: string[]): Promise<void> =>
  page.locator('input[type=file][multiple]:not([webkitdirectory])').setInputFiles(files);
const openSong = async (name: string): Promise<void> => {
  await list()
    .getByRole('button', { name: new RegExp(`^♪?${name}`) })
    .click();
  await page.getByRole('application', { name: new RegExp(`^${name}`) }).waitFor();
};
const undo = (): Promise<void> => page.keyboard.press('Control+z');

describe('songs', () => {
  test('of the demo are there, heard', async () => {
    await list().getByText('Lantern Waltz').waitFor();
    const [waltz, ferry, gears] = [await song('Lantern Waltz'), await song('Night Ferry'), await song('Two Gears')];
    assert.deepEqual(
      [waltz, ferry, gears].map((s) => gridOf(s).metres[0]),
      [3, 4, 4],
    );
    assert.match(await list().innerText(), /128 · 4\/4/);
  });

  test('are brought in, heard beside the show and listed; what is no song says why, the others come', async () => {
    const broken = path.join(folder, 'broken.mp3');
    writeFileSync(broken, 'this is no sound at all, whatever it is called');
    const cut = path.join(folder, 'cut.wav');
    writeFileSync(cut, readFileSync(drums(120, 4, 'whole.wav')).subarray(0, 60));
    const empty = path.join(folder, 'empty.flac');
    writeFileSync(empty, '');
    await choose([broken, drums(132, 24, 'Fast_drums.wav'), empty, cut]);
    const heard = await until(
      'it is heard',
      async () => {
        const found = await song('Fast drums');
        return found?.heard ? found : null;
      },
      60,
    );
    assert.ok(Math.abs(heard.heard!.bpm - 132) < 1, `${heard.heard!.bpm}`);
    assert.equal(heard.file, 'Fast_drums.wav');
    await list()
      .getByText(/^13[12](\.\d)? · 4\/4/)
      .waitFor();
    const words = await list().innerText();
    assert.match(words, /broken\.mp3[\s\S]*no sound that is known/);
    assert.match(words, /empty\.flac[\s\S]*empty/);
    const fault = await until('the cut one is told', async () => (await song('cut'))?.fault);
    assert.ok(fault.message.length > 5 && fault.remedy.length > 5);
    for (const name of ['broken.mp3', 'empty.flac']) await button(`Put ${name} away`).click();
    assert.equal(await list().getByRole('alert').count(), 0);
  });

  test('are dropped on the page', async () => {
    const bytes = readFileSync(drums(90, 10, 'Dropped.wav')).toString('base64');
    await page.getByText('Fast drums').first().waitFor();
    await page.evaluate((base64) => {
      const data = Uint8Array.from(atob(base64), (c) => c.charCodeAt(0));
      const transfer = new DataTransfer();
      transfer.items.add(new File([data], 'Dropped.wav', { type: 'audio/wav' }));
      transfer.items.add(new File(['a letter'], 'letter.txt', { type: 'text/plain' }));
      const panes = document.querySelector('.panes')!;
      for (const type of ['dragover', 'drop'])
        panes.dispatchEvent(new DragEvent(type, { dataTransfer: transfer, bubbles: true, cancelable: true }));
    }, bytes);
    await until('it is heard', async () => (await song('Dropped'))?.heard, 60);
    await button('Put letter.txt away').click();
  });

  test('come as M4A, with what they say of themselves; what only calls itself M4A says so', async () => {
    const false_ = path.join(folder, 'false.m4a');
    const real = readFileSync('tests/samples/sound/drums-126.m4a');
    writeFileSync(false_, Buffer.concat([real.subarray(0, 32), Buffer.alloc(4000, 7)]));
    await choose(['tests/samples/sound/drums-126.m4a', false_]);
    const heard = await until(
      'it is heard',
      async () => (await song('Carried Drums'))?.heard && song('Carried Drums'),
      60,
    );
    assert.deepEqual([heard.artist, heard.type], ['The Made-up Band', 'audio/wav']);
    assert.ok(Math.abs(heard.lengthS! - 13) < 0.2, `${heard.lengthS} s`);
    assert.ok(Math.abs(heard.heard!.bpm - 126) < 1, `${heard.heard!.bpm} beats a minute`);
    await page.getByText('This browser cannot decode M4A').waitFor();
    await button('Put false.m4a away').click();
  });

  test('what was brought in is undone as a whole, though it was heard meanwhile', async () => {
    await choose([drums(100, 12, 'Not wanted.wav')]);
    await until('it is heard', async () => (await song('Not wanted'))?.heard, 60);
    await page.getByRole('button', { name: /^Undo/ }).click();
    await until('gone', async () => (await song('Not wanted')) === undefined);
  });

  test('the same file again is no second song', async () => {
    const again = path.join(folder, 'other name.wav');
    copyFileSync(path.join(folder, 'Fast_drums.wav'), again);
    const before = (await songs()).length;
    await choose([again]);
    await page.getByText('“Fast drums” is here already').waitFor();
    assert.equal((await songs()).length, before);
  });

  test('are found by name, tempo and metre', async () => {
    const find = page.getByRole('searchbox');
    await find.fill('3/4');
    assert.equal(await list().locator('li', { hasText: '·' }).count(), 1);
    await find.fill('nothing of that name');
    await list().getByText('Nothing of that name.').waitFor();
    await find.fill('');
  });
});

describe('a song set right', () => {
  test('beats: half, the one, a bead dragged, each undone', async () => {
    await openSong('Fast drums');
    const before = await song('Fast drums');
    await button('Half').click();
    const half = await until('half', async () => {
      const now = await song('Fast drums');
      return now.mended.stretches.length > 0 ? now : null;
    });
    assert.ok(Math.abs(beatsOf(half).length - beatsOf(before).length / 2) <= 1);
    await undo();
    await until('undone', async () => (await song('Fast drums')).mended.stretches.length === 0);
    await button('One later').click();
    const later = await until('later', async () => {
      const now = await song('Fast drums');
      return now.mended.bars ? now : null;
    });
    assert.notDeepEqual(gridOf(later).places, gridOf(before).places);
    await undo();
    await until('undone', async () => (await song('Fast drums')).mended.bars === null);
    // A bead is dragged along its thread.
    const wave = page.locator('.close canvas');
    const box = (await wave.boundingBox())!;
    const [from, span] = [Number(await wave.getAttribute('data-from')), Number(await wave.getAttribute('data-span'))];
    const beats = beatsOf(before);
    const x = (at: number): number => box.x + ((at - from) / span) * box.width;
    await page.mouse.move(x(beats[6]!), box.y + box.height - 32);
    await page.mouse.down();
    await page.mouse.move(x(beats[6]! + 0.1), box.y + box.height - 32, { steps: 4 });
    await page.mouse.up();
    const moved = await until('moved', async () => {
      const now = await song('Fast drums');
      return now.mended.stretches.length > 0 ? now : null;
    });
    assert.ok(Math.abs(beatsOf(moved)[6]! - beats[6]! - 0.1) < 0.03, `${beatsOf(moved)[6]! - beats[6]!}`);
    assert.equal(beatsOf(moved).length, beats.length);
    await undo();
    await until('undone', async () => (await song('Fast drums')).mended.stretches.length === 0);
  });

  test('shows in another browser, stays over a reload, and when it is heard anew', async () => {
    const other = await stage.open(`/music?song=${(await song('Fast drums')).id}`);
    await other.getByRole('application').waitFor();
    await button('Double').click();
    const mended = await until('doubled', async () => {
      const now = await song('Fast drums');
      return now.mended.stretches.length > 0 ? now : null;
    });
    await other.getByText(`${beatsOf(mended).length} beats`).waitFor();
    await page.reload();
    await page.getByText(`${beatsOf(mended).length} beats`).waitFor();
    await page.getByText('Name and notes').click();
    await button('Hear it anew').waitFor();
    // One that an earlier ear heard says so, where it cannot be missed.
    await page.getByText('Name and notes').click();
    assert.equal(await button('Hear it anew').isVisible(), false);
    const now = await song('Fast drums');
    const { id } = await stage.app.openShow();
    await stage.app.edit(id, { put: [{ ...now, heard: { ...now.heard!, ear: EAR - 1 } }] });
    await page.getByText('The ear hears better now').waitFor();
    await button('Hear it anew').click();
    await until('heard anew', async () => (await song('Fast drums')).heard?.ear === EAR, 60);
    await page.getByText('The ear hears better now').waitFor({ state: 'detached' });
    assert.deepEqual(beatsOf(await song('Fast drums')), beatsOf(mended));
    await button('As it was heard').click();
    await until('as heard', async () => (await song('Fast drums')).mended.stretches.length === 0);
    await other.close();
  });

  test('sections: split, named, given a mood, joined', async () => {
    await openSong('Night Ferry');
    const before = sectionsOf(await song('Night Ferry'));
    const wave = page.locator('.close canvas');
    const box = (await wave.boundingBox())!;
    await page.mouse.click(box.x + box.width / 2, box.y + box.height / 3);
    await button('Split here').click();
    const split = await until('split', async () => {
      const now = sectionsOf(await song('Night Ferry'));
      return now.length === before.length + 1 ? now : null;
    });
    const own = split.findIndex((s) => !before.some((b) => b.at === s.at));
    await page.getByLabel('Name of the section').fill('Verse');
    await page.keyboard.press('Enter');
    await until('named', async () => sectionsOf(await song('Night Ferry'))[own]!.name === 'Verse');
    await page.getByLabel('Mood').selectOption('calm');
    await until('calm', async () => sectionsOf(await song('Night Ferry'))[own]!.mood === 'calm');
    await button('Join with the one before').click();
    await until('joined', async () => sectionsOf(await song('Night Ferry')).length === before.length);
  });
});

describe('a song that plays', () => {
  const on = async () => (await stage.app.live()).song;
  test('sounds in this page together with the show, whose beats are its beats', async () => {
    await openSong('Night Ferry');
    await page.getByRole('toolbar', { name: 'Playing' }).getByRole('button', { name: 'Play' }).click();
    await until('it is on', async () => (await on())?.playing);
    // The page measures how far its sound is off: together within a few milliseconds after a moment.
    await until(
      'together',
      async () => {
        const off = await page.locator('[data-off]').getAttribute('data-off', { timeout: 500 });
        return off !== null && Math.abs(Number(off)) < 10;
      },
      30,
    );
    const live = await stage.app.live();
    const record = await song('Night Ferry');
    const grid = gridOf(record);
    const { at: from, ms } = live.song!;
    const next = grid.beats.findIndex((at) => at > from + 1);
    const beat = beatAt(live.tempo, ms + (grid.beats[next]! - from) * 1000);
    assert.ok(Math.abs(beat - Math.round(beat)) < 1e-6, `${beat}`);
    assert.equal((((Math.round(beat) - grid.places[next]!) % 4) + 4) % 4, 0);
  });

  test('is paused and goes on, from another browser too; a press on the wave goes there', async () => {
    const other = await stage.open('/show');
    await other.getByRole('button', { name: 'Pause the song' }).click();
    await until('paused', async () => (await on())?.playing === false);
    await other.getByText('sound: another page').waitFor();
    await other.getByRole('button', { name: 'Play the song' }).click();
    await until('plays', async () => (await on())?.playing);
    await other.close();
    const whole = page.locator('.whole canvas');
    const box = (await whole.boundingBox())!;
    await page.mouse.click(box.x + box.width * 0.5, box.y + 60);
    const length = (await song('Night Ferry')).lengthS!;
    await until('there', async () => {
      const state = await on();
      return state && Math.abs(state.at - length * 0.5) < 2;
    });
  });

  test('plays on over a reload of its page and a new engine, in the right place', async () => {
    await page.reload();
    await page.getByRole('region', { name: 'Song' }).waitFor();
    // The browser may want a press before it lets sound out again.
    const press = button('Press to hear it');
    await until(
      'asked or sounding',
      async () => (await press.isVisible()) || (await page.locator('[data-off]').count()) > 0,
    );
    // It may also let it out by itself just then, and the button is gone.
    if (await press.isVisible()) await press.click({ timeout: 3000 }).catch(() => undefined);
    await until(
      'together again',
      async () => {
        const off = await page.locator('[data-off]').getAttribute('data-off', { timeout: 500 });
        return off !== null && Math.abs(Number(off)) < 15;
      },
      30,
    );
    const before = (await on())!;
    process.kill((await stage.app.health()).processes.engine!, 'SIGKILL');
    await until('a new engine', async () => (await on())?.songId === before.songId);
    const after = (await on())!;
    assert.deepEqual([after.at, after.ms, after.playing], [before.at, before.ms, before.playing]);
  });

  test('beats that are set right while it plays count at once; removed, it ends and the show goes on', async () => {
    await openSong('Night Ferry');
    await button('Double').click();
    await until('twice the tempo', async () => (await stage.app.live()).tempo.bpm > 200);
    await undo();
    await until('as before', async () => (await stage.app.live()).tempo.bpm < 200);
    await page.getByText('Name and notes').click();
    await button('Remove the song').click();
    await until('off', async () => (await on()) === null);
    await page.getByText('is not in this show any more').waitFor();
    await undo();
    await until('here again', async () => (await song('Night Ferry')) !== undefined);
    const { tempo } = await stage.app.live();
    assert.ok(tempo.bpm > 20 && tempo.bpm < 300);
  });

  test('a page that played and was closed is told to be gone, and the sound comes from here', async () => {
    const other = await stage.open('/music');
    await other.getByRole('application').waitFor();
    await stage.app.command({ do: 'song', songId: 'song:two-gears' });
    await other.getByRole('button', { name: 'Play the sound here' }).click();
    await page.getByText('sound: another page').waitFor();
    await other.close();
    await page.getByText('the page that played the sound is gone').waitFor();
    await button('Play the sound here').click();
    await page.getByText('sound: here').waitFor();
    await stage.app.command({ do: 'songOff' });
  });

  test('a list goes from song to song by itself', async () => {
    await list()
      .getByRole('button', { name: /Evening/ })
      .click();
    await button('Play the list').click();
    await until('the first', async () => (await on())?.songId === 'song:lantern-waltz');
    const { lengthS } = await song('Lantern Waltz');
    await stage.app.command({ do: 'songAt', at: lengthS! - 0.4 });
    await until('the second', async () => (await on())?.songId === 'song:night-ferry');
    await button('The song before').click();
    await until('the first again', async () => (await on())?.songId === 'song:lantern-waltz');
    await button('End the song').click();
    await until('off', async () => (await on()) === null);
  });
});

describe('live sound', () => {
  const ear = async () => (await stage.app.live()).ear;
  test('simulated music: the tempo follows; a tap wins; held it stays', async () => {
    await page.getByRole('tab', { name: 'Live sound' }).click();
    await button('Simulated music').click();
    await until('listens', async () => (await ear())?.source === 'standin');
    // It plays Lantern Waltz first: 96 beats a minute, or half or twice of that.
    const bpm = await until(
      'beats are heard',
      async () => {
        const live = await stage.app.live();
        return (live.ear?.heard.length ?? 0) >= 8 ? live.tempo.bpm : null;
      },
      40,
    );
    const times = [48, 64, 96, 144, 192].map((known) => Math.abs(bpm / known - 1));
    assert.ok(Math.min(...times) < 0.06, `${bpm}`);
    await page.getByText('The tempo follows.').waitFor();
    const twice = bpm > 130 ? bpm / 2 : bpm * 2;
    await stage.app.command({ do: 'tempo', bpm: Math.round(twice * 10) / 10, beatNow: true });
    await until(
      'goes by the tap',
      async () => {
        const live = await stage.app.live();
        return live.ear!.heard.length >= 5 && Math.abs(live.tempo.bpm / twice - 1) < 0.08;
      },
      30,
    );
    await button('Hold the tempo').click();
    await until('held', async () => (await ear())?.hold);
    const held = (await stage.app.live()).tempo;
    const heard = (await ear())!.heard.at(-1)!;
    await until('more is heard', async () => ((await ear())!.heard.at(-1) ?? 0) > heard + 1500);
    assert.deepEqual((await stage.app.live()).tempo, held);
    await button('Nothing').click();
    await until('nobody listens', async () => (await ear()) === null);
  });

  test('a microphone: what it hears leads the tempo, another browser sees it, and silence lets go', async () => {
    const file = drums(126, 40, 'microphone.wav');
    const listener = await stage.open('/music?view=live', {
      flags: [
        '--use-fake-ui-for-media-stream',
        '--use-fake-device-for-media-stream',
        `--use-file-for-fake-audio-capture=${file}%noloop`,
      ],
    });
    await listener.getByRole('button', { name: 'A microphone of this page' }).click();
    await until('listens', async () => (await ear())?.source.startsWith('page:'));
    await until(
      'the tempo follows',
      async () => {
        const live = await stage.app.live();
        return live.ear!.heard.length >= 6 && [63, 126, 252].some((bpm) => Math.abs(live.tempo.bpm / bpm - 1) < 0.05);
      },
      40,
    );
    await page.getByText('The tempo follows.').waitFor();
    await page.getByText('Another page listens').waitFor();
    // The file is over: nothing is heard any more. The tempo stays what it had come to.
    await listener.locator('[data-state=silent]').waitFor({ timeout: 60_000 });
    const before = (await stage.app.live()).tempo.bpm;
    await listener.close();
    await page.getByText('the page that listened is gone').waitFor();
    assert.equal((await stage.app.live()).tempo.bpm, before, 'the tempo goes on');
  });

  test('a microphone that is refused says what to do', async () => {
    const refused = await stage.open('/music?view=live', {
      flags: ['--use-fake-device-for-media-stream', '--deny-permission-prompts'],
    });
    await refused.getByRole('button', { name: 'A microphone of this page' }).click();
    await refused.getByText(/Listening was refused|no such microphone/).waitFor();
    await refused.close();
  });
});

test('nothing went wrong inside the pages', () => {
  // A song that was not heard yet has no picture: that is asked for and said.
  assert.deepEqual(
    stage.errors.filter((text) => !text.includes('404')),
    [],
  );
});
