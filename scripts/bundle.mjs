// Bundles the processes that are not pages: engine, frame thread, stand-ins, web server, database preparation.
import { cpSync, mkdirSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { build } from 'esbuild';

const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..');
export const options = {
  absWorkingDir: root,
  entryPoints: {
    engine: 'src/engine/main.ts',
    'frame-worker': 'src/engine/frame-worker.ts',
    standins: 'src/standins/main.ts',
    server: 'src/lib/server/main.ts',
    prepare: 'src/db/prepare.ts',
  },
  outdir: 'build/node',
  bundle: true,
  platform: 'node',
  target: 'node20',
  format: 'esm',
  packages: 'external',
  sourcemap: 'linked',
  logLevel: 'warning',
};

mkdirSync(path.join(root, 'build', 'node'), { recursive: true });
await build(options);
cpSync(path.join(root, 'src/db/migrations'), path.join(root, 'build/node/migrations'), { recursive: true });
