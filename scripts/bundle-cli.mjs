// Bundles the headless command with its packages, so that a call loads one file and what that command needs.
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { build } from 'esbuild';
import { removeEarlierPieces } from './bundle-pieces.mjs';

const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..');
const { metafile } = await build({
  absWorkingDir: root,
  entryPoints: { kite: 'src/cli/main.ts' },
  outdir: 'build/cli',
  bundle: true,
  platform: 'node',
  target: 'node20',
  format: 'esm',
  // What only some commands need is loaded by those.
  splitting: true,
  // Has parts that are not JavaScript, or that look for their own files.
  external: ['serialport', 'pino'],
  banner: {
    js: "import { createRequire as amberRequire } from 'node:module'; const require = amberRequire(import.meta.url);",
  },
  sourcemap: 'linked',
  metafile: true,
  logLevel: 'warning',
});
removeEarlierPieces(root, 'build/cli', metafile);
