import { isShaping } from '$core/aim/handles.ts';
import { toPaper, type Place3 } from '$core/plot/paper.ts';
import type { PlotSide } from '$core/records/picture.ts';
import type { DrawnAim } from '$lib/state/plot/drawn-aims.ts';
import { handle, TEXT_FONT, type Inks } from './paint-paper.ts';
import { toScreen, type Canvas, type View } from './view.ts';

/** Aims: a mark at each of their places, a name where one is chosen or all are looked at. */
export function paintAims(
  g: CanvasRenderingContext2D,
  view: View,
  size: Canvas,
  side: PlotSide,
  aims: readonly DrawnAim[],
  named: boolean,
  inks: Inks,
): void {
  const on = (place: Place3) => toScreen(view, size, toPaper(side, place));
  const line = (places: readonly Place3[]): void => {
    g.beginPath();
    places.forEach((place, i) => {
      const p = on(place);
      if (i === 0) g.moveTo(p.x, p.y);
      else g.lineTo(p.x, p.y);
    });
    g.stroke();
  };
  for (const { aim, chosen, handles, line: outline, rays } of aims) {
    g.globalAlpha = chosen ? 1 : named ? 0.7 : 0.35;
    g.strokeStyle = chosen ? inks.select : aim.colour;
    g.lineWidth = chosen ? 1.5 : 1;
    g.setLineDash([3, 4]);
    line(outline);
    for (const { from, to, misses } of rays) {
      g.strokeStyle = misses ? inks.wrong : inks.select;
      g.globalAlpha = 0.45;
      g.setLineDash(misses ? [2, 5] : []);
      line([from, to]);
    }
    g.setLineDash([]);
    g.globalAlpha = chosen ? 1 : named ? 0.8 : 0.4;
    for (const mark of handles) {
      const p = on(mark.place);
      if (isShaping(mark)) {
        if (chosen) handle(g, p, inks);
        continue;
      }
      g.strokeStyle = chosen ? inks.select : aim.colour;
      g.lineWidth = 1.5;
      g.beginPath();
      g.moveTo(p.x - 5, p.y);
      g.lineTo(p.x, p.y - 5);
      g.lineTo(p.x + 5, p.y);
      g.lineTo(p.x, p.y + 5);
      g.closePath();
      g.stroke();
    }
  }
  g.globalAlpha = 1;
  g.font = TEXT_FONT;
  g.textAlign = 'left';
  // One name where several stand in one place; that of the chosen one before all.
  const taken: { x: number; y: number; width: number }[] = [];
  for (const { aim, chosen, handles } of [...aims].sort((a, b) => Number(b.chosen) - Number(a.chosen))) {
    const first = handles[0];
    if (!first || !(chosen || named)) continue;
    const at = on(first.place);
    const width = g.measureText(aim.name).width;
    const clear = taken.every((t) => Math.abs(t.y - at.y) > 14 || at.x > t.x + t.width || at.x + width < t.x);
    if (!clear) continue;
    taken.push({ x: at.x, y: at.y, width: width + 10 });
    g.fillStyle = chosen ? inks.select : inks.text;
    g.fillText(aim.name, at.x + 8, at.y + 4);
  }
}
