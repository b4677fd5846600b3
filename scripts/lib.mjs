// What the scripts share: plain Node, no dependencies, because node_modules may not be there yet.
import { spawn, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import net from 'node:net';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

export const ROOT = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..');
export const PG_BIN = '/usr/lib/postgresql/15/bin';
export const isRoot = process.getuid?.() === 0;

/** Progress goes to stderr: stdout belongs to the one line that says the program is ready. */
export const say = (text) => process.stderr.write(`${text}\n`);

/** Ends with a message a person can act on. */
export class Stop extends Error {}

export function run(command, args, options = {}) {
  const done = spawnSync(command, args, { cwd: ROOT, stdio: ['ignore', 'inherit', 'inherit'], ...options });
  if (done.status !== 0)
    throw new Stop(`"${command} ${args.join(' ')}" ended with ${done.status ?? done.signal ?? done.error?.message}`);
}

/** Runs one beside others; what it prints comes in one piece when it has ended. */
export async function runBeside(command, args, options = {}) {
  const child = spawn(command, args, { cwd: ROOT, stdio: ['ignore', 'pipe', 'pipe'], ...options });
  let printed = '';
  for (const stream of [child.stdout, child.stderr]) stream.on('data', (text) => (printed += text));
  const status = await new Promise((resolve) => {
    child.on('error', (error) => resolve(error.message));
    child.on('close', (code, signal) => resolve(code ?? signal));
  });
  process.stderr.write(printed);
  if (status !== 0) throw new Stop(`"${command} ${args.join(' ')}" ended with ${status}`);
}

export function runQuiet(command, args, options = {}) {
  const done = spawnSync(command, args, { cwd: ROOT, encoding: 'utf8', ...options });
  if (done.status !== 0) {
    process.stderr.write(`${done.stdout ?? ''}${done.stderr ?? ''}`);
    throw new Stop(`"${command} ${args.join(' ')}" ended with ${done.status ?? done.signal ?? done.error?.message}`);
  }
  return done.stdout;
}

const PACKAGES = {
  postgres: { packages: ['postgresql-15'], there: () => existsSync(path.join(PG_BIN, 'postgres')) },
  socat: { packages: ['socat'], there: () => existsSync('/usr/bin/socat') },
  chromium: { packages: ['chromium'], there: () => existsSync('/usr/bin/chromium') },
};

/** Installs Debian packages that are missing, or says which command somebody with the rights has to run. */
export function ensureDebian(...wanted) {
  const missing = wanted.filter((name) => !PACKAGES[name].there()).flatMap((name) => PACKAGES[name].packages);
  if (missing.length === 0) return;
  const command = `apt-get update && apt-get install -y --no-install-recommends ${missing.join(' ')}`;
  const sudo = !isRoot && spawnSync('sudo', ['-n', 'true'], { stdio: 'ignore' }).status === 0;
  if (!isRoot && !sudo)
    throw new Stop(
      `Debian packages are missing: ${missing.join(', ')}. Run this as root, then start again:\n  ${command}`,
    );
  say(`Installing Debian packages: ${missing.join(', ')} ...`);
  // A cluster of its own would be started by the package; ours lives in the data folder.
  const prepare =
    'mkdir -p /etc/postgresql-common && (test -e /etc/postgresql-common/createcluster.conf || echo "create_main_cluster = false" > /etc/postgresql-common/createcluster.conf)';
  const script = `${prepare} && export DEBIAN_FRONTEND=noninteractive && ${command}`;
  const [program, args] = isRoot ? ['sh', ['-c', script]] : ['sudo', ['-n', 'sh', '-c', script]];
  try {
    runQuiet(program, args);
  } catch {
    throw new Stop(`Debian packages could not be installed. Run this as root, then start again:\n  ${command}`);
  }
}

export function ensureNode() {
  const [major, minor] = process.versions.node.split('.').map(Number);
  if (major !== 20 || minor < 15)
    throw new Stop(
      `Node 20 (20.15 or later) is needed, this is ${process.versions.node}. Install Debian's or another Node 20 and start again.`,
    );
}

const STAMPS = path.join(ROOT, 'node_modules', '.amber');
const readStamp = (name) => (existsSync(path.join(STAMPS, name)) ? readFileSync(path.join(STAMPS, name), 'utf8') : '');
function writeStamp(name, text) {
  mkdirSync(STAMPS, { recursive: true });
  writeFileSync(path.join(STAMPS, name), text);
}

function hashFiles(paths) {
  const hash = createHash('sha256');
  const add = (file) => {
    const full = path.join(ROOT, file);
    if (!existsSync(full)) return;
    if (statSync(full).isDirectory()) for (const name of readdirSync(full).sort()) add(path.join(file, name));
    else hash.update(file).update('\0').update(readFileSync(full)).update('\0');
  };
  paths.forEach(add);
  return hash.digest('hex');
}

/** `npm ci` when the lock file is not the one that node_modules was made from. */
export function ensureModules() {
  const wanted = hashFiles(['package-lock.json', '.npmrc']);
  if (readStamp('modules') === wanted) return;
  say('Installing packages (npm ci) ...');
  runQuiet('npm', ['ci', '--no-audit', '--no-fund'], { env: { ...process.env, NODE_ENV: '' } });
  writeStamp('modules', wanted);
}

const SOURCES = [
  'src',
  'static',
  'package-lock.json',
  'svelte.config.js',
  'vite.config.ts',
  'tsconfig.json',
  'scripts/bundle.mjs',
  'scripts/bundle-pieces.mjs',
];

/** Builds pages and processes when a source changed. */
export function ensureBuild() {
  const wanted = hashFiles(SOURCES);
  if (readStamp('build') === wanted && existsSync(path.join(ROOT, 'build', 'web', 'handler.js'))) return;
  say('Building ...');
  runQuiet(process.execPath, ['scripts/bundle.mjs']);
  runQuiet(process.execPath, ['node_modules/vite/bin/vite.js', 'build'], {
    env: { ...process.env, NODE_ENV: 'production' },
  });
  writeStamp('build', wanted);
}

/** Plays and hears the songs of the demo show when what makes or hears them changed. */
export function ensureSongs() {
  const wanted = hashFiles([
    'src/sound',
    'src/core/music',
    'src/core/song',
    'src/core/format/wav.ts',
    'src/core/records/song.ts',
  ]);
  if (readStamp('songs') === wanted && existsSync(path.join(ROOT, 'build', 'songs'))) return;
  say('Playing the songs of the demo ...');
  runQuiet(process.execPath, ['build/node/songs.js', path.join(ROOT, 'build', 'songs')]);
  writeStamp('songs', wanted);
}

/** Names, sizes and times of files: enough to see whether one was changed, without reading them all. */
function glance(paths) {
  const seen = [];
  const add = (file) => {
    const found = statSync(path.join(ROOT, file), { throwIfNoEntry: false });
    if (!found) return;
    if (found.isDirectory()) for (const name of readdirSync(path.join(ROOT, file)).sort()) add(path.join(file, name));
    else seen.push(`${file} ${found.size} ${found.mtimeMs}`);
  };
  paths.forEach(add);
  return createHash('sha256').update(seen.join('\n')).digest('hex');
}

/** Bundles the headless command when a source it is made of changed. */
export function ensureCli() {
  const wanted = glance([
    'src/core',
    'src/cli',
    'src/engine',
    'src/sound',
    'src/standins',
    'package-lock.json',
    'scripts/bundle-cli.mjs',
    'scripts/bundle-pieces.mjs',
  ]);
  if (readStamp('cli') === wanted && existsSync(path.join(ROOT, 'build', 'cli', 'kite.js'))) return;
  runQuiet(process.execPath, ['scripts/bundle-cli.mjs']);
  writeStamp('cli', wanted);
}

/** Does `work` unless it went well before on exactly these files. */
export async function onceFor(name, files, work) {
  const wanted = hashFiles(files);
  if (readStamp(name) === wanted) return say(`${name}: nothing changed since it passed.`);
  await work();
  writeStamp(name, wanted);
}

/** Bundles the engine, stand-ins and the rest for development and tests that need no pages. */
export function bundleProcesses() {
  runQuiet(process.execPath, ['scripts/bundle.mjs']);
}

/** A TCP port of loopback that is free now. */
export function freePort() {
  return new Promise((resolve, reject) => {
    const server = net.createServer();
    server.on('error', reject);
    server.listen(0, '127.0.0.1', () => {
      const { port } = server.address();
      server.close(() => resolve(port));
    });
  });
}

export const wait = (ms) => new Promise((resolve) => setTimeout(resolve, ms));

export const alive = (pid) => {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return error.code === 'EPERM';
  }
};

export { spawn, spawnSync };
