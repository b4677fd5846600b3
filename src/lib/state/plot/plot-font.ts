import file from '@fontsource-variable/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-wght-normal.woff2?url';

let known: Promise<string> | undefined;

/** Our typeface as a data address: a page of SVG stands alone, and cannot ask for it. */
export const plotFont = (): Promise<string> => (known ??= load());

async function load(): Promise<string> {
  const blob = await (await fetch(file)).blob();
  return new Promise((resolve, reject) => {
    const reader = new FileReader();
    reader.onload = () => resolve((reader.result as string).replace(/^data:[^;,]*/, 'data:font/woff2'));
    reader.onerror = () => reject(reader.error ?? new Error('the typeface could not be read'));
    reader.readAsDataURL(blob);
  });
}
