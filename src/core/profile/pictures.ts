/**
 * Our own small pictures for wheel slots: paths in a 24 x 24 box, filled by the even-odd rule. Light passes where a
 * path is; the disc around it is added where it is drawn.
 */
const turned = (count: number, part: (angle: number) => string): string =>
  Array.from({ length: count }, (_, i) => part((i * 2 * Math.PI) / count)).join('');
const n = (value: number): string => String(Math.round(value * 100) / 100);
const at = (angle: number, radius: number): string =>
  `${n(12 + radius * Math.cos(angle))} ${n(12 + radius * Math.sin(angle))}`;
const dot = (x: number, y: number, r: number): string =>
  `M${n(x - r)} ${n(y)}a${n(r)} ${n(r)} 0 1 0 ${n(2 * r)} 0a${n(r)} ${n(r)} 0 1 0 ${n(-2 * r)} 0Z`;
const ringDots = (count: number, radius: number, r: number): string =>
  turned(count, (a) => dot(12 + radius * Math.cos(a), 12 + radius * Math.sin(a), r));
const wedge = (angle: number, half: number, inner: number, outer: number): string =>
  `M${at(angle - half, inner)}L${at(angle - half, outer)}L${at(angle + half, outer)}L${at(angle + half, inner)}Z`;
const rows = (count: number, row: (y: number, i: number) => string): string =>
  Array.from({ length: count }, (_, i) => row(4 + (i * 16) / (count - 1), i)).join('');

export const PICTURES: Readonly<Record<string, string>> = {
  open: dot(12, 12, 9),
  reeds: [5, 8, 11, 14, 17].map((x, i) => `M${x} ${4 + (i % 2) * 2}h1.4v${16 - (i % 2) * 3}h-1.4Z`).join(''),
  ripples: [3, 6, 9].map((r) => dot(12, 12, r)).join('') + dot(12, 12, 1.4),
  kites: 'M12 3l5 7-5 11-5-11Z',
  cobbles: [6, 11, 16].flatMap((y, j) => [6, 11, 16].map((x) => dot(x + (j % 2) * 2 - 1, y, 1.9))).join(''),
  sparks: turned(8, (a) => wedge(a, 0.09, 2.5, 9)),
  lattice:
    [5, 9, 13, 17].map((x) => `M${x} 4h1.3v16h-1.3Z`).join('') +
    [5, 9, 13, 17].map((y) => `M4 ${y}v1.3h16v-1.3Z`).join(''),
  swallows: rows(3, (y, i) => `M${5 + i * 3} ${n(y + 2)}l4-3 4 3-4-1Z`),
  dots: ringDots(6, 6, 1.7) + dot(12, 12, 1.7),
  spiral: turned(
    6,
    (a) => `M${at(a, 2)}Q${at(a + 0.9, 6)} ${at(a + 1.1, 9)}L${at(a + 1.4, 9)}Q${at(a + 1.3, 6)} ${at(a + 0.5, 2)}Z`,
  ),
  leaf: 'M12 3c5 4 6 11 0 18c-6-7-5-14 0-18ZM11.6 7h.8v11h-.8Z',
  bars: [6, 10, 14, 18].map((x) => `M${x - 1} 4h2v16h-2Z`).join(''),
  star: `${turned(5, (a) => `${a === 0 ? 'M' : 'L'}${at(a - Math.PI / 2, 9)}L${at(a - Math.PI / 2 + Math.PI / 5, 3.8)}`)}Z`,
  shards: turned(5, (a) => `M${at(a, 3)}L${at(a + 0.35, 9)}L${at(a - 0.2, 8)}Z`),
  petals: turned(6, (a) => `M12 12Q${at(a - 0.4, 6)} ${at(a, 9)}Q${at(a + 0.4, 6)} 12 12Z`),
  waves: rows(4, (y) => `M4 ${n(y)}q4-3 8 0t8 0v1.6q-4 3-8 0t-8 0Z`),
  rain: [5, 9, 13, 17].map((x, i) => `M${x + 1.6} ${4 + i}l1 0-2 5-1 0ZM${x} ${12 + (i % 2)}l1 0-2 5-1 0Z`).join(''),
  bricks: rows(4, (y, i) => [4, 10, 16].map((x) => `M${x + (i % 2) * 1.5} ${n(y - 1.4)}h4.6v2.8h-4.6Z`).join('')),
  moon: 'M15 3a9 9 0 1 0 5 13a8 8 0 0 1-5-13Z',
  web: turned(8, (a) => wedge(a, 0.03, 1, 9)) + [4, 7].map((r) => dot(12, 12, r) + dot(12, 12, r - 0.7)).join(''),
  window: 'M5 5h6v6H5ZM13 5h6v6h-6ZM5 13h6v6H5ZM13 13h6v6h-6Z',
  fan: turned(4, (a) => wedge(a, 0.3, 2, 9)),
  triangle: 'M12 4l8 14H4Z',
  crescents: turned(3, (a) => `M${at(a - 0.6, 8)}Q${at(a, 11)} ${at(a + 0.6, 8)}Q${at(a, 8)} ${at(a - 0.6, 8)}Z`),
};

export const PICTURE_NAMES: readonly string[] = Object.keys(PICTURES);

/** True for a built-in picture, or one of the profile's own (`own:KEY`). */
export const hasPicture = (picture: string, own: Readonly<Record<string, string>>): boolean =>
  picture.startsWith('own:') ? Object.hasOwn(own, picture.slice(4)) : Object.hasOwn(PICTURES, picture);
