import { dataAddress } from '../pictures/data-address.ts';
import file from '@fontsource-variable/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-wght-normal.woff2?url';

let known: Promise<string> | undefined;

/** Our typeface as a data address: a page of SVG stands alone, and cannot ask for it. */
export const plotFont = (): Promise<string> => (known ??= load());

async function load(): Promise<string> {
  const blob = await (await fetch(file)).blob();
  return (await dataAddress(blob)).replace(/^data:[^;,]*/, 'data:font/woff2');
}
