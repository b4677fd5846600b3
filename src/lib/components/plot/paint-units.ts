import type { Body } from '$core/plot/body.ts';
import type { Point } from '$core/plot/paper.ts';
import { readActivity, readCell, type CellLight, type Frames, type UnitReader } from '$core/patch/readout.ts';
import { css, levelOf } from './paint-light.ts';
import { handle, NUMBER_FONT, type Inks } from './paint-paper.ts';
import { symbol } from './symbols.ts';
import { toScreen, type Canvas, type View } from './view.ts';

const TAU = Math.PI * 2;
/** No symbol smaller than this on the screen, pixels. */
const LEAST_PX = 13;
const light: CellLight = { r: 0, g: 0, b: 0, strobing: false };

/** What the painting of units needs to know of the show. */
export interface Units {
  readonly readers: ReadonlyMap<string, UnitReader>;
  readonly frames: Frames;
  readonly selected: (id: string) => boolean;
  readonly byHand: (id: string) => boolean;
  readonly label: (body: Body, level: () => number) => string;
  readonly locked: (body: Body) => boolean;
  /** True where something of the unit fails, false where it is worth a look, null where all is well. */
  readonly fault: (id: string) => boolean | null;
}

/** Symbols, selection and labels over the light. */
export function paintUnits(
  g: CanvasRenderingContext2D,
  view: View,
  size: Canvas,
  bodies: readonly Body[],
  units: Units,
  inks: Inks,
): void {
  for (const body of bodies) {
    const { unit, box } = body;
    const a = toScreen(view, size, { x: box.min.x, y: box.max.y });
    const b = toScreen(view, size, { x: box.max.x, y: box.min.y });
    if (b.x < -60 || b.y < -60 || a.x > size.width + 60 || a.y > size.height + 60) continue;
    const selected = units.selected(unit.id);
    if (body.dots.cells.length === 0) paintSymbol(g, view, size, body, units, selected, inks);
    else if (selected) paintFrame(g, a, b, inks, units.locked(body));
    const fault = units.fault(unit.id);
    if (fault !== null) paintFault(g, a.x - 7, a.y - 3, fault, inks);
    if (units.byHand(unit.id)) paintBow(g, b.x + 7, a.y - 4, inks.select);
    paintLabel(g, view, body, units, selected, { x: (a.x + b.x) / 2, y: Math.max(b.y, (a.y + b.y) / 2 + 7) }, inks);
  }
}

function paintSymbol(
  g: CanvasRenderingContext2D,
  view: View,
  size: Canvas,
  body: Body,
  { locked }: Units,
  selected: boolean,
  inks: Inks,
): void {
  const p = toScreen(view, size, body.at);
  const w = Math.max(LEAST_PX, body.width * view.scale);
  const h = Math.max(LEAST_PX * 0.8, body.height * view.scale);
  g.save();
  g.translate(p.x, p.y);
  g.rotate((-body.turnDeg * Math.PI) / 180);
  g.lineWidth = 1.25;
  g.fillStyle = inks.body;
  g.strokeStyle = selected ? inks.select : inks.outline;
  symbol(g, body.profile?.fixtureKind ?? 'other', w, h);
  if (body.unit.gel) {
    // The gel in front of the lamp is to be seen while it is dark.
    g.strokeStyle = body.unit.gel;
    g.beginPath();
    g.arc(0, 0, Math.min(w, h) * 0.36, 0, TAU);
    g.stroke();
  }
  if (selected) {
    g.lineWidth = 2;
    g.strokeStyle = inks.select;
    if (locked(body)) g.setLineDash([2, 3]);
    g.strokeRect(-w / 2 - 5, -h / 2 - 5, w + 10, h + 10);
    g.setLineDash([]);
  }
  g.restore();
}

/**
 * What changes with every frame and is no light: a strobing lamp is marked, not shown flashing; a machine that runs
 * (haze, a motor) has a mark as strong as it runs.
 */
export function paintStates(
  g: CanvasRenderingContext2D,
  view: View,
  size: Canvas,
  bodies: readonly Body[],
  readers: ReadonlyMap<string, UnitReader>,
  frames: Frames,
): void {
  for (const body of bodies) {
    const reader = readers.get(body.unit.id);
    if (!reader || body.dots.cells.length > 0 || reader.cells.length === 0) continue;
    readCell(reader, 0, frames, light);
    const busy = light.r + light.g + light.b < 0.004 && reader.activity.length > 0 ? readActivity(reader, frames) : 0;
    if (!light.strobing && busy === 0) continue;
    const p = toScreen(view, size, body.at);
    const across = Math.max(LEAST_PX, Math.min(body.width, body.height) * view.scale);
    g.beginPath();
    if (light.strobing) {
      g.strokeStyle = css(light.r, light.g, light.b, 1);
      g.setLineDash([3, 3]);
      g.arc(p.x, p.y, across * 0.55, 0, TAU);
      g.stroke();
      g.setLineDash([]);
    } else {
      g.fillStyle = `rgba(190,205,235,${0.35 + busy * 0.6})`;
      g.arc(p.x, p.y, across * 0.24, 0, TAU);
      g.fill();
    }
  }
}

/** Corners round what a prop covers; dashed where it is locked. */
function paintFrame(g: CanvasRenderingContext2D, a: Point, b: Point, inks: Inks, locked: boolean): void {
  g.strokeStyle = inks.select;
  g.lineWidth = 1.5;
  if (locked) g.setLineDash([2, 3]);
  g.strokeRect(a.x - 6, a.y - 6, b.x - a.x + 12, b.y - a.y + 12);
  g.setLineDash([]);
}

/** Below this zoom only what is selected has its label. */
const LABELS_FROM = 14;

function paintLabel(
  g: CanvasRenderingContext2D,
  view: View,
  body: Body,
  { label, readers, frames }: Units,
  selected: boolean,
  at: Point,
  inks: Inks,
): void {
  if (view.scale < LABELS_FROM && !selected) return;
  const text = label(body, () => levelOf(readers.get(body.unit.id), frames));
  if (text === '') return;
  g.fillStyle = selected ? inks.select : inks.text;
  g.font = NUMBER_FONT;
  g.textAlign = 'center';
  g.fillText(text, at.x, at.y + 13);
}

/** The marks of the sheet: a triangle for what fails, a ring for what is worth a look. */
function paintFault(g: CanvasRenderingContext2D, x: number, y: number, severe: boolean, inks: Inks): void {
  g.beginPath();
  g.lineWidth = 2;
  if (severe) {
    g.fillStyle = inks.wrong;
    g.moveTo(x, y - 6);
    g.lineTo(x + 6, y + 5);
    g.lineTo(x - 6, y + 5);
    g.fill();
  } else {
    g.strokeStyle = inks.look;
    g.arc(x, y, 4.5, 0, TAU);
    g.stroke();
  }
}

function paintBow(g: CanvasRenderingContext2D, x: number, y: number, ink: string): void {
  g.fillStyle = ink;
  g.beginPath();
  for (const way of [-1, 1]) {
    g.moveTo(x, y);
    g.lineTo(x + 5 * way, y - 4);
    g.lineTo(x + 5 * way, y + 4);
    g.closePath();
  }
  g.fill();
}

/** Where the handle to turn the selection stands on the screen: above what it covers. */
export function turnHandle(view: View, size: Canvas, bodies: readonly Body[]): Point | null {
  if (bodies.length === 0) return null;
  let [left, right, top] = [Infinity, -Infinity, -Infinity];
  for (const { box } of bodies) {
    left = Math.min(left, box.min.x);
    right = Math.max(right, box.max.x);
    top = Math.max(top, box.max.y);
  }
  const p = toScreen(view, size, { x: (left + right) / 2, y: top });
  return { x: p.x, y: p.y - 26 };
}

export function paintTurnHandle(g: CanvasRenderingContext2D, at: Point, inks: Inks): void {
  g.strokeStyle = inks.select;
  g.fillStyle = inks.body;
  g.lineWidth = 1.5;
  g.beginPath();
  g.moveTo(at.x, at.y + 6);
  g.lineTo(at.x, at.y + 18);
  g.stroke();
  g.beginPath();
  g.arc(at.x, at.y, 6, 0, TAU);
  g.fill();
  g.stroke();
}

/** Points of a prop's shape that can be dragged, on the screen. */
export function paintHandles(g: CanvasRenderingContext2D, points: readonly Point[], inks: Inks): void {
  for (const p of points) handle(g, p, inks);
}
