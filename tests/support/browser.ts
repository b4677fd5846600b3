import { mkdtempSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { chromium, type BrowserContext, type Page } from 'playwright-core';
import { App } from './app.ts';

const FLAGS = [
  '--headless',
  '--no-sandbox',
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
];

/** The program with people in front of it: each `open` is a browser of its own with an empty profile. */
export class Stage {
  readonly app: App;
  readonly #contexts: { context: BrowserContext; folder: string }[] = [];
  /** What went wrong inside the pages; a test looks that it is empty. */
  readonly errors: string[] = [];

  constructor(app: App) {
    this.app = app;
  }

  static async start(options: Parameters<typeof App.start>[0] = {}): Promise<Stage> {
    return new Stage(await App.start(options));
  }

  async open(
    where: string,
    options: {
      width?: number;
      height?: number;
      touch?: boolean;
      light?: boolean;
      firstSight?: boolean;
      /** Runs in the page before anything of it does. */
      init?: () => void;
      /** Further flags of the browser. */
      flags?: readonly string[];
    } = {},
  ): Promise<Page> {
    const folder = mkdtempSync(path.join(os.tmpdir(), 'amber-browser-'));
    const context = await chromium.launchPersistentContext(folder, {
      executablePath: '/usr/bin/chromium',
      args: [...FLAGS, ...(options.flags ?? [])],
      viewport: { width: options.width ?? 1280, height: options.height ?? 800 },
      hasTouch: options.touch ?? false,
      acceptDownloads: true,
    });
    this.#contexts.push({ context, folder });
    const page = context.pages()[0] ?? (await context.newPage());
    page.setDefaultTimeout(15_000);
    page.on('pageerror', (error) => this.errors.push(`${page.url()}: ${error.message}`));
    page.on('console', (message) => {
      if (message.type() === 'error') this.errors.push(`${page.url()}: ${message.text()}`);
    });
    if (!options.firstSight) await page.addInitScript(() => localStorage.setItem('amber-met', 'yes'));
    if (options.light) await page.addInitScript(() => localStorage.setItem('amber-theme', 'light'));
    if (options.init) await page.addInitScript(options.init);
    await page.goto(this.app.url + where);
    return page;
  }

  async end(): Promise<void> {
    for (const { context, folder } of this.#contexts) {
      await context.close();
      rmSync(folder, { recursive: true, force: true });
    }
    await this.app.end();
  }
}

/** Waits until the page has drawn twice: what was scrolled or changed is in it then. */
export const drawn = (page: Page): Promise<void> =>
  page.evaluate(() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(() => done()))));

/** Pixels of the page about a point, `side` by `side`, each red, green, blue, alpha 0-255. */
export async function pixelsAt(page: Page, at: { x: number; y: number }, side = 8): Promise<number[][]> {
  const clip = { x: at.x - side / 2, y: at.y - side / 2, width: side, height: side };
  const shot = (await page.screenshot({ clip })).toString('base64');
  const data = await page.evaluate(
    async ([base64, size]) => {
      const image = new Image();
      image.src = `data:image/png;base64,${base64}`;
      await image.decode();
      const g = new OffscreenCanvas(size, size).getContext('2d')!;
      g.drawImage(image, 0, 0);
      return [...g.getImageData(0, 0, size, size).data];
    },
    [shot, side] as const,
  );
  return Array.from({ length: data.length / 4 }, (_, i) => data.slice(i * 4, i * 4 + 4));
}
