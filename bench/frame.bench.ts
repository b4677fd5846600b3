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
import { wallShow } from './wall-show.ts';

/**
 * One frame of many cells under four whole-rig effects, the flash guard on, beside a bare loop that computes light of
 * the same kind for as many cells in the same run; `covering` and `mixed` as `wallShow` has them.
 */
function measure(cells: number, mixed: boolean): void {
  const document = wallShow(cells, mixed);
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
