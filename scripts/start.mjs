// `npm start`: sets everything up, starts database, engine, stand-ins and web, restarts what dies, stops it all.
import { randomBytes } from 'node:crypto';
import { chmodSync, closeSync, existsSync, mkdirSync, openSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import net from 'node:net';
import path from 'node:path';
import {
  alive,
  bundleProcesses,
  ensureBuild,
  ensureSongs,
  ensureDebian,
  ensureModules,
  ensureNode,
  freePort,
  isRoot,
  ROOT,
  runBeside,
  say,
  spawn,
  Stop,
  wait,
} from './lib.mjs';
import { startPostgres } from './postgres.mjs';

const DEV = process.argv.includes('--dev');
const DEFAULT_PORT = 5280;
/** A process that dies is started again after this long; the engine must be back within 1.5 s. */
const RESTART_MS = 50;
/** One that dies more often than so many times a minute is started more slowly: the others must not suffer. */
const DEATHS_A_MINUTE = 10;
const SLOW_RESTART_MS = 5000;
/** Whether npm, which started this, is still there is looked at so often. */
const PARENT_MS = 500;

function settings() {
  const port = Number(process.env.AMBER_PORT ?? DEFAULT_PORT);
  if (!Number.isInteger(port) || port < 1 || port > 65535)
    throw new Stop(`AMBER_PORT is "${process.env.AMBER_PORT}"; give a port from 1 to 65535.`);
  // What the engine reads itself is looked at here too: it would end again and again.
  const { AMBER_ENGINE_UNIVERSES: universes, AMBER_ENGINE_PRIORITY: priority } = process.env;
  if (universes?.trim() && !/^\s*\d{1,5}(\s*-\s*\d{1,5})?(\s*,\s*\d{1,5}(\s*-\s*\d{1,5})?)*\s*$/.test(universes))
    throw new Stop(`AMBER_ENGINE_UNIVERSES is "${universes}"; give universes such as 1-64 or 1,2,7.`);
  if (priority?.trim() && !(/^\s*\d{1,3}\s*$/.test(priority) && Number(priority) <= 200))
    throw new Stop(`AMBER_ENGINE_PRIORITY is "${priority}"; give an sACN priority from 0 to 200.`);
  const host = process.env.AMBER_HOST || '127.0.0.1';
  const dataDir = path.resolve(process.env.AMBER_DATA_DIR || path.join(ROOT, 'data'));
  return { port, host, dataDir, demo: process.env.AMBER_DEMO !== '0' };
}

/** Takes the data folder for this start alone. A lock left by a dead process is taken over. */
function lock(dataDir, address) {
  const file = path.join(dataDir, 'running.json');
  const text = JSON.stringify({ pid: process.pid, address });
  for (let attempt = 0; attempt < 2; attempt++) {
    try {
      const handle = openSync(file, 'wx');
      writeFileSync(handle, text);
      closeSync(handle);
      return () => rmSync(file, { force: true });
    } catch (error) {
      if (error.code !== 'EEXIST') throw error;
      const other = readLock(file);
      if (other && other.pid !== process.pid && alive(other.pid) && isOurs(other.pid))
        throw new Stop(
          `Amber Kite is already running on ${dataDir} at ${other.address} (process ${other.pid}). Use that one, or stop it, or set AMBER_DATA_DIR to another folder.`,
        );
      rmSync(file, { force: true });
    }
  }
  throw new Stop(`${file} cannot be taken; another start is under way. Try again.`);
}

function readLock(file) {
  try {
    return JSON.parse(readFileSync(file, 'utf8'));
  } catch {
    return null;
  }
}

const isOurs = (pid) =>
  !existsSync(`/proc/${pid}/cmdline`) || readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('start.mjs');

function portIsFree(port, host) {
  return new Promise((resolve, reject) => {
    const probe = net.createServer();
    probe.once('error', (error) => {
      if (error.code === 'EADDRINUSE')
        reject(
          new Stop(
            `Port ${port} of ${host} is taken by another program. Set AMBER_PORT to a free one, for example AMBER_PORT=${port + 1} npm start.`,
          ),
        );
      else if (error.code === 'EADDRNOTAVAIL')
        reject(
          new Stop(
            `This machine has no address ${host}. Set AMBER_HOST to one of its addresses, or leave it out for 127.0.0.1.`,
          ),
        );
      else if (error.code === 'EACCES')
        reject(new Stop(`Port ${port} needs more rights. Set AMBER_PORT to a port above 1023.`));
      else reject(new Stop(`Cannot listen on ${host}:${port}: ${error.message}`));
    });
    probe.listen(port, host, () => probe.close(() => resolve()));
  });
}

/** The simulated USB interface needs a pseudo-serial port; without it the rest of the demonstration runs all the same. */
function ensureStandinTools() {
  try {
    ensureDebian('socat');
  } catch (error) {
    if (!(error instanceof Stop)) throw error;
    say('The simulated USB interface is left out: the Debian package socat is missing.');
  }
}

/** One child process that is kept alive until `stop`. */
class Kept {
  constructor(name, args, env) {
    Object.assign(this, { name, args, env, stopping: false, deaths: [] });
  }

  start() {
    this.child = spawn(process.execPath, this.args, {
      cwd: ROOT,
      env: this.env,
      stdio: ['ignore', process.stderr, process.stderr, 'ipc'],
    });
    this.gone = new Promise((resolve) => this.child.once('exit', resolve));
    const ready = new Promise((resolve) => this.child.once('message', resolve));
    this.child.once('exit', (code, signal) => this.ended(code, signal));
    return Promise.race([
      ready,
      this.gone.then(() =>
        Promise.reject(new Stop(`The ${this.name} process ended before it was ready; its messages are above.`)),
      ),
    ]);
  }

  ended(code, signal) {
    if (this.stopping || !this.everReady) return;
    const now = Date.now();
    this.deaths = [...this.deaths.filter((at) => now - at < 60_000), now];
    const slow = this.deaths.length > DEATHS_A_MINUTE;
    say(
      slow
        ? `The ${this.name} process keeps ending (${signal ?? code}); it is tried again every ${SLOW_RESTART_MS / 1000} s. Its messages are above.`
        : `The ${this.name} process ended (${signal ?? code}); starting it again.`,
    );
    setTimeout(() => !this.stopping && this.start().catch(() => undefined), slow ? SLOW_RESTART_MS : RESTART_MS);
  }

  async begin() {
    await this.start();
    this.everReady = true;
  }

  async stop() {
    this.stopping = true;
    if (!this.child || this.child.exitCode !== null || this.child.signalCode !== null) return;
    this.child.kill('SIGTERM');
    await Promise.race([this.gone, wait(6000)]);
    if (this.child.exitCode === null && this.child.signalCode === null) this.child.kill('SIGKILL');
    await Promise.race([this.gone, wait(1000)]);
  }
}

function prepareFolder(dataDir) {
  try {
    mkdirSync(dataDir, { recursive: true, mode: 0o711 });
    // PostgreSQL's own user has to walk through it; what is secret inside is private file by file.
    if (isRoot) chmodSync(dataDir, 0o711);
  } catch (error) {
    throw new Stop(
      `The data folder ${dataDir} cannot be used: ${error.message}. Set AMBER_DATA_DIR to a folder you may write to.`,
    );
  }
}

/** What has to be on the machine, and built. */
function setUp(demo) {
  ensureDebian('postgres');
  if (demo) ensureStandinTools();
  ensureModules();
  if (DEV) bundleProcesses();
  else ensureBuild();
  if (demo) ensureSongs();
}

/** What the processes are told. */
async function environment({ port, host, dataDir, demo }) {
  const [enginePort, standinPort] = [await freePort(), await freePort()];
  const env = {
    ...process.env,
    NODE_ENV: DEV ? 'development' : 'production',
    AMBER_LOG: process.env.AMBER_LOG ?? 'warn',
    AMBER_DATA_DIR: dataDir,
    AMBER_HOST: host,
    AMBER_PORT: String(port),
    AMBER_DEMO: demo ? '1' : '0',
    AMBER_ENGINE_PORT: String(enginePort),
    AMBER_ENGINE_TOKEN: randomBytes(24).toString('base64url'),
    AMBER_WEB_BUILD: path.join(ROOT, 'build', 'web'),
    AMBER_EAR: path.join(ROOT, 'build', 'node', 'ear.js'),
    AMBER_LISTEN: path.join(ROOT, 'build', 'node', 'listen.js'),
    AMBER_PLAY: path.join(ROOT, 'build', 'node', 'play.js'),
    ...(demo ? { AMBER_STANDIN_PORT: String(standinPort), AMBER_SONGS: path.join(ROOT, 'build', 'songs') } : {}),
  };
  if (!demo) {
    delete env.AMBER_STANDIN_PORT;
    delete env.AMBER_SONGS;
  }
  return env;
}

/** What is kept running. */
function processesOf(env) {
  const web = DEV
    ? ['node_modules/vite/bin/vite.js', 'dev', '--clearScreen', 'false']
    : ['--enable-source-maps', 'build/node/server.js'];
  return [new Kept('engine', ['build/node/engine.js'], env), new Kept('web', web, env)];
}

async function main() {
  const stops = [];
  let stopping = null;
  const stopAll = () =>
    (stopping ??= (async () => {
      for (const stop of stops.reverse()) await stop();
    })());
  const onSignal = () => void stopAll().then(() => process.exit(0));
  process.on('SIGINT', onSignal);
  process.on('SIGTERM', onSignal);
  process.on('SIGHUP', onSignal);
  // npm hands on no signal that ends itself: when it is gone, so is this. (Without npm a parent may come and go.)
  const parent = process.ppid;
  if (process.env.npm_lifecycle_event) setInterval(() => process.ppid !== parent && onSignal(), PARENT_MS).unref();
  try {
    const { port, host, dataDir, demo } = settings();
    const address = `http://${host.includes(':') ? `[${host}]` : host}:${port}`;
    ensureNode();
    prepareFolder(dataDir);
    stops.push(lock(dataDir, address));
    await portIsFree(port, host);
    setUp(demo);
    if (stopping) return;
    const env = await environment({ port, host, dataDir, demo });
    if (stopping) return;
    // A stop on the way waits for the database to be up, or it would be left behind.
    const starting = startPostgres(dataDir, { keep: true });
    stops.push(() =>
      starting.then(
        (started) => started.stop(),
        () => undefined,
      ),
    );
    const begin = (kept) => {
      stops.push(() => kept.stop());
      return kept.begin();
    };
    const prepared = starting.then(async ({ url }) => {
      const told = { ...env, AMBER_DATABASE_URL: url };
      if (!stopping) await runBeside(process.execPath, ['build/node/prepare.js'], { env: told });
      return told;
    });
    stops.push(() => prepared.catch(() => undefined));
    // Each takes a second or more to load: what does not need the other is begun beside it.
    const standins = demo ? [new Kept('stand-ins', ['build/node/standins.js'], env)] : [];
    const [told] = await Promise.all([prepared, ...standins.map(begin)]);
    if (stopping) return;
    const processes = processesOf(told);
    await Promise.all(processes.map(begin));
    if (DEV) await watchProcesses([...standins, processes[0]]);
    if (!/^(127\.|localhost$|::1$)/.test(host))
      say(`Note: ${host} is open to your network and there is no passphrase yet. Use it only on a network you trust.`);
    process.stdout.write(`Amber Kite is ready at ${address}\n`);
  } catch (error) {
    await stopAll();
    if (error instanceof Stop) say(error.message);
    else say(error.stack ?? String(error));
    process.exit(1);
  }
}

/** In development: bundles again and restarts engine and stand-ins when their sources change. */
async function watchProcesses(processes) {
  const { context } = await import('esbuild');
  const { options } = await import('./bundle.mjs');
  let first = true;
  const restart = {
    name: 'restart',
    setup(build) {
      build.onEnd((result) => {
        if (first || result.errors.length > 0) first = false;
        else for (const { child } of processes) child?.kill('SIGTERM');
      });
    },
  };
  await (await context({ ...options, plugins: [restart] })).watch();
}

await main();
