import { toPaper, type Place3, type Point } from '../plot/paper.ts';
import { inRoom } from '../plot/rotation.ts';
import type { PlotSide } from '../records/picture.ts';
import type { ThingRecord, ThingShape } from '../records/thing.ts';

const ROUND: ReadonlySet<ThingShape> = new Set(['cylinder', 'marker', 'person']);
/** Corners of a round outline. */
const CORNERS = 24;

/** The outermost points of a thing in the room: of what is square its eight corners, of what is round two rims. */
function rim({ shape, size: { widthM, depthM, heightM } }: ThingRecord): Place3[] {
  const [w, d] = [widthM / 2, depthM / 2];
  const flat = ROUND.has(shape)
    ? Array.from({ length: CORNERS }, (_, i) => {
        const a = (i / CORNERS) * 2 * Math.PI;
        return { x: Math.cos(a) * w, y: Math.sin(a) * d };
      })
    : [
        { x: -w, y: -d },
        { x: w, y: -d },
        { x: w, y: d },
        { x: -w, y: d },
      ];
  return [0, heightM].flatMap((z) => flat.map((p) => ({ ...p, z })));
}

/** A thing's outline on a paper, metres, counter-clockwise. */
export function outlineOf(side: PlotSide, thing: ThingRecord): Point[] {
  return hull(rim(thing).map((own) => toPaper(side, inRoom(thing, own))));
}

/** The smallest outline around points, counter-clockwise: lower half, then upper half. */
export function hull(points: readonly Point[]): Point[] {
  const sorted = [...points].sort((a, b) => a.x - b.x || a.y - b.y);
  const half = (list: readonly Point[]): Point[] => {
    const found: Point[] = [];
    for (const p of list) {
      while (found.length > 1 && turns(found.at(-2)!, found.at(-1)!, p) <= 1e-12) found.pop();
      found.push(p);
    }
    return found.slice(0, -1);
  };
  return sorted.length < 3 ? sorted : [...half(sorted), ...half([...sorted].reverse())];
}

const turns = (a: Point, b: Point, c: Point): number => (b.x - a.x) * (c.y - a.y) - (b.y - a.y) * (c.x - a.x);
