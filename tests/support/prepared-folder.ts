import { execFileSync } from 'node:child_process';
import { chmodSync, existsSync, mkdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { alive } from '../../scripts/lib.mjs';
import { startPostgres } from '../../scripts/postgres.mjs';

/**
 * Data folders as a first start leaves them, the demo shows made: `npm test` makes them once, and each test that wants one
 * gets a copy. What is in one names its path (the stand-ins' addresses come from it), so a copy lies where it was made,
 * and is lent to one at a time.
 */
const HOME = 'AMBER_TEST_FOLDERS';

export interface Lent {
  readonly dataDir: string;
  /** Takes the copy away. */
  readonly back: () => void;
}

/** Null where the tests were not started by `npm test`: then every start is a first one. */
export async function preparedFolder(): Promise<Lent | null> {
  const home = process.env[HOME];
  if (!home) return null;
  for (let n = 1; ; n++) {
    const [dataDir, made, lent] = [path.join(home, `${n}`), path.join(home, `${n}.made`), path.join(home, `${n}.lent`)];
    if (!take(lent)) continue;
    rmSync(dataDir, { recursive: true, force: true });
    if (existsSync(made)) copy(made, dataDir);
    else await make(dataDir, made);
    return {
      dataDir,
      back() {
        rmSync(dataDir, { recursive: true, force: true });
        rmSync(lent, { force: true });
      },
    };
  }
}

/** True for the one that has it now. What a process that is gone did not give back is free. */
function take(file: string): boolean {
  try {
    writeFileSync(file, String(process.pid), { flag: 'wx' });
    return true;
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
  }
  const owner = Number(readFileSync(file, 'utf8'));
  if (owner === 0 || alive(owner)) return false;
  rmSync(file, { force: true });
  return take(file);
}

/** Makes one, and keeps a copy of it. */
async function make(dataDir: string, to: string): Promise<void> {
  mkdirSync(dataDir);
  chmodSync(dataDir, 0o711);
  const database = await startPostgres(dataDir, { fast: true });
  try {
    execFileSync(process.execPath, ['build/node/prepare.js'], {
      env: {
        ...process.env,
        AMBER_DATABASE_URL: database.url,
        AMBER_DATA_DIR: dataDir,
        AMBER_DEMO: '1',
        AMBER_SONGS: path.resolve('build', 'songs'),
      },
      stdio: ['ignore', 'ignore', 'inherit'],
    });
  } finally {
    await database.stop();
  }
  copy(dataDir, `${to}.half`);
  renameSync(`${to}.half`, to);
}

/** With owners: the database belongs to a user of its own. */
const copy = (from: string, to: string): void => void execFileSync('cp', ['-a', '--reflink=auto', from, to]);
