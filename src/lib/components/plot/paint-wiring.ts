import type { Body } from '$core/plot/body.ts';
import { PAPER_AXES, type Point } from '$core/plot/paper.ts';
import { stringRuns } from '$core/prop/wiring.ts';
import type { PlotSide } from '$core/records/picture.ts';
import { NUMBER_FONT, type Inks } from './paint-paper.ts';
import { toScreen, type Canvas, type View } from './view.ts';

/** Numbers are this far apart on the screen at the least. */
const NUMBERS_PX = 26;

/** The order of the cells of a prop as a running line per string: first marked by a square, last by a ring, with numbers. */
export function paintWiring(
  g: CanvasRenderingContext2D,
  view: View,
  size: Canvas,
  side: PlotSide,
  body: Body,
  inks: Inks,
): void {
  const [u, v] = PAPER_AXES[side].map((axis) => 'xyz'.indexOf(axis)) as [number, number];
  const { xyz, cells } = body.dots;
  const places = new Map<number, Point>();
  cells.forEach((cell, i) => {
    // The first dot of a cell that is at several places is the one the wire goes through.
    if (!places.has(cell)) places.set(cell, toScreen(view, size, { x: xyz[i * 3 + u]!, y: xyz[i * 3 + v]! }));
  });
  const count = cells.reduce((most, cell) => Math.max(most, cell + 1), 0);
  const runs = body.unit.prop
    ? stringRuns(body.unit.prop, count)
    : [{ first: 0, cells: count, nulls: 0, backward: false, start: null }];
  g.font = NUMBER_FONT;
  g.textAlign = 'left';
  for (const [i, run] of runs.entries()) {
    const order = Array.from({ length: run.cells }, (_, k) => run.first + (run.backward ? run.cells - 1 - k : k));
    const wire = order.flatMap((cell) => {
      const p = places.get(cell);
      return p ? [{ cell, ...p }] : [];
    });
    if (wire.length === 0) continue;
    paintWire(g, wire, i % 2 === 0 ? inks.select : inks.guide);
    paintNumbers(g, wire, inks);
    paintEnds(g, wire[0]!, wire.at(-1)!, runs.length > 1 ? `${i + 1}` : '', inks);
  }
}

type Wire = readonly (Point & { readonly cell: number })[];

function paintWire(g: CanvasRenderingContext2D, wire: Wire, ink: string): void {
  g.strokeStyle = ink;
  g.globalAlpha = 0.75;
  g.lineWidth = 1.25;
  g.beginPath();
  wire.forEach((p, i) => (i === 0 ? g.moveTo(p.x, p.y) : g.lineTo(p.x, p.y)));
  g.stroke();
  g.globalAlpha = 1;
}

function paintNumbers(g: CanvasRenderingContext2D, wire: Wire, inks: Inks): void {
  g.fillStyle = inks.text;
  let last: Point = wire[0]!;
  for (const p of wire.slice(1, -1)) {
    if (Math.hypot(p.x - last.x, p.y - last.y) < NUMBERS_PX) continue;
    g.fillText(String(p.cell + 1), p.x + 4, p.y - 4);
    last = p;
  }
}

function paintEnds(
  g: CanvasRenderingContext2D,
  first: Wire[number],
  last: Wire[number],
  name: string,
  inks: Inks,
): void {
  g.strokeStyle = inks.select;
  g.fillStyle = inks.select;
  g.lineWidth = 2;
  g.fillRect(first.x - 5, first.y - 5, 10, 10);
  g.beginPath();
  g.arc(last.x, last.y, 6, 0, Math.PI * 2);
  g.stroke();
  g.fillText(`${name ? `${name}: ` : ''}first ${first.cell + 1}`, first.x + 9, first.y - 6);
  g.fillText(`last ${last.cell + 1}`, last.x + 9, last.y + 14);
}
