/** Draws 512 slots as a grid of numbers or as bars. Pure drawing: what it needs comes in. */
export interface MonitorPicture {
  readonly width: number;
  readonly columns: number;
  readonly cellHeight: number;
  readonly bars: boolean;
  readonly slots: Uint8Array;
  /** What the other end says, beside ours; null for nothing. */
  readonly beside: Uint8Array | null;
  /** Lowest and highest since the start of the watch. */
  readonly low: Uint8Array;
  readonly high: Uint8Array;
  /** A number for each owner, -1 for nobody: neighbours of the same owner stand together. */
  readonly owner: Int16Array;
  readonly marked: ReadonlySet<number>;
  /** The slot (0-511) that is looked at. */
  readonly at: number;
  readonly text: (value: number) => string;
}

interface Inks {
  readonly panel: string;
  readonly raised: string;
  readonly hover: string;
  readonly text: string;
  readonly quiet: string;
  readonly amber: string;
  readonly line: string;
  readonly wrong: string;
}

/** The colours of the theme, read once a theme. */
export function readInks(element: Element): Inks {
  const style = getComputedStyle(element);
  const ink = (name: string): string => style.getPropertyValue(name).trim();
  return {
    panel: ink('--panel'),
    raised: ink('--raised'),
    hover: ink('--hover'),
    text: ink('--text'),
    quiet: ink('--quiet'),
    amber: ink('--amber'),
    line: ink('--line-strong'),
    wrong: ink('--wrong'),
  };
}

export function paintMonitor(g: CanvasRenderingContext2D, p: MonitorPicture, inks: Inks): void {
  const w = p.width / p.columns;
  const rows = 512 / p.columns;
  g.clearRect(0, 0, p.width, rows * p.cellHeight);
  g.font = '10.5px "Atkinson Hyperlegible Mono Variable", monospace';
  g.textAlign = 'right';
  for (let i = 0; i < 512; i++) {
    const x = (i % p.columns) * w;
    const y = Math.floor(i / p.columns) * p.cellHeight;
    const owner = p.owner[i]!;
    g.fillStyle = owner < 0 ? inks.panel : owner % 2 ? inks.raised : inks.hover;
    g.fillRect(x, y, w - 1, p.cellHeight - 1);
    if (p.bars) bar(g, p, inks, i, x, y, w);
    else cell(g, p, inks, i, x, y, w);
    if (p.beside && p.beside[i] !== p.slots[i]) {
      // Another value at the other end: a turned-down corner, and in bars the height it has there.
      g.fillStyle = inks.wrong;
      g.beginPath();
      g.moveTo(x + w - 8, y);
      g.lineTo(x + w - 1, y);
      g.lineTo(x + w - 1, y + 7);
      g.fill();
      if (p.bars) g.fillRect(x + 1, y + p.cellHeight - 2 - (p.beside[i]! / 255) * (p.cellHeight - 2), w - 3, 2);
    }
  }
  edges(g, p, inks, w);
}

function cell(
  g: CanvasRenderingContext2D,
  p: MonitorPicture,
  inks: Inks,
  i: number,
  x: number,
  y: number,
  w: number,
): void {
  const v = p.slots[i]!;
  if (v > 0) {
    g.fillStyle = inks.amber;
    g.globalAlpha = 0.16 + (v / 255) * 0.34;
    g.fillRect(x, y, w - 1, p.cellHeight - 1);
    g.globalAlpha = 1;
  }
  if (p.owner[i]! < 0 && v === 0) return;
  g.fillStyle = v > 0 ? inks.text : inks.quiet;
  g.fillText(p.text(v), x + w - 3.5, y + p.cellHeight - 6.5);
}

function bar(
  g: CanvasRenderingContext2D,
  p: MonitorPicture,
  inks: Inks,
  i: number,
  x: number,
  y: number,
  w: number,
): void {
  const full = p.cellHeight - 2;
  const height = (v: number): number => (v / 255) * full;
  g.fillStyle = inks.amber;
  g.fillRect(x + 1, y + 1 + full - height(p.slots[i]!), w - 3, height(p.slots[i]!));
  const [low, high] = [p.low[i]!, p.high[i]!];
  if (high > low) {
    g.fillStyle = inks.text;
    g.fillRect(x + 1, y + 1 + full - height(high), w - 3, 1);
    g.fillStyle = inks.quiet;
    g.fillRect(x + 1, y + full - height(low), w - 3, 1);
  }
}

/** Lines between owners, frames round what is selected, and round the slot that is looked at. */
function edges(g: CanvasRenderingContext2D, p: MonitorPicture, inks: Inks, w: number): void {
  const place = (i: number): [number, number] => [(i % p.columns) * w, Math.floor(i / p.columns) * p.cellHeight];
  g.strokeStyle = inks.line;
  for (let i = 1; i < 512; i++) {
    if (p.owner[i] === p.owner[i - 1]) continue;
    const [x, y] = place(i);
    g.beginPath();
    g.moveTo(x - 0.5, y);
    g.lineTo(x - 0.5, y + p.cellHeight - 1);
    g.stroke();
  }
  g.fillStyle = inks.amber;
  for (const i of p.marked) {
    const [x, y] = place(i);
    g.fillRect(x, y + p.cellHeight - 3, w - 1, 2);
  }
  g.strokeStyle = inks.amber;
  g.lineWidth = 2;
  const [x, y] = place(p.at);
  g.strokeRect(x, y, w - 1, p.cellHeight - 1);
  g.lineWidth = 1;
}
