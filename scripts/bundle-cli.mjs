// Bundles the headless command with its packages, so that a call loads one file and what that command needs.
import { rmSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { build } from 'esbuild';

const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..');
const outdir = path.join(root, 'build', 'cli');
rmSync(outdir, { recursive: true, force: true });
await build({
  absWorkingDir: root,
  entryPoints: { kite: 'src/cli/main.ts' },
  outdir,
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
  logLevel: 'warning',
});
