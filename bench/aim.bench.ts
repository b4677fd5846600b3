import { solutionsOf } from '../src/core/aim/solutions.ts';
import { trueUp, type Reading } from '../src/core/aim/trueup.ts';
import { documentOf, applyChange, type Document } from '../src/core/document/change.ts';
import { ownDirection } from '../src/core/plot/beam.ts';
import { inRoom } from '../src/core/plot/rotation.ts';
import { builtInProfiles } from '../src/core/profile/library.ts';
import { make, type AnyRecord, type ThingRecord } from '../src/core/records/index.ts';
import { storedThings } from '../src/core/room/hang.ts';
import {
  compilePlay,
  compileRig,
  initialLive,
  makeFrame,
  newPlay,
  prepareLive,
  render,
} from '../src/core/show/index.ts';
import { Player } from '../src/engine/player.ts';
import { quantileOf, report, timed } from './measure.ts';

/** Aims: solving them, moving round them, an edit of what heads hang on, a head trued up. */

const heron = builtInProfiles().find((p) => p.id === 'profile:quillon-heron')!;
const HUNG = { x: 0, y: 180, z: 0 };

function heads(count: number, hungOn: `thing:${string}` | null = null): AnyRecord[] {
  return Array.from({ length: count }, (_, i) =>
    make('unit', {
      id: `unit:h${i}`,
      number: i + 1,
      name: `Head ${i + 1}`,
      profileId: heron.id,
      mode: '16ch',
      patch: { universe: 1 + Math.floor(i / 32), address: 1 + (i % 32) * 16 },
      position: { x: (i % 20) - 10, y: Math.floor(i / 20) - 5, z: 5 },
      rotation: HUNG,
      hungOn,
    }),
  );
}
const aims = (count: number): AnyRecord[] =>
  Array.from({ length: count }, (_, i) =>
    make('aim', {
      id: `aim:a${i}`,
      number: i + 1,
      name: `Aim ${i + 1}`,
      where: { is: 'point', at: { x: (i % 5) * 2 - 4, y: Math.floor(i / 5) * 2 - 4, z: (i % 3) * 0.8 } },
    }),
  );
const keepOuts = (count: number): AnyRecord[] =>
  Array.from({ length: count }, (_, i) =>
    make('area', {
      id: `area:k${i}`,
      number: i + 1,
      name: `Floor ${i + 1}`,
      outline: [
        { x: -9 + i * 6, y: -6 },
        { x: -4 + i * 6, y: -6 },
        { x: -4 + i * 6, y: 6 },
        { x: -9 + i * 6, y: 6 },
      ],
      keepOut: { on: true, fromM: 1.2, toM: 1.9, level: 0, softDeg: 4, steepDeg: null },
    }),
  );
const show = (...records: AnyRecord[]): Document =>
  documentOf([make('show', { id: 'show:bench', name: 'Bench' }), heron, ...records]);

const solveAll = (document: Document, count: number): number => {
  let sum = 0;
  for (let i = 0; i < count; i++) for (const { pan } of solutionsOf(document, `unit:h${i}`).values()) sum += pan;
  return sum;
};

{
  const units = heads(200);
  const fresh = timed(5, () => void solveAll(show(...units, ...aims(20)), 200));
  report('200 heads x 20 aims solved', quantileOf(fresh, 0.5), 'ms');
  const solved = show(...units, ...aims(20));
  solveAll(solved, 200);
  let n = 0;
  const again = timed(20, () => {
    const [aim] = aims(1) as [Extract<AnyRecord, { kind: 'aim' }>];
    const where = { is: 'point' as const, at: { x: (n++ % 7) * 0.1, y: 0, z: 0 } };
    solveAll(applyChange(solved, { put: [{ ...aim, where }], remove: [] }), 200);
  });
  report('200 heads x 20 aims, one of them moved', quantileOf(again, 0.5), 'ms');
}

function frame(name: string, count: number): void {
  const ids = Array.from({ length: 60 }, (_, i) => `unit:h${i}` as const);
  const document = show(
    ...heads(60),
    ...aims(6),
    ...keepOuts(count),
    ...aims(6).map((aim, i) =>
      make('effect', {
        id: `effect:e${i}`,
        number: i + 1,
        name: `Circle ${i}`,
        on: ids.filter((_, k) => k % 6 === i),
        rate: 0.1,
        fadeInMs: 0,
        light: 1,
        parts: [{ does: 'aim', in: 'metres', round: aim.id as `aim:${string}`, acrossM: 1.5, deepM: 1, spread: 1 }],
      }),
    ),
  );
  const rig = compileRig(document);
  const playing = Array.from({ length: 6 }, (_, i) => newPlay({ id: `p${i}`, target: `effect:e${i}`, startedAt: 0 }));
  const live = prepareLive(rig, { ...initialLive(0), playing }, (p) => compilePlay(rig, document, p), document);
  const into = makeFrame(rig.arrays);
  const draw = (round: number): void => void render(rig.arrays, live, 1000 + round * 25, into);
  for (let i = 0; i < 4000; i++) draw(i);
  report(`60 heads in circles of metres${name}: a frame, median`, quantileOf(timed(400, draw), 0.5), 'ms');
}
frame('', 0);
frame(', 3 keep-outs', 3);
frame(', 12 keep-outs', 12);
{
  // The same light by a plain loop: a place on the floor to pan and tilt, 60 times, into 16 bit.
  const bytes = new Uint8Array(60 * 4);
  const plain = (round: number): void => {
    for (let i = 0; i < 60; i++) {
      const turn = (round * 0.0025 + i / 60) * 2 * Math.PI;
      const [x, y, z] = [Math.cos(turn) * 1.5 - (i % 20) + 10, Math.sin(turn) - Math.floor(i / 20) + 5, 5];
      const pan = ((Math.atan2(-x, y) / Math.PI) * 0.5 + 0.5) * 65_535;
      const tilt = ((Math.atan2(Math.hypot(x, y), z) / Math.PI) * 0.5 + 0.5) * 65_535;
      bytes[i * 4] = pan >> 8;
      bytes[i * 4 + 1] = pan & 255;
      bytes[i * 4 + 2] = tilt >> 8;
      bytes[i * 4 + 3] = tilt & 255;
    }
  };
  for (let i = 0; i < 4000; i++) plain(i);
  report('the same movement by a plain loop: median', quantileOf(timed(400, plain), 0.5), 'ms');
}
{
  const truss = make('thing', {
    id: 'thing:truss',
    number: 1,
    name: 'Truss',
    shape: 'truss',
    position: { x: 0, y: 0, z: 5 },
    size: { widthM: 12, depthM: 0.3, heightM: 0.3 },
  });
  const scene = make('scene', {
    id: 'scene:s',
    number: 1,
    name: 'S',
    fadeInMs: 0,
    values: Object.fromEntries(
      Array.from({ length: 12 }, (_, i) => [
        `unit:h${i}`,
        { Pan: { aim: 'aim:a0' as const }, Tilt: { aim: 'aim:a0' as const } },
      ]),
    ),
  });
  const document = show(truss, ...heads(12, truss.id), ...aims(20), ...keepOuts(3), scene);
  const player = new Player(initialLive(0));
  player.load([...document.values()], {
    ...initialLive(0),
    playing: [newPlay({ id: 'p', target: 'scene:s', startedAt: 0 })],
  });
  let n = 0;
  const times = timed(40, () => {
    const now = player.document.get('thing:truss') as ThingRecord;
    const change = storedThings(player.document, [{ ...now, position: { x: 0, y: ++n * 0.01, z: 5 } }]);
    const { message } = player.edit(change, 1000 + n * 100);
    const sent = structuredClone({ rig: message.rig });
    const rig = compileRig(player.document);
    const live = prepareLive(rig, player.live, (play) => player.programOf(play), player.played);
    render(sent.rig!, live, 1000 + n * 100 + 25, makeFrame(sent.rig!));
  });
  report(
    'a truss with 12 heads moved, to the changed frame (with the way to the frame thread)',
    quantileOf(times, 0.5),
    'ms',
  );
}
{
  const unit = { position: { x: 0, y: 0, z: 4 }, rotation: HUNG };
  const readings = [
    [20, 40],
    [-70, 60],
    [110, 35],
    [-15, 80],
  ].map(([pan, tilt]): Reading => {
    const own = ownDirection('head', pan!, tilt!);
    return { spot: inRoom(unit, { x: own.x * 4, y: own.y * 4, z: own.z * 4 }), pan: pan! + 2, tilt: -tilt! };
  });
  report(
    'true-up of one head from 4 spots',
    quantileOf(
      timed(20, () => void trueUp('head', unit, readings)),
      0.5,
    ),
    'ms',
  );
}
