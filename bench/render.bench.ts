import type { Document } from '../src/core/document/change.ts';
import {
  compileRig,
  compilePlay,
  initialLive,
  makeFrame,
  newPlay,
  prepareLive,
  render,
  type TargetId,
} from '../src/core/show/index.ts';
import { heapGrowth, quantileOf, report, timed } from './measure.ts';
import { mixedShow, pixelShow } from './shows.ts';

/** Time of one frame, and what a frame leaves on the heap. */
function measure(name: string, { document, targets }: { document: Document; targets: readonly TargetId[] }): void {
  const compileStart = performance.now();
  const rig = compileRig(document);
  report(`${name}: compile the rig`, performance.now() - compileStart, 'ms');
  const state = {
    ...initialLive(0),
    grand: 0.8,
    playing: targets.map((target, i) => newPlay({ id: `p${i}`, target, startedAt: i })),
  };
  const live = prepareLive(rig, state, (play) => compilePlay(rig, document, play), document);
  const frame = makeFrame(rig.arrays);
  const draw = (round: number): void => void render(rig.arrays, live, 1000 + round * 25, frame);
  timed(200, draw);
  const times = timed(400, draw);
  report(`${name}: universes`, rig.arrays.universes.length, 'universes');
  report(`${name}: attribute slots`, rig.arrays.slotCount, 'slots');
  report(`${name}: a frame, median`, quantileOf(times, 0.5), 'ms');
  report(`${name}: a frame, p99`, quantileOf(times, 0.99), 'ms');
  const rounds = 2000;
  report(
    `${name}: heap growth over ${rounds} frames`,
    heapGrowth(() => {
      for (let i = 0; i < rounds; i++) draw(i);
    }),
    'bytes',
  );
}

measure('16 universes of mixed fixtures, 8 layers', mixedShow(16));
measure('300 universes of RGB pixels, 4 layers', pixelShow(300));
