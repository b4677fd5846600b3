import { encodeSrgb } from '$core/colour/convert.ts';
import { beamEnd, directed, frontDirection, jointOf, USUAL_PAN_DEG, USUAL_TILT_DEG } from '$core/plot/beam.ts';
import type { Body } from '$core/plot/body.ts';
import { toPaper, type Point } from '$core/plot/paper.ts';
import { readMean, readAxis, type CellLight, type Frames, type UnitReader } from '$core/patch/readout.ts';
import type { FixtureKind } from '$core/records/profile.ts';
import type { PlotSide } from '$core/records/picture.ts';
import { toScreen, type Canvas, type View } from './view.ts';

const light: CellLight = { r: 0, g: 0, b: 0, strobing: false };
const to8 = (v: number): number => Math.round(encodeSrgb(v > 1 ? 1 : v) * 255);
export const css = (r: number, g: number, b: number, alpha: number): string =>
  `rgba(${to8(r)},${to8(g)},${to8(b)},${alpha})`;

/** Kinds whose light goes one way: a cone is drawn for them. */
const CONES = new Set<FixtureKind>(['par', 'bar', 'head', 'scanner', 'blinder', 'strobe', 'uv', 'laser', 'derby']);

/** Light of units that are drawn as symbols, added up as light adds up: cones and glows. */
export function paintLight(
  g: CanvasRenderingContext2D,
  view: View,
  size: Canvas,
  side: PlotSide,
  bodies: readonly Body[],
  readers: ReadonlyMap<string, UnitReader>,
  frames: Frames,
  beams: boolean,
): void {
  // Of very many the lenses spill enough light by themselves.
  if (bodies.length > MOST) return;
  g.globalCompositeOperation = 'lighter';
  for (const body of bodies) {
    const reader = readers.get(body.unit.id);
    if (!reader || reader.cells.length === 0) continue;
    mean(reader, frames);
    if (Math.max(light.r, light.g, light.b) < 0.004) continue;
    const at = toScreen(view, size, body.at);
    const kind = body.profile?.fixtureKind ?? 'other';
    if (beams && CONES.has(kind)) paintCone(g, view, size, side, body, reader, frames, at);
    if (body.dots.cells.length === 0) paintGlow(g, at, glowRadius(kind, view.scale), light);
  }
  g.globalCompositeOperation = 'source-over';
}

/** Most units whose glow and cone are drawn one by one. */
const MOST = 400;
/** Most cells that are looked at for the light of a whole unit. */
const LOOKED_AT = 24;

/** The light of a unit as a whole in `light`: that of its cells on average. */
const mean = (reader: UnitReader, frames: Frames): CellLight =>
  readMean(reader, 0, reader.cells.length, frames, light, LOOKED_AT);

/** How bright a unit is now, 0-1. */
export function levelOf(reader: UnitReader | undefined, frames: Frames): number {
  if (!reader || reader.cells.length === 0) return 0;
  mean(reader, frames);
  return Math.max(light.r, light.g, light.b);
}

function glowRadius(kind: FixtureKind, scale: number): number {
  const metres = kind === 'dimmer' || kind === 'lamp' ? 0.8 : kind === 'strobe' || kind === 'blinder' ? 1.6 : 0.9;
  return Math.max(10, metres * scale);
}

/** A bright core that fades to nothing at its rim. */
function paintGlow(g: CanvasRenderingContext2D, p: Point, radius: number, { r, g: green, b }: CellLight): void {
  const gradient = g.createRadialGradient(p.x, p.y, 0, p.x, p.y, radius);
  for (const [at, alpha] of GLOW) gradient.addColorStop(at, css(r, green, b, alpha));
  g.fillStyle = gradient;
  g.beginPath();
  g.arc(p.x, p.y, radius, 0, 2 * Math.PI);
  g.fill();
}
const GLOW = [
  [0, 0.8],
  [0.25, 0.6],
  [0.55, 0.2],
  [1, 0],
] as const;

/** A soft cone along the beam, as wide as the beam angle, to where it meets the floor. */
function paintCone(
  g: CanvasRenderingContext2D,
  view: View,
  size: Canvas,
  side: PlotSide,
  { unit, profile }: Body,
  reader: UnitReader,
  frames: Frames,
  from: Point,
): void {
  const { panDeg = USUAL_PAN_DEG, tiltDeg = USUAL_TILT_DEG, beamDeg = 25 } = profile?.physical ?? {};
  const moves = reader.pan && reader.tilt;
  const direction = moves
    ? directed(
        jointOf(profile),
        unit,
        readAxis(unit, reader, 'pan', frames, panDeg),
        readAxis(unit, reader, 'tilt', frames, tiltDeg),
        panDeg,
        tiltDeg,
      )
    : frontDirection(unit);
  const end = toScreen(view, size, toPaper(side, beamEnd(unit.position, direction)));
  const [dx, dy] = [end.x - from.x, end.y - from.y];
  const length = Math.hypot(dx, dy);
  const half = Math.min(0.7, Math.max(0.05, (beamDeg * Math.PI) / 360));
  const spot = Math.max(8, view.scale * 3 * Math.tan(half));
  // Seen along the beam there is only the spot it makes.
  if (length < spot) return paintGlow(g, end, spot * 1.5, light);
  const angle = Math.atan2(dy, dx);
  const strong = moves ? 0.6 : 0.36;
  const gradient = g.createLinearGradient(from.x, from.y, end.x, end.y);
  gradient.addColorStop(0, css(light.r, light.g, light.b, strong));
  gradient.addColorStop(1, css(light.r, light.g, light.b, moves ? strong * 0.3 : 0));
  g.fillStyle = gradient;
  g.beginPath();
  g.moveTo(from.x, from.y);
  g.arc(from.x, from.y, length, angle - half, angle + half);
  g.closePath();
  g.fill();
  if (moves) paintGlow(g, end, Math.max(14, length * half * 1.4), light);
}
