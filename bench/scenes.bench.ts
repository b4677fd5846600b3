import { documentOf, type Document } from '../src/core/document/change.ts';
import { PRESETS } from '../src/core/ready/presets.ts';
import { make, type AnyRecord } from '../src/core/records/index.ts';
import type { EffectSpec } from '../src/core/records/effect.ts';
import {
  compilePlay,
  compileRig,
  FlashGuard,
  initialLive,
  liveCommandSchema,
  applyLive,
  makeFrame,
  newPlay,
  prepareLive,
  render,
  type Play,
} from '../src/core/show/index.ts';
import { Player } from '../src/engine/player.ts';
import { PreviewSession } from '../src/lib/preview/session.ts';
import { heapGrowth, quantileOf, report, timed } from './measure.ts';
import { matrixShow } from './plot-shows.ts';
import { mixedShow } from './shows.ts';

/** What effects, many layers and the flash guard cost in a frame, and how fast an edit is heard. */
const spec = (key: string): EffectSpec => PRESETS.find((p) => p.key === key)!.spec;

const effects = (keys: readonly string[]): Play[] =>
  keys.map((key, i) => newPlay({ id: `p${i}`, target: `effect:${key}`, startedAt: i }));

function withEffects(document: Document, keys: readonly string[]): Document {
  const on = [...document.values()].flatMap((r) => (r.kind === 'unit' ? [r.id] : []));
  const records = keys.map((key, i) =>
    make('effect', { id: `effect:${key}`, number: i + 1, name: key, on, fadeInMs: 0, ...spec(key) }),
  );
  return documentOf([...document.values(), ...(records as AnyRecord[])]);
}

function warm(work: (round: number) => void, seconds = 3): void {
  const end = performance.now() + seconds * 1000;
  for (let i = 0; i < 60 || performance.now() < end; i++) work(i);
}

function frames(name: string, document: Document, playing: readonly Play[]): void {
  const compile = performance.now();
  const rig = compileRig(document);
  const state = { ...initialLive(0), playing: [...playing] };
  const live = prepareLive(rig, state, (play) => compilePlay(rig, document, play), document);
  report(`${name}: compile rig and programs`, performance.now() - compile, 'ms');
  const frame = makeFrame(rig.arrays);
  const guard = new FlashGuard(rig.arrays, { limitFlashes: true, flashesPerSecond: 3, share: 0.25, strobeHz: 12 });
  const draw = (round: number): void => void render(rig.arrays, live, 1000 + round * 25, frame, guard);
  // Long enough for the machine to compile the loops: what is measured is an evening, not its first second.
  warm(draw);
  const times = timed(200, draw);
  report(`${name}: a frame, median`, quantileOf(times, 0.5), 'ms');
  report(`${name}: a frame, p95`, quantileOf(times, 0.95), 'ms');
  const bare = timed(200, (round) => void render(rig.arrays, live, 1000 + round * 25, frame));
  report(`${name}: a frame without the flash guard, median`, quantileOf(bare, 0.5), 'ms');
  const grown = heapGrowth(() => {
    for (let i = 0; i < 300; i++) draw(i);
  });
  report(`${name}: heap growth a frame, over 300 frames`, grown / 300, 'bytes');
}

function layers(): void {
  const { document } = mixedShow(3);
  const units = [...document.values()].filter((r) => r.kind === 'unit').slice(0, 60);
  const kept = new Set(units.map((u) => u.id));
  const others = [...document.values()].filter((r) => r.kind !== 'unit' && r.kind !== 'scene' && r.kind !== 'chase');
  const scenes = Array.from({ length: 12 }, (_, n) =>
    make('scene', {
      id: `scene:l${n}`,
      number: n + 1,
      name: `L${n}`,
      priority: 90 + n,
      fadeInMs: n % 3 === 0 ? 3_600_000 : 0,
      values: Object.fromEntries([...kept].map((id, i) => [id, { Dimmer: ((i + n) % 10) / 10, Pan: (i % 7) / 7 }])),
    }),
  );
  const keys = ['breathe', 'twinkle', 'rainbow', 'embers', 'circle', 'eight', 'sweep', 'stroll'];
  const show = withEffects(documentOf([...others, ...units, ...scenes]), keys);
  const plays = [...scenes.map((s, i) => newPlay({ id: `s${i}`, target: s.id, startedAt: i })), ...effects(keys)];
  frames('60 fixtures, 20 layers', show, plays);
}

const FOUR = ['rainbow', 'twinkle', 'plasma', 'comet'];
function cells(count: number): void {
  const document = withEffects(matrixShow(count / 500), FOUR);
  frames(`${count} cells, 4 effects`, document, effects(FOUR));
}

/** From an edit to the new program, and from a live command to what the frame thread gets. */
function edits(): void {
  const document = withEffects(matrixShow(18), FOUR);
  let live = initialLive(0);
  const player = new Player(live);
  player.load([...document.values()], live);
  FOUR.forEach((key, i) => {
    live = applyLive(
      player.live,
      liveCommandSchema.parse({ do: 'play', target: `effect:${key}` }),
      i,
      `p${i}`,
      document,
    );
    player.setLive(live);
  });
  const effect = document.get('effect:plasma')!;
  const edited = timed(40, (i) => void player.edit({ put: [{ ...effect, fadeInMs: i } as AnyRecord], remove: [] }, i));
  report('9000 cells: an effect edited, compiled again', quantileOf(edited, 0.5), 'ms');
  const commands = timed(200, (i) => {
    const next = applyLive(player.live, { do: 'grand', level: (i % 100) / 100 }, i, 'x', document);
    structuredClone(player.setLive(next).live);
  });
  report('9000 cells: a live command made ready and copied to the frame thread, p95', quantileOf(commands, 0.95), 'ms');
  const session = new PreviewSession();
  session.take({ type: 'document', fresh: true, change: { put: [...document.values()], remove: [] } });
  session.take({ type: 'live', real: null, blind: player.live, peek: null, clock: 0 });
  session.frame(0);
  report(
    '9000 cells: a frame of the preview, median',
    quantileOf(
      timed(100, (i) => void session.frame(i * 33)),
      0.5,
    ),
    'ms',
  );
}

layers();
for (const count of [9000, 50_000, 170_000]) cells(count);
edits();
