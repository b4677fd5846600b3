import { documentOf, type Document } from '../src/core/document/change.ts';
import { make, type AnyRecord, type EffectRecord } from '../src/core/records/index.ts';
import { propSchema } from '../src/core/records/prop.ts';
import {
  compilePlay,
  compileRig,
  FlashGuard,
  initialLive,
  makeFrame,
  newPlay,
  prepareLive,
  render,
} from '../src/core/show/index.ts';
import { bareFrame } from './bare-frame.ts';
import { heapGrowth, quantileOf, report, timed } from './measure.ts';

/**
 * One frame of many cells under four whole-rig effects, the flash guard on, beside a bare loop that computes light of
 * the same kind for as many cells in the same run. `covering`: the last lies over all the others, as people often play
 * them. `mixed`: none hides another: one scales, one adds, one is in the middle of its fade, one has a higher rank.
 */
const PIXEL = make('profile', {
  id: 'profile:px',
  maker: 'Bench',
  model: 'Pixel',
  fixtureKind: 'strip',
  flow: true,
  channels: (['R', 'G', 'B'] as const).map((c) => ({ key: c, name: c, attribute: `ColorAdd_${c}` })),
  modes: [
    { key: 'px', name: 'px', slots: [{ cells: 1, slots: [{ channel: 'R' }, { channel: 'G' }, { channel: 'B' }] }] },
  ],
});
const ROW = 500;

/** Walls of 500 cells, three universes each, a metre apart. */
const walls = (cells: number): AnyRecord[] =>
  Array.from({ length: Math.ceil(cells / ROW) }, (_, i) =>
    make('unit', {
      id: `unit:w${i}`,
      number: i + 1,
      name: `Wall ${i + 1}`,
      profileId: 'profile:px',
      mode: 'px',
      patch: { universe: 1 + i * 3, address: 1 },
      position: { x: (i % 20) * 2, y: Math.floor(i / 20), z: 1 },
      prop: propSchema.parse({ shape: { shape: 'matrix', columns: 25, rows: 20, widthM: 1, heightM: 1 } }),
    }),
  );

type Part = Partial<EffectRecord['parts'][number]> & { readonly does: string };
const effects = (cells: number, mixed: boolean): AnyRecord[] => {
  const on = Array.from({ length: Math.ceil(cells / ROW) }, (_, i) => `unit:w${i}`);
  const effect = (n: number, part: Part, fields: object = {}): AnyRecord =>
    make('effect', {
      id: `effect:e${n}`,
      number: n,
      name: `E${n}`,
      rate: 0.4,
      fadeInMs: 0,
      on,
      parts: [part],
      ...fields,
    } as never);
  return [
    effect(1, { does: 'colour', way: 'hue', spread: 2 }, { light: 1 }),
    effect(2, { does: 'level', wave: 'sparkle', width: 0.4 }, mixed ? { levels: 'scale' } : {}),
    effect(
      3,
      { does: 'pixels', pattern: 'plasma', colours: ['#ff2a1a', '#ffb347', '#1f4bff'], repeat: 4 },
      mixed ? { fadeInMs: 3_600_000 } : {},
    ),
    effect(
      4,
      { does: 'pixels', pattern: 'comet', repeat: 1, width: 0.5 },
      mixed ? { priority: 150, levels: 'highest' } : {},
    ),
  ];
};

function measure(cells: number, mixed: boolean): void {
  const document: Document = documentOf([
    make('show', { id: 'show:bench', name: 'Bench' }),
    PIXEL,
    ...walls(cells),
    ...effects(cells, mixed),
  ]);
  const rig = compileRig(document);
  const state = {
    ...initialLive(0),
    playing: [1, 2, 3, 4].map((n) => newPlay({ id: `p${n}`, target: `effect:e${n}`, startedAt: n })),
  };
  const live = prepareLive(rig, state, (play) => compilePlay(rig, document, play), document);
  const frame = makeFrame(rig.arrays);
  const guard = new FlashGuard(rig.arrays, { limitFlashes: true, flashesPerSecond: 3, share: 0.25, strobeHz: 5 });
  const name = `${cells.toLocaleString('en')} cells, 4 effects ${mixed ? 'mixed' : 'covering'}`;
  const bare = bareFrame(cells);
  let round = 0;
  const draw = (): void => void render(rig.arrays, live, 1000 + 25 * round++, frame, guard);
  const rounds = cells > 100_000 ? 120 : 400;
  timed(rounds, draw);
  timed(rounds, bare);
  // In turns, so that a machine that is busy for a while is busy for both.
  const [own, plain]: [number[], number[]] = [[], []];
  for (let i = 0; i < 8; i++) {
    own.push(...timed(rounds / 4, draw));
    plain.push(...timed(rounds / 4, bare));
  }
  const median = quantileOf(own, 0.5);
  report(`${name}: a frame with the guard, median`, median, 'ms');
  report(`${name}: a frame with the guard, p99`, quantileOf(own, 0.99), 'ms');
  report(`${name}: a bare loop of such light, median`, quantileOf(plain, 0.5), 'ms');
  report(`${name}: frame by bare loop`, median / quantileOf(plain, 0.5), 'ratio');
  const many = cells > 100_000 ? 100 : 500;
  report(
    `${name}: heap growth over ${many} frames`,
    heapGrowth(() => {
      for (let i = 0; i < many; i++) draw();
    }),
    'bytes',
  );
}

for (const cells of [9_000, 50_000, 170_000]) for (const mixed of [false, true]) measure(cells, mixed);
