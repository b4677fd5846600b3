import { encodeSrgb } from '$core/colour/convert.ts';
import { beamOnPlan, cellPoints, type Size } from '$core/plot/geometry.ts';
import {
  readActivity,
  readCell,
  readSource,
  type CellLight,
  type Frames,
  type UnitReader,
} from '$core/profile/readout.ts';
import type { ProfileRecord, ShowRecord, UnitRecord } from '$core/records/index.ts';
import type { FixtureKind } from '$core/records/profile.ts';
import { toScreen, type Canvas, type View } from './view.ts';

/** A unit as the plot draws it: what it is, how large, and how to read its light from the frames. */
export interface Drawn {
  readonly unit: UnitRecord;
  readonly profile: ProfileRecord | undefined;
  readonly size: Size;
  readonly reader: UnitReader | undefined;
  readonly selected: boolean;
  readonly byHand: boolean;
  /** Shift while it is being dragged, metres. */
  readonly dx: number;
  readonly dy: number;
}

export interface Inks {
  readonly body: string;
  readonly outline: string;
  readonly select: string;
  readonly text: string;
  readonly grid: string;
  readonly wall: string;
}

const TAU = Math.PI * 2;
/** No symbol smaller than this on the screen, pixels. */
const LEAST_PX = 13;

/** Paper: the room's outline, a metre grid, and which way is up-stage. */
export function drawPaper(
  g: CanvasRenderingContext2D,
  view: View,
  canvas: Canvas,
  show: ShowRecord | undefined,
  inks: Inks,
): void {
  g.clearRect(0, 0, canvas.width, canvas.height);
  const { widthM, depthM, name } = show?.room ?? { widthM: 12, depthM: 8, name: '' };
  const a = toScreen(view, canvas, { x: -widthM / 2, y: depthM / 2 });
  const b = toScreen(view, canvas, { x: widthM / 2, y: -depthM / 2 });
  const step = view.scale < 12 ? 5 : 1;
  g.lineWidth = 1;
  g.strokeStyle = inks.grid;
  g.beginPath();
  for (let x = Math.ceil(-widthM / 2 / step) * step; x <= widthM / 2; x += step) {
    const p = Math.round(toScreen(view, canvas, { x, y: 0 }).x) + 0.5;
    g.moveTo(p, a.y);
    g.lineTo(p, b.y);
  }
  for (let y = Math.ceil(-depthM / 2 / step) * step; y <= depthM / 2; y += step) {
    const p = Math.round(toScreen(view, canvas, { x: 0, y }).y) + 0.5;
    g.moveTo(a.x, p);
    g.lineTo(b.x, p);
  }
  g.stroke();
  g.strokeStyle = inks.wall;
  g.lineWidth = 2;
  g.strokeRect(a.x, a.y, b.x - a.x, b.y - a.y);
  g.fillStyle = inks.text;
  g.font = '12px "Atkinson Hyperlegible Next Variable", sans-serif';
  // Above the wall, where no unit hangs; inside when the wall is out of sight.
  const line = a.y >= 20 ? a.y - 7 : Math.max(a.y, 0) + 18;
  g.textAlign = 'left';
  g.fillText(`${name}  ${widthM} × ${depthM} m`, a.x + 2, line);
  g.textAlign = 'right';
  g.fillText('up-stage', b.x - 2, line);
  drawScale(g, canvas, view, inks);
}

function drawScale(g: CanvasRenderingContext2D, canvas: Canvas, view: View, inks: Inks): void {
  const metres = [1, 2, 5, 10, 20, 50].find((m) => m * view.scale > 70) ?? 100;
  const width = metres * view.scale;
  const x = canvas.width - 16 - width;
  // On a narrow page the tools stand where the scale would be.
  const y = canvas.height - (canvas.width < 520 ? 62 : 16);
  g.strokeStyle = inks.text;
  g.lineWidth = 1.5;
  g.beginPath();
  g.moveTo(x, y - 5);
  g.lineTo(x, y);
  g.lineTo(x + width, y);
  g.lineTo(x + width, y - 5);
  g.stroke();
  g.textAlign = 'center';
  g.fillText(`${metres} m`, x + width / 2, y - 6);
}

const light: CellLight = { r: 0, g: 0, b: 0, strobing: false };
const css = (r: number, g: number, b: number, alpha: number): string => `rgba(${to8(r)},${to8(g)},${to8(b)},${alpha})`;
const to8 = (v: number): number => Math.round(encodeSrgb(v > 1 ? 1 : v) * 255);

/** Light of all units, added up as light adds up. */
export function drawLight(
  g: CanvasRenderingContext2D,
  view: View,
  canvas: Canvas,
  drawn: readonly Drawn[],
  frames: Frames,
): void {
  g.globalCompositeOperation = 'lighter';
  for (const item of drawn) {
    const { unit, reader, profile, size } = item;
    if (!reader) continue;
    const count = reader.cells.length;
    const points = count > 1 ? cellPoints(unit, size, count) : null;
    for (let i = 0; i < count; i++) {
      readCell(reader, i, frames, light);
      const most = Math.max(light.r, light.g, light.b);
      if (most < 0.004) continue;
      const at = points?.[i] ?? unit.position;
      const p = toScreen(view, canvas, { x: at.x + item.dx, y: at.y + item.dy });
      if (reader.pan && reader.tilt && i === 0) drawBeam(g, p, item, frames, view, light);
      else drawGlow(g, p, glowRadius(profile?.fixtureKind ?? 'other', view.scale, count), light);
    }
  }
  g.globalCompositeOperation = 'source-over';
}

function glowRadius(kind: FixtureKind, scale: number, cells: number): number {
  const metres =
    cells > 1 ? 0.34 : kind === 'dimmer' || kind === 'lamp' ? 1 : kind === 'strobe' || kind === 'blinder' ? 2 : 1.5;
  return Math.max(10, metres * scale);
}

function drawGlow(
  g: CanvasRenderingContext2D,
  p: { x: number; y: number },
  radius: number,
  { r, g: green, b }: CellLight,
): void {
  const gradient = g.createRadialGradient(p.x, p.y, 0, p.x, p.y, radius);
  gradient.addColorStop(0, css(r, green, b, 0.85));
  gradient.addColorStop(0.25, css(r, green, b, 0.34));
  gradient.addColorStop(1, css(r, green, b, 0));
  g.fillStyle = gradient;
  g.fillRect(p.x - radius, p.y - radius, radius * 2, radius * 2);
}

/** A soft cone where the beam falls on the plan, as long as it lies flat. */
function drawBeam(
  g: CanvasRenderingContext2D,
  p: { x: number; y: number },
  item: Drawn,
  frames: Frames,
  view: View,
  colour: CellLight,
): void {
  const { reader, profile, unit } = item;
  const { panDeg = 540, tiltDeg = 270, beamDeg = 14 } = profile?.physical ?? {};
  const beam = beamOnPlan(
    readSource(reader!.pan!, frames),
    readSource(reader!.tilt!, frames),
    panDeg,
    tiltDeg,
    unit.rotation.z,
  );
  const length =
    Math.max(0.5, Math.tan(Math.min(1.25, Math.asin(Math.min(0.95, beam.flatness)))) * Math.max(1, unit.position.z)) *
    view.scale;
  const half = Math.max(0.09, (beamDeg * Math.PI) / 360);
  const angle = (-beam.directionDeg * Math.PI) / 180;
  const end = { x: p.x + Math.cos(angle) * length, y: p.y + Math.sin(angle) * length };
  const gradient = g.createLinearGradient(p.x, p.y, end.x, end.y);
  gradient.addColorStop(0, css(colour.r, colour.g, colour.b, 0.55));
  gradient.addColorStop(1, css(colour.r, colour.g, colour.b, 0.16));
  g.fillStyle = gradient;
  g.beginPath();
  g.moveTo(p.x, p.y);
  g.arc(p.x, p.y, length, angle - half, angle + half);
  g.closePath();
  g.fill();
  drawGlow(g, end, Math.max(14, length * half * 1.5), colour);
  drawGlow(g, p, 16, colour);
}

/** Bodies, cells, selection and labels over the light. */
export function drawUnits(
  g: CanvasRenderingContext2D,
  view: View,
  canvas: Canvas,
  drawn: readonly Drawn[],
  frames: Frames,
  inks: Inks,
): void {
  const labels = view.scale > 22;
  for (const item of drawn) {
    const { unit, size, profile, selected } = item;
    const p = toScreen(view, canvas, { x: unit.position.x + item.dx, y: unit.position.y + item.dy });
    if (p.x < -200 || p.y < -200 || p.x > canvas.width + 200 || p.y > canvas.height + 200) continue;
    const w = Math.max(LEAST_PX, size.widthM * view.scale);
    const h = Math.max(LEAST_PX * 0.8, size.depthM * view.scale);
    g.save();
    g.translate(p.x, p.y);
    g.rotate((-unit.rotation.z * Math.PI) / 180);
    g.lineWidth = 1.25;
    g.fillStyle = inks.body;
    g.strokeStyle = selected ? inks.select : inks.outline;
    symbol(g, profile?.fixtureKind ?? 'other', w, h);
    fillCells(g, item, w, h, frames);
    if (selected) {
      g.lineWidth = 2;
      g.strokeStyle = inks.select;
      g.strokeRect(-w / 2 - 5, -h / 2 - 5, w + 10, h + 10);
    }
    g.restore();
    if (item.byHand) drawBow(g, p.x + w / 2 + 7, p.y - h / 2 - 4, inks.select);
    if (labels || selected) {
      g.fillStyle = selected ? inks.select : inks.text;
      g.font = '11px "Atkinson Hyperlegible Mono Variable", monospace';
      g.textAlign = 'center';
      g.fillText(
        String(unit.number),
        p.x,
        p.y + Math.max(h, Math.abs(Math.sin((unit.rotation.z * Math.PI) / 180)) * w) / 2 + 13,
      );
    }
  }
}

function drawBow(g: CanvasRenderingContext2D, x: number, y: number, ink: string): void {
  g.fillStyle = ink;
  g.beginPath();
  g.moveTo(x, y);
  g.lineTo(x - 5, y - 4);
  g.lineTo(x - 5, y + 4);
  g.closePath();
  g.moveTo(x, y);
  g.lineTo(x + 5, y - 4);
  g.lineTo(x + 5, y + 4);
  g.closePath();
  g.fill();
}

/** The body of each kind, drawn around the origin; the front (y up the screen) has the lens. */
function symbol(g: CanvasRenderingContext2D, kind: FixtureKind, w: number, h: number): void {
  g.beginPath();
  switch (kind) {
    case 'par':
    case 'uv':
      g.moveTo(-w * 0.32, h / 2);
      g.lineTo(w * 0.32, h / 2);
      g.lineTo(w / 2, -h / 2);
      g.lineTo(-w / 2, -h / 2);
      g.closePath();
      break;
    case 'head':
      g.rect(-w / 2, h * 0.22, w, h * 0.28);
      g.moveTo(w * 0.36, -h * 0.12);
      g.ellipse(0, -h * 0.12, w * 0.36, h * 0.4, 0, 0, TAU);
      break;
    case 'scanner':
      g.rect(-w * 0.4, -h * 0.2, w * 0.8, h * 0.7);
      g.moveTo(-w * 0.4, -h / 2);
      g.lineTo(w * 0.4, -h * 0.28);
      break;
    case 'derby':
      for (let i = 0; i < 6; i++) {
        const a = (i / 6) * TAU;
        g.moveTo(0, 0);
        g.arc(0, 0, Math.min(w, h) / 2, a, a + TAU / 12);
        g.closePath();
      }
      break;
    case 'strobe':
    case 'blinder':
      g.rect(-w / 2, -h / 2, w, h);
      g.moveTo(-w * 0.38, 0);
      g.lineTo(-w * 0.13, -h * 0.3);
      g.lineTo(w * 0.1, h * 0.3);
      g.lineTo(w * 0.38, 0);
      break;
    case 'hazer':
      g.rect(-w / 2, -h * 0.1, w, h * 0.6);
      g.moveTo(-w * 0.3, -h * 0.2);
      g.bezierCurveTo(-w * 0.1, -h * 0.45, w * 0.1, 0, w * 0.3, -h * 0.3);
      break;
    case 'motor':
    case 'fan':
      g.arc(0, 0, Math.min(w, h) / 2, 0, TAU);
      g.moveTo(-w * 0.2, 0);
      g.arc(0, 0, w * 0.2, Math.PI, Math.PI * 2.5);
      break;
    case 'dimmer':
    case 'lamp':
      g.arc(0, 0, Math.min(w, h) / 2, 0, TAU);
      break;
    default:
      g.rect(-w / 2, -h / 2, w, h);
  }
  g.fill();
  g.stroke();
}

function fillCells(g: CanvasRenderingContext2D, item: Drawn, w: number, h: number, frames: Frames): void {
  const { reader } = item;
  if (!reader) return;
  const count = reader.cells.length;
  if (count === 0) return;
  for (let i = 0; i < count; i++) {
    readCell(reader, i, frames, light);
    g.fillStyle = css(light.r, light.g, light.b, 1);
    if (count > 1) {
      const cellWidth = (w - 4) / count;
      g.fillRect(-w / 2 + 2 + i * cellWidth + 0.5, -h / 2 + 2, Math.max(1, cellWidth - 1), h - 4);
    } else {
      const busy = readActivity(reader, frames);
      if (light.r + light.g + light.b < 0.004 && busy > 0) g.fillStyle = `rgba(190,205,235,${0.35 + busy * 0.6})`;
      g.beginPath();
      g.arc(0, 0, Math.min(w, h) * 0.24, 0, TAU);
      g.fill();
      if (!light.strobing) continue;
      // A strobing lamp is marked, not shown flashing.
      g.setLineDash([3, 3]);
      g.beginPath();
      g.arc(0, 0, Math.min(w, h) * 0.42, 0, TAU);
      g.stroke();
      g.setLineDash([]);
    }
  }
}
