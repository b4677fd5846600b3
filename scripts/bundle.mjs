// Bundles the processes that are not pages: engine, frame thread, stand-ins, web server, database preparation.
import { cpSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { build } from 'esbuild';
import { removeEarlierPieces } from './bundle-pieces.mjs';

const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..');
export const options = {
  absWorkingDir: root,
  entryPoints: {
    engine: 'src/engine/main.ts',
    'frame-worker': 'src/engine/frame-worker.ts',
    standins: 'src/standins/main.ts',
    server: 'src/lib/server/main.ts',
    prepare: 'src/db/prepare.ts',
    ear: 'src/sound/main.ts',
    songs: 'src/sound/demo/main.ts',
    listen: 'src/sound/listen/main.ts',
    play: 'src/sound/play/main.ts',
  },
  outdir: 'build/node',
  bundle: true,
  platform: 'node',
  target: 'node20',
  format: 'esm',
  packages: 'external',
  sourcemap: 'linked',
  // What is loaded later stays in files of its own.
  splitting: true,
  metafile: true,
  logLevel: 'warning',
};

const { metafile } = await build(options);
removeEarlierPieces(root, options.outdir, metafile);
// A restarted engine must send again at once: what begins its frames loads nothing but itself.
for (const name of ['engine', 'frame-worker']) {
  const seen = new Set();
  const look = (file) => {
    if (seen.has(file)) return;
    seen.add(file);
    for (const { path: other, kind, external } of metafile.outputs[file].imports) {
      if (kind !== 'import-statement') continue;
      if (!external) look(other);
      else if (!other.startsWith('node:')) throw new Error(`${name} must not load the package ${other}`);
    }
  };
  look(`build/node/${name}.js`);
}
cpSync(path.join(root, 'src/db/migrations'), path.join(root, 'build/node/migrations'), { recursive: true });
