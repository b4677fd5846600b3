// `npm test`: set-up, check, unit tests, build, integration tests, browser tests. `npm test -- unit|integration|browser`
// runs one part, `npm test -- FILE...` single files.
import { readdirSync, statSync } from 'node:fs';
import path from 'node:path';
import { checkOnce } from './check.mjs';
import {
  ensureBuild,
  ensureDebian,
  ensureModules,
  ensureNode,
  ensureSongs,
  ROOT,
  say,
  spawnSync,
  Stop,
} from './lib.mjs';

const PARTS = {
  unit: { folders: ['src', 'scripts'], concurrency: 2, built: false },
  integration: { folders: ['tests/integration'], concurrency: 1, built: true },
  browser: { folders: ['tests/e2e'], concurrency: 1, built: true },
};

function testFiles(folder) {
  return readdirSync(path.join(ROOT, folder)).flatMap((name) => {
    const file = path.join(folder, name);
    if (statSync(path.join(ROOT, file)).isDirectory()) return testFiles(file);
    return name.endsWith('.test.ts') ? [file] : [];
  });
}

/** A file that is not through after this long hangs, and is said to have failed: in ms. */
const HANGS_MS = 900_000;

/** Runs test files named one by one: Node 20 succeeds without running anything when it is given a folder or none. */
function runTests(title, files, concurrency) {
  if (files.length === 0) throw new Stop(`There are no ${title} tests. A part without tests does not pass.`);
  say(`\nTests: ${title} (${files.length} files) ...`);
  const args = ['--import', 'tsx', '--test', `--test-concurrency=${concurrency}`, '--test-reporter=spec'];
  args.push(`--test-timeout=${HANGS_MS}`);
  const done = spawnSync(process.execPath, [...args, ...files.sort()], {
    cwd: ROOT,
    stdio: 'inherit',
    env: { ...process.env, TSX_TSCONFIG_PATH: path.join(ROOT, 'scripts/tsconfig.run.json') },
  });
  return done.status === 0;
}

async function main(wanted) {
  ensureNode();
  ensureDebian('postgres', 'chromium', 'socat');
  ensureModules();
  const named = wanted.filter((word) => !(word in PARTS));
  if (named.length > 0) {
    ensureBuild();
    ensureSongs();
    return runTests('named', named, 1);
  }
  if (wanted.length === 0) await checkOnce();
  const failed = [];
  for (const [title, part] of Object.entries(PARTS)) {
    if (wanted.length > 0 && !wanted.includes(title)) continue;
    if (part.built) {
      ensureBuild();
      ensureSongs();
    }
    if (!runTests(title, part.folders.flatMap(testFiles), part.concurrency)) failed.push(title);
  }
  if (failed.length > 0) say(`\nFailed: ${failed.join(', ')} tests.`);
  else say('\nEverything passed.');
  return failed.length === 0;
}

try {
  process.exit((await main(process.argv.slice(2))) ? 0 : 1);
} catch (error) {
  say(error instanceof Stop ? error.message : error.stack);
  process.exit(1);
}
