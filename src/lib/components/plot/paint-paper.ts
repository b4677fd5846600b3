import { toPaper, type Point } from '$core/plot/paper.ts';
import { middleOf, type Corner } from '$core/polygon.ts';
import { lengthNumber, LENGTH_UNIT, type Lengths } from '$core/plot/lengths.ts';
import type { AreaRecord, BackdropRecord, ShowRecord, ThingRecord } from '$core/records/index.ts';
import type { PlotSide } from '$core/records/picture.ts';
import { outlineOf } from '$core/room/outline.ts';
import type { Tag } from '$core/records/show.ts';
import { gridStep, toPlan, toScreen, type Canvas, type View } from './view.ts';

export interface Inks {
  readonly body: string;
  readonly outline: string;
  readonly select: string;
  readonly text: string;
  readonly grid: string;
  readonly wall: string;
  readonly guide: string;
  readonly wrong: string;
  readonly look: string;
}

export interface Paper {
  readonly side: PlotSide;
  readonly show: ShowRecord | undefined;
  readonly room: ShowRecord['room'];
  readonly lengths: Lengths;
  readonly grid: boolean;
  readonly rulers: boolean;
  readonly guides: { readonly x: readonly number[]; readonly y: readonly number[] };
  readonly backdrops: readonly {
    readonly record: BackdropRecord;
    readonly image: CanvasImageSource | null;
    readonly ratio: number;
  }[];
  readonly areas: readonly {
    readonly area: AreaRecord;
    readonly outline: readonly Corner[];
    readonly chosen: boolean;
    readonly level: number;
  }[];
  readonly things: readonly { readonly thing: ThingRecord; readonly chosen: boolean }[];
}

export const TEXT_FONT = '12px "Atkinson Hyperlegible Next Variable", sans-serif';
export const NUMBER_FONT = '11px "Atkinson Hyperlegible Mono Variable", monospace';
/** Width of a ruler on the screen. */
export const RULER_PX = 18;

/** What lies under the light: pictures, grid, room, areas, guides, rulers. */
export function paintPaper(g: CanvasRenderingContext2D, view: View, size: Canvas, paper: Paper, inks: Inks): void {
  g.clearRect(0, 0, size.width, size.height);
  for (const { record, image, ratio } of paper.backdrops) paintBackdrop(g, view, size, record, image, ratio);
  if (paper.grid) paintGrid(g, view, size, inks);
  paintRoom(g, view, size, paper, inks);
  for (const item of paper.things) paintThing(g, view, size, paper.side, item, inks);
  for (const item of paper.areas) paintArea(g, view, size, item, paper.show?.tags ?? [], inks);
  paintGuides(g, view, size, paper, inks);
  if (paper.rulers) paintRulers(g, view, size, paper.lengths, inks);
  else paintScale(g, size, view, paper.lengths, inks);
}

function paintBackdrop(
  g: CanvasRenderingContext2D,
  view: View,
  size: Canvas,
  { x, y, widthM, turnDeg, opacity, hidden }: BackdropRecord,
  image: CanvasImageSource | null,
  ratio: number,
): void {
  if (hidden || !image) return;
  const at = toScreen(view, size, { x, y });
  const width = widthM * view.scale;
  g.save();
  g.globalAlpha = opacity;
  g.translate(at.x, at.y);
  g.rotate((-turnDeg * Math.PI) / 180);
  g.drawImage(image, -width / 2, (-width * ratio) / 2, width, width * ratio);
  g.restore();
}

function paintGrid(g: CanvasRenderingContext2D, view: View, size: Canvas, inks: Inks): void {
  const step = gridStep(view.scale, 26);
  const from = toPlan(view, size, { x: 0, y: size.height });
  const to = toPlan(view, size, { x: size.width, y: 0 });
  g.lineWidth = 1;
  g.strokeStyle = inks.grid;
  g.beginPath();
  for (let x = Math.ceil(from.x / step) * step; x <= to.x; x += step) {
    const p = Math.round(toScreen(view, size, { x, y: 0 }).x) + 0.5;
    g.moveTo(p, 0);
    g.lineTo(p, size.height);
  }
  for (let y = Math.ceil(from.y / step) * step; y <= to.y; y += step) {
    const p = Math.round(toScreen(view, size, { x: 0, y }).y) + 0.5;
    g.moveTo(0, p);
    g.lineTo(size.width, p);
  }
  g.stroke();
}

function paintRoom(g: CanvasRenderingContext2D, view: View, size: Canvas, { side, room }: Paper, inks: Inks): void {
  const { widthM, depthM, heightM, name } = room;
  const low = toPaper(side, { x: -widthM / 2, y: -depthM / 2, z: 0 });
  const high = toPaper(side, { x: widthM / 2, y: depthM / 2, z: heightM });
  const a = toScreen(view, size, { x: low.x, y: high.y });
  const b = toScreen(view, size, { x: high.x, y: low.y });
  g.strokeStyle = inks.wall;
  g.lineWidth = 2;
  g.strokeRect(a.x, a.y, b.x - a.x, b.y - a.y);
  g.fillStyle = inks.text;
  g.font = TEXT_FONT;
  // Above the wall, where no unit hangs; inside when the wall is out of sight.
  const line = a.y >= 40 ? a.y - 7 : Math.max(a.y, 0) + 34;
  g.textAlign = 'left';
  g.fillText(name, Math.max(a.x, RULER_PX) + 4, line);
  g.textAlign = 'right';
  const words = side === 'plan' ? 'up-stage' : side === 'front' ? 'from the audience' : 'up-stage to the right';
  g.fillText(words, Math.min(b.x, size.width) - 4, line);
}

function paintArea(
  g: CanvasRenderingContext2D,
  view: View,
  size: Canvas,
  { area, outline, chosen, level }: Paper['areas'][number],
  tags: readonly Tag[],
  inks: Inks,
): void {
  const colour = tags.find((t) => t.key === area.tag)?.colour ?? '#7f8fae';
  const points = outline.map((c) => toScreen(view, size, c));
  g.beginPath();
  points.forEach((p, i) => (i === 0 ? g.moveTo(p.x, p.y) : g.lineTo(p.x, p.y)));
  g.closePath();
  g.globalAlpha = chosen ? 0.16 : 0.07;
  g.fillStyle = colour;
  g.fill();
  g.globalAlpha = 1;
  g.strokeStyle = chosen ? inks.select : colour;
  g.lineWidth = chosen ? 2 : 1;
  g.setLineDash(area.locked ? [] : [6, 4]);
  g.stroke();
  g.setLineDash([]);
  if (area.keepOut?.on) paintKeepOut(g, points, inks);
  if (chosen && !area.locked) for (const p of points) handle(g, p, inks);
  // The name stands at the uppermost corner, where it hides least.
  const top = points.reduce((best, p) => (p.y < best.y || (p.y === best.y && p.x < best.x) ? p : best));
  const middle = toScreen(view, size, middleOf(outline));
  g.font = TEXT_FONT;
  g.textAlign = top.x > middle.x ? 'right' : 'left';
  g.fillStyle = chosen ? inks.select : inks.text;
  const down = level < 1 ? `  ${Math.round(level * 100)} %` : '';
  g.fillText(`${area.number} ${area.name}${down}`, top.x + (top.x > middle.x ? -4 : 4), top.y + 14);
}

/** Where no beam is to go at eye height: bars across the inside of the edge. */
function paintKeepOut(g: CanvasRenderingContext2D, points: readonly { x: number; y: number }[], inks: Inks): void {
  g.save();
  g.clip();
  g.beginPath();
  points.forEach((p, i) => (i === 0 ? g.moveTo(p.x, p.y) : g.lineTo(p.x, p.y)));
  g.closePath();
  g.strokeStyle = inks.wrong;
  g.globalAlpha = 0.55;
  g.lineWidth = 8;
  g.setLineDash([2, 10]);
  g.stroke();
  g.restore();
}

/** What stands in the room: its outline, with its name where there is room for it. */
function paintThing(
  g: CanvasRenderingContext2D,
  view: View,
  size: Canvas,
  side: PlotSide,
  { thing, chosen }: Paper['things'][number],
  inks: Inks,
): void {
  const points = outlineOf(side, thing).map((p) => toScreen(view, size, p));
  g.beginPath();
  points.forEach((p, i) => (i === 0 ? g.moveTo(p.x, p.y) : g.lineTo(p.x, p.y)));
  g.closePath();
  g.globalAlpha = chosen ? 0.4 : 0.22;
  g.fillStyle = thing.colour;
  g.fill();
  if (thing.keepOut?.on) paintKeepOut(g, points, inks);
  g.globalAlpha = chosen ? 1 : 0.55;
  g.strokeStyle = chosen ? inks.select : thing.colour;
  g.lineWidth = chosen ? 2 : 1;
  g.stroke();
  g.globalAlpha = 1;
  if (!chosen) return;
  const top = points.reduce((best, p) => (p.y < best.y ? p : best));
  g.font = TEXT_FONT;
  g.textAlign = 'left';
  g.fillStyle = inks.select;
  g.fillText(`${thing.number} ${thing.name}`, Math.min(Math.max(top.x, RULER_PX) + 4, size.width - 140), top.y - 5);
}

/** A square to drag a corner by. */
export function handle(g: CanvasRenderingContext2D, p: Point, inks: Inks): void {
  g.fillStyle = inks.body;
  g.strokeStyle = inks.select;
  g.lineWidth = 1.5;
  g.fillRect(p.x - 4.5, p.y - 4.5, 9, 9);
  g.strokeRect(p.x - 4.5, p.y - 4.5, 9, 9);
}

function paintGuides(g: CanvasRenderingContext2D, view: View, size: Canvas, { guides }: Paper, inks: Inks): void {
  g.strokeStyle = inks.guide;
  g.lineWidth = 1;
  g.beginPath();
  for (const x of guides.x) {
    const p = Math.round(toScreen(view, size, { x, y: 0 }).x) + 0.5;
    g.moveTo(p, 0);
    g.lineTo(p, size.height);
  }
  for (const y of guides.y) {
    const p = Math.round(toScreen(view, size, { x: 0, y }).y) + 0.5;
    g.moveTo(0, p);
    g.lineTo(size.width, p);
  }
  g.stroke();
}

const FOOT_M = 0.3048;

function paintRulers(g: CanvasRenderingContext2D, view: View, size: Canvas, lengths: Lengths, inks: Inks): void {
  const one = lengths === 'metres' ? 1 : FOOT_M;
  const step = gridStep(view.scale * one, 52) * one;
  g.fillStyle = '#10131ae8';
  g.fillRect(0, 0, size.width, RULER_PX);
  g.fillRect(0, RULER_PX, RULER_PX, size.height);
  g.fillStyle = inks.text;
  g.strokeStyle = inks.outline;
  g.lineWidth = 1;
  g.font = '10px "Atkinson Hyperlegible Mono Variable", monospace';
  const from = toPlan(view, size, { x: RULER_PX, y: size.height });
  const to = toPlan(view, size, { x: size.width, y: RULER_PX });
  g.beginPath();
  g.textAlign = 'left';
  for (let x = Math.ceil(from.x / step) * step; x <= to.x; x += step) {
    const p = Math.round(toScreen(view, size, { x, y: 0 }).x) + 0.5;
    g.moveTo(p, RULER_PX - 6);
    g.lineTo(p, RULER_PX);
    g.fillText(String(lengthNumber(x, lengths)), p + 3, 11);
  }
  for (let y = Math.ceil(from.y / step) * step; y <= to.y; y += step) {
    const p = Math.round(toScreen(view, size, { x: 0, y }).y) + 0.5;
    g.moveTo(RULER_PX - 6, p);
    g.lineTo(RULER_PX, p);
    g.save();
    g.translate(11, p - 3);
    g.rotate(-Math.PI / 2);
    g.fillText(String(lengthNumber(y, lengths)), 0, 0);
    g.restore();
  }
  g.stroke();
  g.fillStyle = '#10131a';
  g.fillRect(0, 0, RULER_PX, RULER_PX);
  g.fillStyle = inks.text;
  g.textAlign = 'center';
  g.fillText(LENGTH_UNIT[lengths], RULER_PX / 2, 12);
}

function paintScale(g: CanvasRenderingContext2D, size: Canvas, view: View, lengths: Lengths, inks: Inks): void {
  const one = lengths === 'metres' ? 1 : FOOT_M;
  const count = [1, 2, 5, 10, 20, 50].find((m) => m * one * view.scale > 70) ?? 100;
  const width = count * one * view.scale;
  const x = size.width - 16 - width;
  // On a narrow page the tools stand where the scale would be.
  const y = size.height - (size.width < 520 ? 62 : 16);
  g.strokeStyle = inks.text;
  g.fillStyle = inks.text;
  g.lineWidth = 1.5;
  g.beginPath();
  g.moveTo(x, y - 5);
  g.lineTo(x, y);
  g.lineTo(x + width, y);
  g.lineTo(x + width, y - 5);
  g.stroke();
  g.textAlign = 'center';
  g.font = TEXT_FONT;
  g.fillText(`${count} ${LENGTH_UNIT[lengths]}`, x + width / 2, y - 6);
}
