// The direction of imports (docs/architecture.md): core knows nobody; engine, db, stand-ins and interface stand on it.
import { readdirSync, readFileSync, statSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

/** For each layer the layers and packages it may import. `*` is any package. */
const RULES = {
  core: {
    layers: ['core'],
    packages: [
      'zod',
      '@noble/hashes',
      'culori',
      'fflate',
      'fft.js',
      'fast-xml-parser',
      'papaparse',
      'read-excel-file',
      'write-excel-file',
    ],
  },
  db: {
    layers: ['core', 'db', 'process', 'sound'],
    packages: ['drizzle-orm', 'pg', 'pngjs', 'node:'],
  },
  engine: { layers: ['core', 'db', 'engine', 'process'], packages: ['pino', 'serialport', 'zod', 'node:'] },
  standins: {
    layers: ['core', 'standins', 'process', 'sound'],
    packages: ['pino', 'zod', 'node:'],
    extra: [['standins/main.ts', 'engine']],
  },
  sound: {
    layers: ['core', 'sound'],
    packages: [
      'node:',
      'music-metadata',
      '@audio/decode-aiff',
      '@audio/decode-opus',
      '@audio/decode-wav',
      '@wasm-audio-decoders/flac',
      '@wasm-audio-decoders/ogg-vorbis',
      'mpg123-decoder',
    ],
  },
  cli: { layers: ['core', 'cli', 'engine', 'sound', 'standins'], packages: ['node:', 'pino'] },
  'lib/server': { layers: ['core', 'db', 'lib/server', 'process', 'sound'], packages: ['*'] },
  lib: { layers: ['core', 'lib'], packages: ['*'] },
  routes: { layers: ['core', 'lib', 'lib/server', 'routes'], packages: ['*'] },
  process: { layers: ['process'], packages: ['node:', 'pino'] },
};

/**
 * The rooms of core, from the ground up: each may import those before it, files that stand in core itself are the ground.
 * So there are no rings, and what is lower can be understood alone.
 */
const CORE_ROOMS = [
  'colour',
  'records',
  'document',
  'profile',
  'prop',
  'patch',
  'plot',
  'room',
  'aim',
  'palette',
  'ready',
  'signal',
  'song',
  'music',
  'show',
  'auto',
  'timeline',
  'protocol',
  'edits',
  'rules',
  'format',
  'sheet',
  'lines',
  'check',
];

/** How high a file of core stands: -1 on the ground; NaN in a room that nobody named. */
const storeyOf = (file) => {
  const parts = file.split('/');
  if (parts.length === 2) return -1;
  const at = CORE_ROOMS.indexOf(parts[1]);
  return at < 0 ? NaN : at;
};

const layerOf = (file) => {
  if (['process.ts', 'addresses.ts', 'log.ts'].includes(file)) return 'process';
  if (file.startsWith('lib/server/')) return 'lib/server';
  return file.split('/')[0];
};

/** Faults of every import below `src`, as lines of text. */
export function importFaults(src) {
  const faults = [];
  for (const file of sources(src, '')) {
    const rule = RULES[layerOf(file)];
    if (!rule) continue;
    const test = file.endsWith('.test.ts');
    for (const target of importsOf(readFileSync(path.join(src, file), 'utf8'))) {
      if (/\.(css|json)$/.test(target)) continue;
      const inside = resolve(file, target);
      const ok =
        inside === null
          ? allowsPackage(rule, target) || test
          : rule.layers.includes(layerOf(inside)) ||
            (rule.extra ?? []).some(([from, to]) => file.startsWith(from) && layerOf(inside) === to) ||
            test;
      if (!ok) faults.push(`src/${file} may not import ${target}`);
      else if (
        !test &&
        file.startsWith('core/') &&
        inside?.startsWith('core/') &&
        !(storeyOf(inside) <= storeyOf(file))
      )
        faults.push(
          `src/${file} may not import ${target}: it stands in a room above (CORE_ROOMS in scripts/imports.mjs)`,
        );
    }
  }
  return faults;
}

const allowsPackage = (rule, target) =>
  rule.packages.some((p) => p === '*' || target === p || target.startsWith(p.endsWith(':') ? p : `${p}/`));

function resolve(file, target) {
  if (target.startsWith('.')) return path.posix.normalize(path.posix.join(path.posix.dirname(file), target));
  if (target.startsWith('$lib/')) return `lib/${target.slice(5)}`;
  if (target.startsWith('$core/')) return `core/${target.slice(6)}`;
  return null;
}

const importsOf = (text) =>
  [
    ...text.matchAll(
      /^\s*(?:import|export)\b[^'"`;]*?\bfrom\s*['"]([^'"]+)['"]|^\s*import\s*['"]([^'"]+)['"]|\bimport\(\s*['"]([^'"]+)['"]/gm,
    ),
  ].map((m) => m[1] ?? m[2] ?? m[3]);

function* sources(root, below) {
  for (const name of readdirSync(path.join(root, below))) {
    const file = path.posix.join(below, name);
    if (statSync(path.join(root, file)).isDirectory()) yield* sources(root, file);
    else if (/\.(ts|svelte)$/.test(name)) yield file;
  }
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  const faults = importFaults(path.resolve(path.dirname(fileURLToPath(import.meta.url)), '../src'));
  for (const fault of faults) console.error(fault);
  if (faults.length > 0) process.exit(1);
}
