/**
 * Run by the start command before the other processes: migrations, and the demo shows where the database is empty and
 * demo data is wanted. They are written as change sets and held to the same rules as anybody's edits.
 */
import { fileURLToPath } from 'node:url';
import type { AnyRecord } from '../core/records/index.ts';
import { builtInProfiles } from '../core/profile/library.ts';
import { standinAddresses } from '../addresses.ts';
import type { ShowId } from '../core/ids.ts';
import { required } from '../process.ts';
import { connect } from './connect.ts';
import { migrateDatabase } from './migrate.ts';
import { initialLive, newPlay, type TargetId } from '../core/show/index.ts';
import { earSchema } from '../core/show/live/ear.ts';
import { autoSchema } from '../core/show/live/state.ts';
import { writeLive } from './playing.ts';
import { BlobFolder } from './blob-folder.ts';
import { bringIn } from './blobs.ts';
import { createShow, listShows, setOpenShow } from './shows.ts';
import { upgradeShows } from './upgrade.ts';
import { copperlineRink } from './seed/copperline.ts';
import { walkSong } from '../sound/demo/walk.ts';
import { millpondWithSong } from './seed/millpond-song.ts';
import { seedSongs } from './seed/songs.ts';
import { MILLPOND_PLAYS, millpondFiles, millpondWalk } from './seed/millpond.ts';

const connection = connect(required('AMBER_DATABASE_URL'), (error) => console.error(error), 2);
const { db } = connection;
await migrateDatabase(db, process.env['AMBER_MIGRATIONS'] ?? fileURLToPath(new URL('./migrations', import.meta.url)));
const folder = new BlobFolder(required('AMBER_DATA_DIR'));
for (const { showId, what, faults } of await upgradeShows(db, (blob) => folder.put(blob)))
  console.error(
    `${what === 'show' ? '' : 'part of the history of '}${showId} cannot be brought to this version: ${faults.map((f) => `${f.path} ${f.message}`).join('; ')}`,
  );
if (process.env['AMBER_DEMO'] !== '0' && (await listShows(db)).length === 0) {
  const addresses = standinAddresses(required('AMBER_DATA_DIR'));
  const from = [process.env['AMBER_SONGS'], required('AMBER_DATA_DIR')] as const;
  const songs = seedSongs(...from);
  const walk = seedSongs(...from, [walkSong()], 'Every hour');
  for (const file of [...millpondFiles(), ...songs.files, ...walk.files]) await bringIn(db, folder, file);
  await seed(millpondWithSong(millpondWalk(builtInProfiles(), addresses), walk.records), MILLPOND_PLAYS);
  await setOpenShow(db, await seed([...copperlineRink(builtInProfiles(), addresses), ...songs.records]));
}
await connection.close();

/**
 * A demo show that plays: whoever opens it for the first time sees light, and that it moves. Where it names nothing that plays,
 * light runs by itself to the songs of the stand-in.
 */
async function seed(records: readonly AnyRecord[], plays: readonly TargetId[] = []): Promise<ShowId> {
  const id = await createShow(db, records);
  const now = Date.now();
  const bpm = records.find((r) => r.kind === 'show')?.tempoBpm;
  const playing = plays.map((target, i) => newPlay({ id: `seed${i}`, target, startedAt: now }));
  const byItself = { ear: earSchema.parse({ source: 'standin' }), auto: autoSchema.parse({ on: true, seed: 1 }) };
  const state = { ...initialLive(now, bpm), playing, ...(plays.length === 0 ? byItself : {}) };
  await writeLive(db, id, { state, revision: 0 }, now);
  return id;
}
