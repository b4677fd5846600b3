import { plotSvg } from '$core/format/plot-svg.ts';
import type { App } from '../app.svelte.ts';
import type { PlotDesk } from './plot-desk.svelte.ts';
import { pictureAddresses } from '../pictures/blobs.ts';
import { plotFont } from './plot-font.ts';
import { fileName, saveFile } from '../save-file.ts';

/** Pixels a millimetre of the page: 200 dpi. */
const PX_A_MM = 200 / 25.4;

/** Gives the plot to this computer as a page of SVG, or the same page as PNG. */
export async function exportPlot(app: App, desk: PlotDesk, as: 'svg' | 'png'): Promise<void> {
  const svg = plotSvg(app.live.document, {
    side: desk.side,
    sheet: 'A3',
    scale: null,
    labels: desk.set.labels.filter((l) => l !== 'level'),
    pictures: await pictureAddresses(app.live.document),
    areas: desk.set.areas,
    date: new Date().toLocaleDateString(),
    font: await plotFont(),
  });
  const name = `${fileName(app.rig.show?.name ?? 'plot')} ${desk.side}.${as}`;
  if (as === 'svg') return saveFile(new TextEncoder().encode(svg), name, 'image/svg+xml');
  const address = URL.createObjectURL(new Blob([svg], { type: 'image/svg+xml' }));
  try {
    const image = new Image();
    image.src = address;
    await image.decode();
    const canvas = document.createElement('canvas');
    canvas.width = Math.round(420 * PX_A_MM);
    canvas.height = Math.round(297 * PX_A_MM);
    canvas.getContext('2d')!.drawImage(image, 0, 0, canvas.width, canvas.height);
    const blob = await new Promise<Blob | null>((resolve) => canvas.toBlob(resolve, 'image/png'));
    if (blob) saveFile(new Uint8Array(await blob.arrayBuffer()), name, 'image/png');
    else app.live.tell('error', 'The browser could not make the picture', 'Export SVG instead.');
  } finally {
    URL.revokeObjectURL(address);
  }
}
