import { documentOf } from '../../core/document/change.ts';
import type { LitId } from '../../core/ids.ts';
import { effectSpecSchema, type ReachId } from '../../core/records/effect.ts';
import { make, type AnyRecord, type LaneRecord, type SongRecord } from '../../core/records/index.ts';
import type { Block, BlockPlays } from '../../core/records/lane.ts';
import { point } from '../../core/song/curves.ts';
import { kept } from '../../core/song/grid.ts';
import { blockOf, keysFor } from '../../core/timeline/blocks.ts';
import { atMoments, dealtOut } from '../../core/timeline/fill.ts';
import { clipOf, laidClip } from '../../core/timeline/passages.ts';
import { WALK_BARS, WALK_PARTS, walkSong } from '../../sound/demo/walk.ts';

/** The light of the walk's song, made as people make it: painted, filled on beats, and its verse repeated. */

type Spec = Parameters<typeof effectSpecSchema.parse>[0];
const effect = (name: string, spec: Spec): BlockPlays => ({ is: 'effect', name, spec: effectSpecSchema.parse(spec) });
const colour = (...colours: string[]) => ({ does: 'colour', way: 'gradient', each: 'cell', colours });

const WARM = effect('Warm', { rate: 0.01, light: 0.9, parts: [colour('#ffb257', '#ff8a2b')] });
const WHITE = effect('White', { rate: 0.01, light: 1, parts: [colour('#fff4de', '#fff4de')] });
const NIGHT = effect('Night', { rate: 0.01, light: 0.35, parts: [colour('#0b1d5c', '#12307f')] });
const OFF = effect('Off', { rate: 0.01, parts: [{ does: 'level', size: 0, offset: 0, each: 'unit' }] });
const SPARKS = effect('Sparks', {
  rate: 1.1,
  parts: [colour('#fff2c9', '#ffd79a'), { does: 'level', wave: 'sparkle', width: 0.25, offset: 0.08 }],
});
const WALKING = effect('Walking light', {
  rate: 0.25,
  beats: true,
  light: 0.9,
  parts: [
    {
      does: 'pixels',
      pattern: 'comet',
      colours: ['#ffd9a0', '#ff9a3c'],
      width: 0.4,
      soft: 0.9,
      repeat: 2,
      angleDeg: 20,
    },
  ],
});
const RIPPLE = effect('Ripple', {
  rate: 0.125,
  beats: true,
  light: 0.9,
  parts: [
    { does: 'pixels', pattern: 'waves', colours: ['#0b2aa8', '#49d6ff', '#0b2aa8'], width: 1, soft: 1, repeat: 1.5 },
  ],
});
const RIBBONS = effect('Ribbons', {
  rate: 0.25,
  beats: true,
  light: 1,
  parts: [
    {
      does: 'pixels',
      pattern: 'bars',
      colours: ['#ff3f5f', '#ffb02e', '#3fd68a', '#2ea8ff'],
      width: 0.6,
      soft: 0.5,
      repeat: 2,
      angleDeg: 35,
    },
  ],
});
const SNOW = effect('Snow', {
  rate: 0.3,
  light: 0.8,
  parts: [{ does: 'pixels', pattern: 'snow', colours: ['#dff1ff'], width: 0.2, repeat: 6, angleDeg: -90 }],
});
const REEDS = effect('Reeds one after the other', {
  rate: 0.25,
  beats: true,
  parts: [{ does: 'level', wave: 'pulse', width: 0.3, offset: 0.1, size: 0.8, order: 'x', spread: 2, each: 'unit' }],
});
const scene = (slug: string): BlockPlays => ({ is: 'play', target: `scene:${slug}` });
const ownEffect = (slug: string): BlockPlays => ({ is: 'play', target: `effect:${slug}` });

/** A show with its song and the light of it; without the song where that was not played for it. */
export function millpondWithSong(records: readonly AnyRecord[], songs: readonly AnyRecord[]): AnyRecord[] {
  const song = songs.find((record) => record.kind === 'song');
  if (!song) return [...records, ...songs];
  const { beats } = walkSong();
  const parts = WALK_PARTS.map(({ bar, name, mood, turn }) => ({
    at: bar === 0 ? 0 : kept(beats[bar * 4]!),
    name,
    mood,
    turn,
  }));
  // The sections and beats of whoever wrote it: the ear found nearly the same.
  const written: SongRecord = {
    ...song,
    mended: {
      stretches: [{ from: 0, to: song.lengthS ?? beats.at(-1)! + 2, beats: beats.map(kept) }],
      bars: [{ at: kept(beats[0]!), beats: 4 }],
      sections: parts,
    },
    marks: [
      { at: kept(beats[55 * 4 + 3]!), to: kept(beats[56 * 4]!), label: 'All dark for a beat', words: false },
      { at: kept(beats[68 * 4]!), to: kept(beats[68 * 4]!), label: 'Last bells', words: false },
    ],
  };
  const light = new Painter(written, beats);
  paint(light);
  const document = documentOf([...records, written, ...light.lanes]);
  return [...records, ...songs.filter((r) => r !== song), written, ...verseAgain(document, written, light, beats)];
}

/** The first verse comes again in the second, by the program's own means. */
function verseAgain(
  document: Parameters<typeof clipOf>[0],
  song: SongRecord,
  { lanes }: Painter,
  beats: readonly number[],
): LaneRecord[] {
  const [from, to, at] = [beats[8 * 4]!, beats[20 * 4]!, beats[32 * 4]!];
  // What goes on through both is there already.
  const own = lanes.filter(({ on }) => on !== null && on !== 'unit:wheel');
  const clip = clipOf(document, own, beats, { from, to }, ({ id }) => id);
  let n = 0;
  const newId = (): LaneRecord['id'] => `lane:again${n++}`;
  const laid = laidClip(clip, { songId: song.id, lanes, beats, at, end: song.lengthS ?? 999, newId });
  return lanes.map((lane) => laid.find(({ id }) => id === lane.id) ?? lane);
}

/** Blocks by bars, on lanes that are made when something is put there. */
class Painter {
  readonly #song: SongRecord;
  readonly beats: readonly number[];
  readonly #lanes = new Map<ReachId | 'rig', LaneRecord>();

  constructor(song: SongRecord, beats: readonly number[]) {
    this.#song = song;
    this.beats = beats;
  }
  get lanes(): LaneRecord[] {
    return [...this.#lanes.values()];
  }
  /** The moment of a bar (0 the first), with parts of it. */
  bar = (bar: number): number => {
    const beat = bar * 4;
    const whole = Math.min(this.beats.length - 1, Math.floor(beat));
    const next = this.beats[whole + 1] ?? this.beats[whole]! + 60 / 92;
    return this.beats[whole]! + (beat - whole) * (next - this.beats[whole]!);
  };
  #lane(on: ReachId | null): LaneRecord {
    const key = on ?? 'rig';
    const number = this.#lanes.size + 1;
    const slug = (on ?? 'rig').replace(/[^a-z0-9]/g, '-');
    const lane = this.#lanes.get(key) ?? make('lane', { id: `lane:walk-${slug}`, number, songId: this.#song.id, on });
    this.#lanes.set(key, lane);
    return lane;
  }
  put(on: ReachId | null, fromBar: number, toBar: number, plays: BlockPlays, fields: Partial<Block> = {}): void {
    const lane = this.#lane(on);
    const at = kept(this.bar(fromBar));
    const block = blockOf({ key: keysFor(lane.blocks)(), at, length: kept(this.bar(toBar) - at), plays, ...fields });
    this.#lanes.set(on ?? 'rig', { ...lane, blocks: [...lane.blocks, block] });
  }
  /** Each of these moments, dealt out to things one after the other. */
  deal(
    ons: readonly ReachId[],
    fromBar: number,
    toBar: number,
    everyBeats: number,
    plays: BlockPlays,
    length: number,
  ): void {
    const stretch = { from: this.bar(fromBar), to: this.bar(toBar) };
    const moments = this.beats.filter(
      (at, i) => at >= stretch.from - 1e-6 && at < stretch.to - 1e-3 && (i - fromBar * 4) % everyBeats === 0,
    );
    dealtOut(moments, ons.length).forEach((own, i) => {
      const lane = this.#lane(ons[i]!);
      const filled = atMoments(lane.blocks, own, stretch, { plays, length, fade: 0.8 });
      this.#lanes.set(ons[i]!, { ...lane, blocks: filled });
    });
  }
}

const units = (start: string, count: number): LitId[] =>
  Array.from({ length: count }, (_, i) => `unit:${start}${i + 1}` as const);
const RISING = { level: [point(0, 0.05), point(10.4, 1, 'ease')] };

function paint(light: Painter): void {
  const [kites, arches, windows, festoons] = [units('kite', 5), units('arch', 6), units('window', 6), units('line', 4)];
  const wall = 'unit:wall' as const;
  // The ground of the night, and what never stops.
  light.put(null, 0, WALK_BARS - 2, NIGHT, { fadeIn: 4, fadeOut: 6 });
  light.put('unit:wheel', 0, 55.75, ownEffect('wheel'), { fadeIn: 3 });
  light.put('unit:wheel', 56, WALK_BARS, ownEffect('wheel'), { fadeOut: 5 });
  light.put('group:reeds', 0, 8, ownEffect('reeds'), { fadeIn: 2 });
  light.put('group:reeds', 8, 20, REEDS, { fadeIn: 1, fadeOut: 1 });
  light.put('group:reeds', 20, 32, scene('dusk'), { fadeIn: 1 });
  // Bells: a window lights up with every second beat.
  light.deal(windows, 0, 8, 2, WARM, 2.4);
  // The verse walks along the path, kites answer one after the other.
  light.put('group:path', 8, 20, WALKING, { fadeIn: 2, fadeOut: 1 });
  light.deal(kites, 10, 20, 2, WHITE, 1.1);
  light.put(wall, 8, 20, ownEffect('fire'), { fadeIn: 2, fadeOut: 1.5 });
  light.put('unit:eaves', 8, 20, SNOW, { fadeIn: 2, fadeOut: 1 });
  // The refrain: everything with a colour of its own, the bridge on each beat.
  for (const [from, to, strong] of [
    [20, 32, false],
    [56, 68, true],
  ] as const) {
    light.put('unit:tree', from, to, RIBBONS, {
      fadeIn: 0.2,
      fadeOut: 0.6,
      curves: strong ? { hue: [point(0, 0), point(15, 0.5), point(31, 1)] } : {},
    });
    light.put(wall, from, to, RIPPLE, { fadeIn: 0.2, fadeOut: 0.6 });
    light.put('group:kites', from, to, scene('kites'), { fadeIn: 0.3, fadeOut: 0.6 });
    light.deal(arches, from, to, 1, strong ? WHITE : WARM, 0.6);
    light.put('group:path', from, to, SPARKS, { fadeIn: 0.3, fadeOut: 1, layer: 1 });
    light.deal(festoons, from, to, strong ? 1 : 2, WARM, strong ? 0.6 : 1.2);
    light.put('unit:eaves', from, to, SPARKS, { fadeOut: 0.5 });
  }
  light.put('group:reeds', 56, 68, REEDS, { fadeOut: 1 });
  // Over the water nearly all is dark, and then it rises.
  light.put('group:bridge', 44, 52, ownEffect('bridge'), { fadeIn: 2, fadeOut: 1.5 });
  light.put(wall, 44, 52, ownEffect('words'), { fadeIn: 2, fadeOut: 1 });
  light.put('unit:tree', 44, 52, SNOW, { fadeIn: 3, fadeOut: 1 });
  light.put('group:kites', 52, 55.75, SPARKS, { curves: RISING });
  light.put('group:path', 52, 55.75, WALKING, { curves: { ...RISING, speed: [point(0, 0.5), point(9.8, 4, 'ease')] } });
  light.put('unit:tree', 52, 55.75, RIBBONS, { curves: RISING });
  light.put(null, 55.75, 56, OFF, { layer: 3 });
  // Home: the windows again, and the reeds last.
  light.deal(windows, 68, WALK_BARS, 2, WARM, 2.4);
  light.put('group:reeds', 68, WALK_BARS, ownEffect('reeds'), { fadeIn: 1, fadeOut: 6 });
}
