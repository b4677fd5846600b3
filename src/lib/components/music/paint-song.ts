import { MOODS } from '$core/records/profile.ts';
import type { SongSection } from '$core/records/song.ts';
import type { Grid } from '$core/song/grid.ts';
import type { Picture } from '$lib/state/music/picture.svelte.ts';

/** Colours of the theme, read once a drawing. */
export interface Inks {
  readonly text: string;
  readonly quiet: string;
  readonly line: string;
  readonly amber: string;
  readonly wash: string;
  readonly panel: string;
}
export function inksOf(element: Element): Inks {
  const style = getComputedStyle(element);
  const ink = (name: string): string => style.getPropertyValue(name).trim();
  return {
    text: ink('--text'),
    quiet: ink('--quiet'),
    line: ink('--line-strong'),
    amber: ink('--amber'),
    wash: ink('--amber-wash'),
    panel: ink('--panel'),
  };
}

/** What is seen: a stretch of time over so many pixels. */
export interface Sight {
  readonly from: number;
  readonly span: number;
  readonly width: number;
  readonly height: number;
}
export const xOf = ({ from, span, width }: Sight, at: number): number => ((at - from) / span) * width;
export const atX = ({ from, span, width }: Sight, x: number): number => from + (x / width) * span;

const heightOf = ({ mood }: SongSection): number => (MOODS.indexOf(mood) + 1) / MOODS.length;

/** Heights of the rows of the whole: the skyline of moods over the swing. */
export function paintSkyline(
  c: CanvasRenderingContext2D,
  sight: Sight,
  inks: Inks,
  {
    sections,
    end,
    picture,
    chosen,
  }: {
    readonly sections: readonly SongSection[];
    readonly end: number;
    readonly picture: Picture | null;
    readonly chosen: number | null;
  },
): void {
  const { width, height } = sight;
  c.clearRect(0, 0, width, height);
  const foot = height - 2;
  sections.forEach((section, i) => {
    const [a, b] = [xOf(sight, section.at), xOf(sight, sections[i + 1]?.at ?? end)];
    const top = foot - heightOf(section) * (height - 18);
    c.fillStyle = i === chosen ? inks.wash : inks.panel;
    c.fillRect(a, top, b - a, foot - top);
    c.strokeStyle = i === chosen ? inks.amber : inks.line;
    c.lineWidth = i === chosen ? 2 : 1;
    c.strokeRect(a + 0.5, top + 0.5, Math.max(1, b - a - 1), foot - top);
    c.fillStyle = inks.text;
    c.font = '600 12px "Atkinson Hyperlegible Next Variable", sans-serif';
    const name = section.turn ? `${section.name} · ${section.turn}` : section.name;
    if (b - a > 14) c.fillText(fitted(c, name, b - a - 8), a + 5, Math.max(12, top - 4));
  });
  if (!picture) return;
  c.fillStyle = inks.quiet;
  c.globalAlpha = 0.75;
  for (let x = 0; x < width; x++) {
    const swing = most(picture, atX(sight, x), atX(sight, x + 1), 0);
    const h = (swing / 255) * (height - 24) * 0.5;
    c.fillRect(x, foot - h, 1, h);
  }
  c.globalAlpha = 1;
}

function fitted(c: CanvasRenderingContext2D, text: string, width: number): string {
  if (c.measureText(text).width <= width) return text;
  let short = text;
  while (short.length > 1 && c.measureText(`${short}…`).width > width) short = short.slice(0, -1);
  return `${short}…`;
}

/** The highest of some columns of the picture. */
function most({ columns, count, rate }: Picture, from: number, to: number, which: number): number {
  const a = Math.max(0, Math.floor(from * rate));
  const b = Math.min(count, Math.max(a + 1, Math.ceil(to * rate)));
  let value = 0;
  for (let i = a; i < b; i++) value = Math.max(value, columns[i * 4 + which]!);
  return value;
}

/** Three ridges, one over the other: what is low at the foot, what is high on top. */
const RIDGES = [
  { which: 3, at: 0.3, reach: 0.3, alpha: 0.55 },
  { which: 2, at: 0.62, reach: 0.36, alpha: 0.7 },
  { which: 1, at: 0.96, reach: 0.4, alpha: 0.9 },
] as const;
const MARKS = ['▲', '✕', '·', '◦'] as const;

/** A stretch close: the ridges, where something begins, beats and bars, sections. */
export function paintClose(
  c: CanvasRenderingContext2D,
  sight: Sight,
  inks: Inks,
  what: {
    readonly picture: Picture | null;
    /** The sound itself, where so little is seen that columns are too coarse. */
    readonly samples: { readonly data: Float32Array; readonly rate: number } | null;
    readonly grid: Grid;
    readonly sections: readonly SongSection[];
    readonly stretch: { readonly from: number; readonly to: number } | null;
    readonly loop: { readonly from: number; readonly to: number } | null;
    readonly held: number | null;
    readonly bands: boolean;
  },
): void {
  const { width, height } = sight;
  c.clearRect(0, 0, width, height);
  const wave = height - FOOT;
  for (const [part, ink] of [
    [what.loop, inks.wash],
    [what.stretch, inks.line],
  ] as const) {
    if (!part) continue;
    c.globalAlpha = part === what.stretch ? 0.35 : 1;
    c.fillStyle = ink;
    c.fillRect(xOf(sight, part.from), 0, xOf(sight, part.to) - xOf(sight, part.from), wave);
    c.globalAlpha = 1;
  }
  if (what.samples && sight.span < 3) paintSamples(c, sight, inks, what.samples, wave);
  else if (what.picture) paintRidges(c, sight, inks, what.picture, wave);
  if (what.picture && what.bands) paintOnsets(c, sight, inks, what.picture, wave);
  paintBeats(c, sight, inks, what.grid, what.held, wave);
  c.font = '600 12px "Atkinson Hyperlegible Next Variable", sans-serif';
  for (const { at, name } of what.sections) {
    const x = xOf(sight, at);
    if (x < -200 || x > width) continue;
    c.fillStyle = inks.amber;
    c.fillRect(Math.round(x), 0, 2, wave);
    c.fillText(name, x + 5, 13);
  }
}
/** Height of the row of beats under the wave. */
export const FOOT = 46;

function paintRidges(c: CanvasRenderingContext2D, sight: Sight, inks: Inks, picture: Picture, wave: number): void {
  for (const { which, at, reach, alpha } of RIDGES) {
    const foot = wave * at;
    c.beginPath();
    c.moveTo(0, foot);
    for (let x = 0; x <= sight.width; x++)
      c.lineTo(x, foot - (most(picture, atX(sight, x), atX(sight, x + 1), which) / 255) * wave * reach);
    c.lineTo(sight.width, foot);
    c.closePath();
    c.fillStyle = inks.panel;
    c.fill();
    c.globalAlpha = alpha;
    c.strokeStyle = inks.text;
    c.lineWidth = 1;
    c.stroke();
    c.globalAlpha = 1;
  }
}

function paintSamples(
  c: CanvasRenderingContext2D,
  sight: Sight,
  inks: Inks,
  { data, rate }: { readonly data: Float32Array; readonly rate: number },
  wave: number,
): void {
  const middle = wave / 2;
  c.strokeStyle = inks.text;
  c.lineWidth = 1;
  c.beginPath();
  for (let x = 0; x < sight.width; x++) {
    const a = Math.max(0, Math.floor(atX(sight, x) * rate));
    const b = Math.min(data.length, Math.max(a + 1, Math.floor(atX(sight, x + 1) * rate)));
    let [low, high] = [1, -1];
    for (let i = a; i < b; i++) {
      low = Math.min(low, data[i]!);
      high = Math.max(high, data[i]!);
    }
    if (high < low) continue;
    c.moveTo(x + 0.5, middle - high * middle * 0.95);
    c.lineTo(x + 0.5, middle - low * middle * 0.95 + 0.5);
  }
  c.stroke();
}

/** Where something begins: a mark for each band along the edges of the ridges. */
function paintOnsets(c: CanvasRenderingContext2D, sight: Sight, inks: Inks, { onsets }: Picture, wave: number): void {
  if (sight.span > 40) return;
  c.font = '11px sans-serif';
  c.fillStyle = inks.quiet;
  c.textAlign = 'center';
  onsets.forEach(({ at, strength }, band) => {
    const y = [wave - 3, wave * 0.62 + 4, wave * 0.3 + 4, wave * 0.08][band]!;
    for (let i = 0; i < at.length; i++) {
      const x = xOf(sight, at[i]!);
      if (x < 0 || x > sight.width) continue;
      c.globalAlpha = 0.3 + 0.7 * strength[i]!;
      c.fillText(MARKS[band]!, x, y);
    }
  });
  c.globalAlpha = 1;
  c.textAlign = 'start';
}

function paintBeats(
  c: CanvasRenderingContext2D,
  sight: Sight,
  inks: Inks,
  { beats, places, bars }: Grid,
  held: number | null,
  wave: number,
): void {
  const tight = (sight.span / Math.max(1, sight.width)) * 9;
  c.font = '11px "Atkinson Hyperlegible Mono Variable", monospace';
  let lastLabel = -Infinity;
  for (let i = 0; i < beats.length; i++) {
    const at = beats[i]!;
    if (at < sight.from - 1 || at > sight.from + sight.span + 1) continue;
    const one = places[i] === 0;
    const next = beats[i + 1] ?? at + 1;
    if (!one && next - at < tight) continue;
    const x = Math.round(xOf(sight, at));
    // Seen from far beads are small, so that they stay apart.
    const room = Math.max(1.5, (((next - at) * sight.width) / sight.span) * 1.2);
    c.fillStyle = i === held ? inks.amber : one ? inks.text : inks.quiet;
    c.globalAlpha = one ? 0.5 : 0.22;
    c.fillRect(x, 0, 1, wave);
    c.globalAlpha = 1;
    // A bead on a thread: the one is a larger bead with the number of its bar.
    c.beginPath();
    c.arc(x + 0.5, wave + 14, i === held ? 7 : Math.min(one ? 6 : 3.5, room), 0, Math.PI * 2);
    c.fill();
    if (one && x - lastLabel > 34) {
      c.fillStyle = inks.quiet;
      c.fillText(String(bars[i]), x - 4, wave + 36);
      lastLabel = x;
    }
  }
  c.fillStyle = inks.line;
  c.globalAlpha = 0.6;
  c.fillRect(0, wave + 14, sight.width, 1);
  c.globalAlpha = 1;
}
