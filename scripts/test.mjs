// `npm test`: set-up, check, unit tests, build, integration tests, browser tests. `npm test -- unit|integration|browser`
// runs one part, `npm test -- FILE...` single files.
import { chmodSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { pathToFileURL } from 'node:url';
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

/** Files of the integration part that look how exactly something comes: they have the machine for themselves. */
const TIMED = ['alone', 'network', 'senders', 'soak', 'sound-card', 'survival', 'wire'];
const nameOf = (file) => path.basename(file, '.test.ts');
const timed = (file) => TIMED.includes(nameOf(file));

/** Those of them that there are; one that is missing was given another name, and would run beside others unnoticed. */
function timedOf(files) {
  const missing = TIMED.filter((name) => !files.some((file) => nameOf(file) === name));
  if (missing.length > 0)
    throw new Stop(`TIMED names tests that are not there: ${missing.join(', ')}. Name them anew.`);
  return files.filter(timed);
}

const PARTS = {
  unit: { folders: ['src', 'scripts'], runs: [{ files: together, concurrency: 2 }], built: false },
  integration: {
    folders: ['tests/integration'],
    runs: [
      { files: (files) => files.filter((f) => !timed(f)), concurrency: 2 },
      { files: timedOf, concurrency: 1 },
    ],
    built: true,
  },
  browser: { folders: ['tests/e2e'], runs: [{ files: (files) => files, concurrency: 1 }], built: true },
};

/** Processes that unit tests are parted among: to start one for each file takes longer than most of them. */
const GROUPS = 12;

/** Unit tests that share a process; those with hooks around all that is in theirs stay alone. */
function together(files) {
  const alone = files.filter((file) => /^(before|after)(Each)?\(/m.test(readFileSync(path.join(ROOT, file), 'utf8')));
  const folder = path.join(ROOT, 'node_modules', '.amber', 'unit');
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(folder, { recursive: true });
  const groups = Array.from({ length: GROUPS }, () => []);
  files.filter((file) => !alone.includes(file)).forEach((file, i) => groups[i % GROUPS].push(file));
  const made = groups.map((group, i) => {
    const to = path.join(folder, `${String(i + 1).padStart(2, '0')}.test.mjs`);
    const imports = group.map((file) => `await import('${pathToFileURL(path.join(ROOT, file)).href}');\n`);
    writeFileSync(to, imports.join(''));
    return path.relative(ROOT, to);
  });
  return [...made, ...alone];
}

/** Where copies of data folders lie that tests begin with (`tests/support/prepared-folder.ts`). */
function folders() {
  const home = mkdtempSync(path.join(os.tmpdir(), 'amber-folders-'));
  chmodSync(home, 0o711);
  process.env.AMBER_TEST_FOLDERS = home;
  process.on('exit', () => rmSync(home, { recursive: true, force: true }));
}

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
  const done = spawnSync(process.execPath, [...args, ...files], {
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
  folders();
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
    const all = part.folders.flatMap(testFiles).sort();
    for (const { files, concurrency } of part.runs)
      if (!runTests(title, files(all), concurrency) && !failed.includes(title)) failed.push(title);
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
