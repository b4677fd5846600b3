import { readFileSync, writeFileSync } from 'node:fs';
import { readWeights } from '../../src/core/music/network.ts';
import { floatsOf } from '../../src/core/music/half.ts';

/** Puts trained weights into the product: `node --import tsx tools/ear/ship.ts SONG.bin LIVE.bin`. */
const [song = '', live = ''] = process.argv.slice(2);
const texts = [song, live].map((file) => {
  const text = readFileSync(file).toString('base64');
  readWeights(floatsOf(text));
  return text;
});
writeFileSync(
  new URL('../../src/core/music/weights.ts', import.meta.url),
  `// Written by tools/ear/ship.ts: what training found, 16-bit floats in base64.
export const SONG_WEIGHTS =
  '${texts[0]!}';
export const LIVE_WEIGHTS =
  '${texts[1]!}';
`,
);
