import type { UnitId } from '$core/ids.ts';
import type { Body } from '$core/plot/body.ts';
import type { Point } from '$core/plot/paper.ts';
import { formatAddress } from '$core/patch/address.ts';
import type { Frames } from '$core/patch/readout.ts';
import type { App } from '$lib/state/app.svelte.ts';
import type { PlotDesk } from '$lib/state/plot/plot-desk.svelte.ts';
import type { CellPainter } from './cells-plain.ts';
import { handlesOf } from './drag.ts';
import { paintAims } from './paint-aims.ts';
import { paintLight } from './paint-light.ts';
import { paintPaper, type Inks, type Paper } from './paint-paper.ts';
import { paintHandles, paintStates, paintTurnHandle, paintUnits, turnHandle, type Units } from './paint-units.ts';
import { paintWiring } from './paint-wiring.ts';
import { toScreen, type Canvas, type View } from './view.ts';

/** The canvases of a plot from the lowest up: each is drawn anew only when what is on it changes. */
export interface Canvases {
  /** Pictures, grid, areas, guides. */
  readonly paper: HTMLCanvasElement;
  /** Symbols, labels, selection of what stands still. */
  readonly bodies: HTMLCanvasElement;
  /** Dots of pixels and lenses of lamps, in the light that is sent. */
  readonly cells: HTMLCanvasElement;
  /** Light that spills: cones and glows. */
  readonly spill: HTMLCanvasElement;
  /** What moves, and what a gesture draws. */
  readonly top: HTMLCanvasElement;
}

/** What one paint is of. */
export interface Sight {
  readonly view: View;
  readonly size: Canvas;
  readonly ratio: number;
  readonly inks: Inks;
  readonly frames: Frames;
  /** Loop or box of a choice, screen points. */
  readonly marked: readonly Point[] | null;
  readonly pointer: Point | null;
}

/** The glow of dots is gathered on a canvas so many times smaller; blurred and drawn large again it is soft. */
const BLOOM = 8;
/** Cones and glows are drawn on one so many times smaller: soft edges cost little there. */
const SOFT = 3;
const GAIN = 3;

/** Paints the sheets of a plot from the desk and the frames. Holds no state but two small canvases. */
export class Layers {
  readonly #app: App;
  readonly #desk: PlotDesk;
  readonly #bloom = document.createElement('canvas');
  readonly #soft = document.createElement('canvas');
  /** Draws dots; another one after the person chose another way of drawing. */
  painter: CellPainter | null = null;

  constructor(app: App, desk: PlotDesk) {
    this.#app = app;
    this.#desk = desk;
  }

  resize(canvases: Canvases, size: Canvas, ratio: number): void {
    for (const canvas of Object.values(canvases) as HTMLCanvasElement[]) {
      canvas.width = Math.round(size.width * ratio);
      canvas.height = Math.round(size.height * ratio);
    }
    this.#bloom.width = Math.ceil(size.width / BLOOM);
    this.#bloom.height = Math.ceil(size.height / BLOOM);
    this.#soft.width = Math.ceil(size.width / SOFT);
    this.#soft.height = Math.ceil(size.height / SOFT);
  }

  paper({ paper }: Canvases, sight: Sight, what: Paper): void {
    paintPaper(clear(paper, sight), sight.view, sight.size, what, sight.inks);
  }

  /** `light`: new frames have come; `still`: something that stands was changed. What moves is drawn every time. */
  paint(canvases: Canvases, sight: Sight, due: { readonly light: boolean; readonly still: boolean }): void {
    const { view, size, ratio, inks, frames } = sight;
    const { lifted, still, moving, bodies, trialBodies } = this.#desk;
    const units = this.#units(frames);
    if (due.light || lifted.size > 0) this.painter?.paint([...still, ...moving], frames, view, size, ratio);
    if (due.light) this.#spill(canvases, sight);
    if (due.still) {
      const rest = lifted.size === 0 ? bodies : bodies.filter((b) => !lifted.has(b.unit.id));
      paintUnits(clear(canvases.bodies, sight), view, size, rest, units, inks);
    }
    const top = clear(canvases.top, sight);
    const { drawnAims, side, tab } = this.#desk;
    paintAims(top, view, size, side, drawnAims, tab === 'aims', inks);
    paintUnits(top, view, size, trialBodies, units, inks);
    if (this.#desk.set.wiring || this.#desk.tab === 'prop')
      for (const body of this.#desk.chosen) paintWiring(top, view, size, this.#desk.side, body, inks);
    this.#tools(top, sight);
  }

  #units(frames: Frames): Units {
    const { rig, selection, hand } = this.#app;
    return {
      readers: rig.readers,
      frames,
      selected: (id) => selection.has(id as never),
      byHand: (id) => hand.values[id as never] !== undefined,
      label: (body, level) => this.#label(body, level),
      locked: (body) => this.#desk.isLocked(body.unit),
      fault: (id) => this.#desk.faults.get(id as UnitId)?.severe ?? null,
    };
  }

  #label({ unit }: Body, level: () => number): string {
    const { labels } = this.#desk.set;
    const place = labels.includes('address') ? this.#app.rig.place(unit.id) : null;
    return [
      labels.includes('number') ? String(unit.number) : '',
      labels.includes('name') ? unit.name : '',
      place ? formatAddress(place.universe, place.address) : '',
      labels.includes('level') ? `${Math.round(level() * 100)} %` : '',
    ]
      .filter(Boolean)
      .join('  ');
  }

  /** The dots once more, and glows and cones of everything else, gathered small and drawn large; marks over them. */
  #spill({ cells, spill }: Canvases, sight: Sight): void {
    const { view, size, frames } = sight;
    const { lifted, bodies, side, set } = this.#desk;
    const { readers } = this.#app.rig;
    const small = this.#bloom.getContext('2d')!;
    small.setTransform(1, 0, 0, 1, 0, 0);
    small.clearRect(0, 0, this.#bloom.width, this.#bloom.height);
    // Every dot counts in the small picture, not only those that a coarse scaling happens to meet.
    small.imageSmoothingQuality = 'medium';
    small.globalAlpha = 0.8;
    small.drawImage(cells, 0, 0, this.#bloom.width, this.#bloom.height);
    small.globalAlpha = 1;
    const soft = this.#soft.getContext('2d')!;
    soft.setTransform(1, 0, 0, 1, 0, 0);
    soft.clearRect(0, 0, this.#soft.width, this.#soft.height);
    const [width, height] = [(this.#bloom.width * BLOOM) / SOFT, (this.#bloom.height * BLOOM) / SOFT];
    soft.imageSmoothingQuality = 'high';
    soft.filter = `blur(${BLOOM / SOFT}px)`;
    // Single dots fill little of what they are gathered in: their glow is raised.
    soft.globalCompositeOperation = 'lighter';
    for (let i = 0; i < GAIN; i++) soft.drawImage(this.#bloom, 0, 0, width, height);
    soft.globalCompositeOperation = 'source-over';
    soft.filter = 'none';
    soft.setTransform(1 / SOFT, 0, 0, 1 / SOFT, 0, 0);
    const lit = lifted.size === 0 ? bodies : bodies.map((b) => this.#desk.trialBody(b.unit.id) ?? b);
    paintLight(soft, view, size, side, lit, readers, frames, set.beams);
    const g = clear(spill, sight);
    g.imageSmoothingQuality = 'high';
    g.drawImage(this.#soft, 0, 0, this.#soft.width * SOFT, this.#soft.height * SOFT);
    paintStates(g, view, size, lit, readers, frames);
  }

  /** Handles, lines that were caught, and what a gesture draws. */
  #tools(g: CanvasRenderingContext2D, { view, size, inks, marked, pointer }: Sight): void {
    const { tool, tab, chosen, caught, corners } = this.#desk;
    const turn = tool === 'select' ? turnHandle(view, size, chosen) : null;
    if (turn) paintTurnHandle(g, turn, inks);
    if (tab === 'prop' && chosen.length === 1) {
      const handles = handlesOf({ desk: this.#desk, view, size }, chosen[0]!);
      paintHandles(
        g,
        handles.map((h) => h.at),
        inks,
      );
    }
    g.lineWidth = 1;
    g.strokeStyle = inks.guide;
    const at = toScreen(view, size, { x: caught.x ?? 0, y: caught.y ?? 0 });
    g.beginPath();
    if (caught.x !== null) {
      g.moveTo(at.x, 0);
      g.lineTo(at.x, size.height);
    }
    if (caught.y !== null) {
      g.moveTo(0, at.y);
      g.lineTo(size.width, at.y);
    }
    g.stroke();
    g.strokeStyle = inks.select;
    if (marked && tool === 'place') dotted(g, marked, inks);
    else if (marked) loop(g, marked);
    const drawn = corners.map((c) => toScreen(view, size, c));
    if (drawn.length > 0) dotted(g, pointer && tool !== 'scale' ? [...drawn, pointer] : drawn, inks);
  }
}

function clear(canvas: HTMLCanvasElement, { ratio, size }: Sight): CanvasRenderingContext2D {
  const g = canvas.getContext('2d')!;
  g.setTransform(ratio, 0, 0, ratio, 0, 0);
  g.clearRect(0, 0, size.width, size.height);
  return g;
}

function trace(g: CanvasRenderingContext2D, points: readonly Point[]): void {
  g.beginPath();
  points.forEach((p, i) => (i === 0 ? g.moveTo(p.x, p.y) : g.lineTo(p.x, p.y)));
}

function loop(g: CanvasRenderingContext2D, points: readonly Point[]): void {
  trace(g, points);
  g.closePath();
  g.fillStyle = 'rgba(255,179,71,.1)';
  g.fill();
  g.stroke();
}

function dotted(g: CanvasRenderingContext2D, points: readonly Point[], inks: Inks): void {
  trace(g, points);
  g.stroke();
  g.fillStyle = inks.select;
  for (const p of points) g.fillRect(p.x - 3, p.y - 3, 6, 6);
}
