/**
 * Run by the start command before the other processes: migrations, and the demo shows where the database is empty and
 * demo data is wanted. They are written as change sets and held to the same rules as anybody's edits.
 */
import { fileURLToPath } from 'node:url';
import { builtInProfiles } from '../core/profile/library.ts';
import { standinAddresses } from '../addresses.ts';
import { required } from '../process.ts';
import { connect } from './connect.ts';
import { migrateDatabase } from './migrate.ts';
import { createShow, listShows, setOpenShow } from './store.ts';
import { copperlineRink } from './seed/copperline.ts';
import { millpondWalk } from './seed/millpond.ts';

const connection = connect(required('AMBER_DATABASE_URL'), (error) => console.error(error), 2);
const { db } = connection;
await migrateDatabase(db, process.env['AMBER_MIGRATIONS'] ?? fileURLToPath(new URL('./migrations', import.meta.url)));
if (process.env['AMBER_DEMO'] !== '0' && (await listShows(db)).length === 0) {
  const addresses = standinAddresses(required('AMBER_DATA_DIR'));
  await createShow(db, millpondWalk(builtInProfiles(), addresses));
  await setOpenShow(db, await createShow(db, copperlineRink(builtInProfiles(), addresses)));
}
await connection.close();
