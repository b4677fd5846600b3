/** The engine process: reads its options from the environment, starts, and ends cleanly. */
import { execFile } from 'node:child_process';
import { pino } from 'pino';
import { Engine } from './engine.ts';
import { standinAddresses } from '../addresses.ts';
import { required, stopsWithParent } from '../process.ts';

const log = pino({ name: 'engine', level: process.env['AMBER_LOG'] ?? 'info' });
const dataDir = required('AMBER_DATA_DIR');
const at = process.env['AMBER_DEMO'] === '1' ? standinAddresses(dataDir) : null;
const engine = new Engine({
  databaseUrl: required('AMBER_DATABASE_URL'),
  controlPort: Number(required('AMBER_ENGINE_PORT')),
  token: required('AMBER_ENGINE_TOKEN'),
  dataDir,
  sourceName: process.env['AMBER_SOURCE_NAME'] ?? 'Amber Kite',
  simulated: at && {
    broadcast: at.broadcast,
    own: at.engine,
    serialPaths: [at.widget],
    devices: [at.hub, at.string],
  },
  log,
});

/** Asks for real-time priority where the system may give it; says plainly where it does not. */
function askForRealtime(): void {
  execFile('chrt', ['--all-tasks', '--fifo', '--pid', '10', String(process.pid)], (error) => {
    engine.setRealtime(!error);
    log.info(error ? 'no real-time priority here: frames may be late when the machine is busy' : 'real-time priority');
  });
}

stopsWithParent(() => engine.stop());
await engine.start();
askForRealtime();
process.send?.('ready');
