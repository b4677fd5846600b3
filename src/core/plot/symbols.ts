import type { FixtureKind } from '../records/profile.ts';

const r = (v: number): number => Math.round(v * 1000) / 1000;
const rect = (x: number, y: number, w: number, h: number): string => `M${r(x)} ${r(y)}h${r(w)}v${r(h)}h${r(-w)}Z`;
const line = (points: readonly (readonly [number, number])[], closed = false): string =>
  points.map(([x, y], i) => `${i === 0 ? 'M' : 'L'}${r(x)} ${r(y)}`).join('') + (closed ? 'Z' : '');
const ellipse = (x: number, y: number, rx: number, ry: number): string =>
  `M${r(x + rx)} ${r(y)}A${r(rx)} ${r(ry)} 0 1 1 ${r(x - rx)} ${r(y)}A${r(rx)} ${r(ry)} 0 1 1 ${r(x + rx)} ${r(y)}Z`;

/**
 * The symbol of a kind of fixture as path data (SVG), `w` wide and `h` high about 0 0; the front, where the lens is, is
 * up (y negative). Drawn filled and stroked, on the screen and on paper.
 */
export function symbolPath(kind: FixtureKind, w: number, h: number): string {
  const round = Math.min(w, h) / 2;
  switch (kind) {
    case 'par':
    case 'uv':
      return line(
        [
          [-w * 0.32, h / 2],
          [w * 0.32, h / 2],
          [w / 2, -h / 2],
          [-w / 2, -h / 2],
        ],
        true,
      );
    case 'head':
      return rect(-w / 2, h * 0.22, w, h * 0.28) + ellipse(0, -h * 0.12, w * 0.36, h * 0.4);
    case 'scanner':
      return (
        rect(-w * 0.4, -h * 0.2, w * 0.8, h * 0.7) +
        line([
          [-w * 0.4, -h / 2],
          [w * 0.4, -h * 0.28],
        ])
      );
    case 'derby':
      return Array.from({ length: 6 }, (_, i) => {
        const [a, b] = [(i / 6) * 2 * Math.PI, ((i + 0.5) / 6) * 2 * Math.PI];
        const [x1, y1] = [Math.cos(a) * round, Math.sin(a) * round];
        const [x2, y2] = [Math.cos(b) * round, Math.sin(b) * round];
        return `M0 0L${r(x1)} ${r(y1)}A${r(round)} ${r(round)} 0 0 1 ${r(x2)} ${r(y2)}Z`;
      }).join('');
    case 'strobe':
    case 'blinder':
      return (
        rect(-w / 2, -h / 2, w, h) +
        line([
          [-w * 0.38, 0],
          [-w * 0.13, -h * 0.3],
          [w * 0.1, h * 0.3],
          [w * 0.38, 0],
        ])
      );
    case 'hazer':
      return (
        rect(-w / 2, -h * 0.1, w, h * 0.6) +
        `M${r(-w * 0.3)} ${r(-h * 0.2)}C${r(-w * 0.1)} ${r(-h * 0.45)} ${r(w * 0.1)} 0 ${r(w * 0.3)} ${r(-h * 0.3)}`
      );
    case 'motor':
    case 'fan':
      return ellipse(0, 0, round, round) + ellipse(0, 0, round * 0.4, round * 0.4);
    case 'dimmer':
    case 'lamp':
      return ellipse(0, 0, round, round);
    default:
      return rect(-w / 2, -h / 2, w, h);
  }
}
