// `npm run check`: format, import rules, lint, types.
import { ensureModules, ensureNode, onceFor, ROOT, run, say, Stop } from './lib.mjs';
import { existsSync } from 'node:fs';
import path from 'node:path';

export function check() {
  const node = (script, ...args) => run(process.execPath, [script, ...args]);
  if (!existsSync(path.join(ROOT, '.svelte-kit', 'tsconfig.json')))
    node('node_modules/@sveltejs/kit/svelte-kit.js', 'sync');
  say('Import rules ...');
  node('scripts/imports.mjs');
  say('Format ...');
  node('node_modules/prettier/bin/prettier.cjs', '--check', '--log-level', 'warn', '.');
  say('Types ...');
  node(
    'node_modules/svelte-check/bin/svelte-check',
    '--tsconfig',
    './tsconfig.json',
    '--fail-on-warnings',
    '--output',
    'human',
  );
  say('Lint ...');
  node('node_modules/eslint/bin/eslint.js', '--max-warnings', '0', '.');
}

const CHECKED = [
  'src',
  'scripts',
  'tests',
  'bench',
  'docs',
  'package.json',
  'package-lock.json',
  'eslint.config.js',
  'svelte.config.js',
  'tsconfig.json',
  'vite.config.ts',
  'drizzle.config.ts',
  '.prettierrc',
  '.prettierignore',
  'README.md',
  'CONTRIBUTING.md',
  'CHANGELOG.md',
];

/** For `npm test`: checks again only when a file that is checked has changed. */
export const checkOnce = () => onceFor('check', CHECKED, check);

if (process.argv[1]?.endsWith('check.mjs')) {
  try {
    ensureNode();
    ensureModules();
    check();
  } catch (error) {
    say(error instanceof Stop ? error.message : error.stack);
    process.exit(1);
  }
}
