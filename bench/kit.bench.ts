import { zipSync, strToU8 } from 'fflate';
import { readGdtf } from '../src/core/format/gdtf/read.ts';
import { writeGdtf } from '../src/core/format/gdtf/write.ts';
import { builtInProfiles } from '../src/core/profile/library.ts';
import { indexProfiles, searchProfiles } from '../src/core/profile/search.ts';
import { make, type ProfileRecord } from '../src/core/records/index.ts';
import { Stage } from '../tests/support/browser.ts';
import { quantileOf, report, timed } from './measure.ts';

/** Type-ahead in 20,000 profiles, a GDTF file of 200 modes, and the editor with a mode of 140 channels. */
const base = builtInProfiles();
const library = Array.from({ length: 20_000 }, (_, i) => {
  const profile = base[i % base.length]!;
  return {
    ...profile,
    id: `profile:x${i}` as const,
    model: `${profile.model} ${i}`,
    maker: `${profile.maker} ${i % 500}`,
  };
});
const start = performance.now();
const index = indexProfiles(library, (kind) => kind);
report('index 20,000 profiles', performance.now() - start, 'ms');
const queries = ['14 ch spot zoom', 'fernlight 12 par red', 'heron 19', 'strobe', 'a', '8ch'].flatMap((q) =>
  Array.from(q, (_, i) => q.slice(0, i + 1)),
);
const keystrokes = queries.flatMap((q) => timed(20, () => void searchProfiles(index, q)));
report('search 20,000 profiles, a keystroke, median', quantileOf(keystrokes, 0.5), 'ms');
report('search 20,000 profiles, a keystroke, p95', quantileOf(keystrokes, 0.95), 'ms');

const head = base.find((p) => p.id === 'profile:quillon-egret')!;
const many: ProfileRecord = {
  ...head,
  modes: Array.from({ length: 200 }, (_, i) => ({
    ...head.modes[i % 2]!,
    key: `m${i}`,
    name: `Mode ${i}`,
    slots: [...Array.from({ length: i % 7 }, () => ({ unused: true as const })), ...head.modes[i % 2]!.slots],
  })),
};
const gdtf = writeGdtf(many);
const reads = timed(7, () => void readGdtf(gdtf, () => 'profile:new'));
report('import a GDTF file of 200 modes, median', quantileOf(reads, 0.5), 'ms');
report('that file', gdtf.length, 'bytes');
const broken = zipSync({ 'description.xml': strToU8('<GDTF'.repeat(200_000)) });
report(
  'refuse a megabyte of broken XML',
  quantileOf(
    timed(5, () => void readGdtf(broken, () => 'profile:new')),
    0.5,
  ),
  'ms',
);

const wide = make('profile', {
  id: 'profile:wide',
  maker: 'Bench',
  model: 'Wide 140',
  fixtureKind: 'other',
  channels: Array.from({ length: 140 }, (_, i) => ({
    key: `c${i}`,
    name: `Channel ${i + 1}`,
    attribute: 'Gobo1',
    ranges: Array.from({ length: 16 }, (_, j) => ({ from: j * 16, to: j * 16 + 15, name: `Slot ${j + 1}` })),
  })),
  modes: [{ key: 'm', name: 'All', slots: Array.from({ length: 140 }, (_, i) => ({ channel: `c${i}` })) }],
});
const stage = await Stage.start();
try {
  const { id } = await stage.app.openShow();
  await stage.app.edit(id, { put: [wide] });
  const page = await stage.open('/kit');
  await page.getByText(/Sending \d of \d universes/).waitFor();
  const opened: number[] = [];
  const switched: number[] = [];
  for (let i = 0; i < 5; i++) {
    await page.getByLabel('Search the kit').fill('wide');
    const from = await page.evaluate(() => performance.now());
    await page.getByRole('button', { name: 'Change profile' }).click();
    await page.getByRole('option', { name: /Channel 140/ }).waitFor();
    opened.push((await page.evaluate(() => performance.now())) - from);
    // Time the page itself needs from the click to the next picture.
    switched.push(
      await page.evaluate(
        () =>
          new Promise<number>((resolve) => {
            const options = document.querySelectorAll<HTMLElement>('[role=listbox] [role=option]');
            const begun = performance.now();
            options[70]!.click();
            requestAnimationFrame(() => requestAnimationFrame(() => resolve(performance.now() - begun)));
          }),
      ),
    );
    await page.getByRole('link', { name: 'Back to the Kit' }).click();
  }
  report('open the editor on a mode of 140 channels, click to drawn, median', quantileOf(opened, 0.5), 'ms');
  report('another of its channels, click to second picture, median', quantileOf(switched, 0.5), 'ms');
} finally {
  await stage.end();
}
