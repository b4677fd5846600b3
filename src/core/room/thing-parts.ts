import type { Place3 } from '../plot/paper.ts';
import type { ThingRecord, ThingShape } from '../records/thing.ts';

/** A plain body that a thing is put together from: in the thing's own frame, metres; `shade` 0-1 of the thing's colour. */
export interface ThingPart {
  readonly form: 'box' | 'cylinder';
  /** Its middle. */
  readonly at: Place3;
  /** Across, deep and high; of a cylinder its two diameters and its height. */
  readonly size: Place3;
  readonly shade: number;
}
type Size = ThingRecord['size'];

const box = (at: [number, number, number], size: [number, number, number], shade = 1): ThingPart =>
  part('box', at, size, shade);
const cylinder = (at: [number, number, number], size: [number, number, number], shade = 1): ThingPart =>
  part('cylinder', at, size, shade);
const part = (
  form: ThingPart['form'],
  [x, y, z]: [number, number, number],
  [w, d, h]: [number, number, number],
  shade: number,
): ThingPart => ({ form, at: { x, y, z }, size: { x: w, y: d, z: h }, shade });

/** Braces of a truss stand so far apart, and there are no more than so many. */
const BRACE_M = 0.6;
const MOST_BRACES = 60;
const TUBE_M = 0.05;

const PARTS: { readonly [S in ThingShape]: (size: Size) => ThingPart[] } = {
  box: ({ widthM: w, depthM: d, heightM: h }) => [box([0, 0, h / 2], [w, d, h])],
  cylinder: ({ widthM: w, depthM: d, heightM: h }) => [cylinder([0, 0, h / 2], [w, d, h])],
  platform({ widthM: w, depthM: d, heightM: h }) {
    const deck = Math.min(h, 0.1);
    const legs = h - deck;
    const corner = (x: number, y: number): ThingPart =>
      box([(x * (w - 0.08)) / 2, (y * (d - 0.08)) / 2, legs / 2], [Math.min(0.06, w), Math.min(0.06, d), legs], 0.6);
    return [
      box([0, 0, h - deck / 2], [w, d, deck]),
      ...(legs > 0.05 ? [corner(-1, -1), corner(1, -1), corner(1, 1), corner(-1, 1)] : []),
    ];
  },
  truss({ widthM: w, depthM: d, heightM: h }) {
    const tube = Math.min(TUBE_M, d / 3, h / 3);
    const [y, low, high] = [(d - tube) / 2, tube / 2, h - tube / 2];
    const chords = [
      [-y, low],
      [y, low],
      [-y, high],
      [y, high],
    ].map(([at, z]) => box([0, at!, z!], [w, tube, tube]));
    const count = Math.min(MOST_BRACES, Math.max(2, Math.round(w / BRACE_M) + 1));
    const braces = Array.from({ length: count }, (_, i) => (i / (count - 1) - 0.5) * (w - tube)).flatMap((x) => [
      box([x, -y, h / 2], [tube * 0.6, tube * 0.6, h], 0.75),
      box([x, y, h / 2], [tube * 0.6, tube * 0.6, h], 0.75),
      box([x, 0, high], [tube * 0.6, d, tube * 0.6], 0.75),
      box([x, 0, low], [tube * 0.6, d, tube * 0.6], 0.75),
    ]);
    return [...chords, ...braces];
  },
  stand: ({ widthM: w, depthM: d, heightM: h }) => [
    cylinder([0, 0, h / 2], [0.05, 0.05, h]),
    box([0, 0, h - 0.025], [w, 0.05, 0.05]),
    box([0, 0, 0.03], [w * 0.6, 0.05, 0.05], 0.7),
    box([0, 0, 0.03], [0.05, d, 0.05], 0.7),
  ],
  booth: ({ widthM: w, depthM: d, heightM: h }) => [
    box([0, -d / 2 + 0.02, h / 2], [w, 0.04, h]),
    box([-w / 2 + 0.02, 0, h / 2], [0.04, d, h], 0.8),
    box([w / 2 - 0.02, 0, h / 2], [0.04, d, h], 0.8),
    box([0, 0, Math.max(0.03, h - 0.15)], [w, d, 0.05], 0.6),
  ],
  loudspeaker: ({ widthM: w, depthM: d, heightM: h }) => [
    box([0, 0, h / 2], [w, d, h]),
    // The mouth is to its front, which is up-stage when it is not turned.
    box([0, d / 2, h * 0.35], [w * 0.7, 0.02, h * 0.45], 0.35),
    box([0, d / 2, h * 0.78], [w * 0.5, 0.02, h * 0.2], 0.35),
  ],
  screen: ({ widthM: w, depthM: d, heightM: h }) => [
    box([0, 0, h / 2], [w, Math.min(d, 0.1), h], 0.5),
    box([0, Math.min(d, 0.1) / 2, h / 2], [w * 0.97, 0.01, h * 0.95], 1.6),
  ],
  wall: ({ widthM: w, depthM: d, heightM: h }) => [box([0, 0, h / 2], [w, d, h])],
  marker: ({ widthM: w, depthM: d }) => [cylinder([0, 0, 0.006], [w, d, 0.012])],
  model: ({ widthM: w, depthM: d, heightM: h }) => [box([0, 0, h / 2], [w, d, h])],
  person: ({ widthM: w, depthM: d, heightM: h }) => [
    cylinder([0, 0, h * 0.24], [w * 0.6, d * 0.75, h * 0.48], 0.7),
    cylinder([0, 0, h * 0.66], [w, d, h * 0.36]),
    cylinder([0, 0, h * 0.93], [h * 0.1, h * 0.12, h * 0.13], 1.25),
  ],
};

/** The bodies of a thing. At most a few hundred, whatever its size. */
export const partsOfThing = ({ shape, size }: Pick<ThingRecord, 'shape' | 'size'>): ThingPart[] => PARTS[shape](size);

/** How large each is when it is put into the room. */
export const USUAL_SIZE: Readonly<Record<ThingShape, Size>> = {
  box: { widthM: 1, depthM: 1, heightM: 1 },
  cylinder: { widthM: 0.6, depthM: 0.6, heightM: 1.1 },
  platform: { widthM: 2, depthM: 1, heightM: 0.4 },
  truss: { widthM: 4, depthM: 0.3, heightM: 0.3 },
  stand: { widthM: 1.2, depthM: 1, heightM: 2.8 },
  booth: { widthM: 1.8, depthM: 0.8, heightM: 1.1 },
  loudspeaker: { widthM: 0.45, depthM: 0.5, heightM: 0.8 },
  screen: { widthM: 3, depthM: 0.08, heightM: 1.7 },
  wall: { widthM: 4, depthM: 0.15, heightM: 2.6 },
  marker: { widthM: 0.3, depthM: 0.3, heightM: 0.02 },
  model: { widthM: 1, depthM: 1, heightM: 1 },
  person: { widthM: 0.5, depthM: 0.3, heightM: 1.75 },
};
/** How far off the floor it is put, metres: what hangs is put where units hang. */
export const USUAL_HEIGHT_M: Partial<Record<ThingShape, number>> = { truss: 3 };
/** What units can hang on. */
export const HANGS: ReadonlySet<ThingShape> = new Set(['truss', 'stand', 'wall', 'booth', 'platform', 'box', 'model']);
