/** The engine besides its frame thread: everything that takes a while to load. */
import { execFile } from 'node:child_process';
import { pino } from 'pino';
import { standinAddresses } from '../addresses.ts';
import { limited } from '../log.ts';
import { required, stopsWithParent } from '../process.ts';
import { Engine } from './engine.ts';
import type { Frames } from './frames.ts';
import type { Ownership } from './ownership.ts';
import type { KeptState } from './kept-state.ts';

export async function run(parts: {
  frames: Frames;
  kept: KeptState;
  sourceName: string;
  now: () => number;
  ownership: Ownership;
}) {
  const log = pino({ name: 'engine', level: process.env['AMBER_LOG'] ?? 'info', hooks: limited() });
  const dataDir = required('AMBER_DATA_DIR');
  const at = process.env['AMBER_DEMO'] === '1' ? standinAddresses(dataDir) : null;
  const engine = new Engine({
    ...parts,
    databaseUrl: required('AMBER_DATABASE_URL'),
    controlPort: Number(required('AMBER_ENGINE_PORT')),
    token: required('AMBER_ENGINE_TOKEN'),
    simulated: at && {
      broadcast: at.broadcast,
      own: at.engine,
      serialPaths: [at.usb],
      devices: [at.hub, at.string],
    },
    log,
  });
  stopsWithParent(() => engine.stop());
  await engine.start();
  // Asks for real-time priority where the system may give it; says plainly where it does not.
  execFile('chrt', ['--all-tasks', '--fifo', '--pid', '10', String(process.pid)], (error) => {
    engine.setRealtime(!error);
    log.info(error ? 'no real-time priority here: frames may be late when the machine is busy' : 'real-time priority');
  });
  process.send?.('ready');
}
