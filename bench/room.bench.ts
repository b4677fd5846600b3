import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { standinAddresses } from '../src/addresses.ts';
import { recordsOf, documentOf } from '../src/core/document/change.ts';
import { makeReader } from '../src/core/patch/readout.ts';
import { writeArchive } from '../src/core/format/archive.ts';
import { builtInProfiles } from '../src/core/profile/library.ts';
import { make, type AnyRecord } from '../src/core/records/index.ts';
import { makeBeams, readBeams } from '../src/core/room/beams.ts';
import { makePools, readPools } from '../src/core/room/pools.ts';
import { copperlineRink } from '../src/db/seed/copperline.ts';
import { Stage } from '../tests/support/browser.ts';
import { quantileOf, report, timed } from './measure.ts';

/** The room: what beams and pools cost the page, how soon there is a picture, and how fast it is drawn. */
const ROOM = { widthM: 24, depthM: 14, heightM: 5.2 };
/** Long enough for the quality to come to rest. */
const WATCHED_MS = 12_000;

const heads = (count: number): AnyRecord[] => [
  make('show', { id: 'show:bench', name: 'Bench', room: { name: 'Hall', ...ROOM } }),
  ...builtInProfiles().filter((p) => p.id === 'profile:quillon-heron'),
  ...Array.from({ length: count }, (_, i) =>
    make('unit', {
      id: `unit:h${i + 1}`,
      number: i + 1,
      name: `Head ${i + 1}`,
      profileId: 'profile:quillon-heron',
      mode: '16ch',
      patch: { universe: 1 + Math.floor(i / 32), address: 1 + (i % 32) * 16 },
      position: { x: (i % 12) * 2 - 11, y: Math.floor(i / 12) * 2 - 4, z: 4.6 },
      rotation: { x: 0, y: 180, z: 0 },
    }),
  ),
];

function core(name: string, records: readonly AnyRecord[]): void {
  const document = documentOf(records);
  const profiles = new Map(recordsOf(document, 'profile').map((p) => [p.id, p]));
  const rig = recordsOf(document, 'unit').map((unit) => ({
    unit,
    profile: profiles.get(unit.profileId),
    reader: makeReader(document, unit),
  }));
  const beams = makeBeams(document, rig);
  const pools = makePools(beams);
  const frames = new Map([1, 2, 3].map((universe) => [universe, new Uint8Array(512).fill(180)]));
  const times = timed(2000, (round) => {
    for (const slots of frames.values()) slots.fill(round & 255);
    readBeams(beams, frames, ROOM, 0.025);
    readPools(pools, beams, ROOM);
  });
  report(`${name}: ${beams.count} beams and their pools read, median`, quantileOf(times, 0.5), 'ms');
}

core('Copperline', copperlineRink(builtInProfiles(), standinAddresses('/bench')));
core('60 heads', heads(60));

/** All of them at full, each with a picture of its own that turns, pan and tilt moving. */
const gobos = (count: number) => ({
  do: 'hand',
  set: Object.fromEntries(
    Array.from({ length: count }, (_, i) => [
      `unit:h${i + 1}`,
      {
        Dimmer: 1,
        Shutter1: { range: 'Open', at: 0.5 },
        Gobo1: { range: ['Reeds', 'Ripples', 'Kites', 'Sparks', 'Lattice'][i % 5], at: 0.5 },
        Gobo1Pos: { range: 'Turning forward', at: 0.4 },
        Pan: 0.3 + 0.4 * ((i * 7) % 10) * 0.1,
        Tilt: 0.4 + 0.2 * ((i * 3) % 10) * 0.1,
      },
    ]),
  ),
});
const circles = (count: number) => ({
  do: 'handEffect',
  spec: { parts: [{ does: 'aim', panDeg: 60, tiltDeg: 30 }] },
  on: Array.from({ length: count }, (_, i) => `unit:h${i + 1}`),
});

const stage = await Stage.start();
try {
  const heads60 = await stage.app.call<{ id: string }>('POST', '/api/shows/import', writeArchive(heads(60)));
  for (const [show, name, commands] of [
    ['show:copperline', '29 fixtures with beams', []],
    ['show:millpond', '9,000 points', []],
    [heads60.body.id, '60 heads with gobos', [gobos(60), circles(60)]],
  ] as const) {
    await stage.app.call('POST', `/api/shows/${encodeURIComponent(show)}/open`);
    for (const command of commands) {
      const { status } = await stage.app.command(command);
      if (status !== 200) throw new Error(`the command was refused: ${status}`);
    }
    const begun = performance.now();
    const page = await stage.open('/room');
    await page.locator('[data-places]:not([data-places="{}"])').waitFor();
    report(`${name}: from an empty browser to the room`, performance.now() - begun, 'ms');
    // Frames of the second half: the quality has come to rest by then.
    const rate = await page.evaluate<number>(`new Promise((resolve) => {
      const start = performance.now();
      let count = 0;
      requestAnimationFrame(function tick() {
        const passed = performance.now() - start;
        if (passed > ${WATCHED_MS / 2}) count++;
        if (passed < ${WATCHED_MS}) requestAnimationFrame(tick);
        else resolve((count * 2000) / ${WATCHED_MS});
      });
    })`);
    const scale = Number(await page.locator('[data-scale]').getAttribute('data-scale'));
    report(`${name}: frames of the page while the room is drawn (software GL, 1280x800)`, rate, 'Hz');
    report(`${name}: points drawn for those of the screen, across`, scale, 'ratio');
    await page.context().close();
  }
} finally {
  await stage.end();
}
// What is fetched for the room alone: the chunk with three.js, as the server sends it.
const chunks = readdirSync('build/web/client/_app/immutable/chunks').map((file) =>
  join('build/web/client/_app/immutable/chunks', file),
);
const three = chunks.find((file) => file.endsWith('.js') && readFileSync(file, 'utf8').includes('WebGLRenderer'));
if (three) {
  const bytes = readFileSync(three);
  report('the chunk with three.js', bytes.length / 1024, 'KiB');
  report('the same, compressed', gzipSync(bytes).length / 1024, 'KiB');
}
