// `npm run check`: format, import rules, lint, types.
import { ensureModules, ensureNode, onceFor, ROOT, run, runBeside, say, Stop } from './lib.mjs';
import { existsSync } from 'node:fs';
import path from 'node:path';

export async function check() {
  const node = (script, ...args) => run(process.execPath, [script, ...args]);
  if (!existsSync(path.join(ROOT, '.svelte-kit', 'tsconfig.json')))
    node('node_modules/@sveltejs/kit/svelte-kit.js', 'sync');
  say('Import rules ...');
  node('scripts/imports.mjs');
  say('Format ...');
  node('node_modules/prettier/bin/prettier.cjs', '--check', '--log-level', 'warn', '.');
  say('Types and lint ...');
  const types = ['--tsconfig', './tsconfig.json', '--fail-on-warnings', '--output', 'human'];
  // Side by side, both to their end: each is one process on one of two cores.
  const ended = await Promise.allSettled([
    runBeside(process.execPath, ['node_modules/svelte-check/bin/svelte-check', ...types]),
    runBeside(process.execPath, ['node_modules/eslint/bin/eslint.js', '--max-warnings', '0', '.']),
  ]);
  const failed = ended.find((e) => e.status === 'rejected');
  if (failed) throw failed.reason;
}

const CHECKED = [
  'src',
  'scripts',
  'tests',
  'bench',
  'tools',
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
    await check();
  } catch (error) {
    say(error instanceof Stop ? error.message : error.stack);
    process.exit(1);
  }
}
