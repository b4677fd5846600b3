import { rmSync } from 'node:fs';
import path from 'node:path';
import { startPostgres } from '../../scripts/postgres.mjs';
import { connect, type Connection } from '../../src/db/connect.ts';
import { migrateDatabase } from '../../src/db/migrate.ts';
import { temporaryFolder } from './app.ts';

export const MIGRATIONS = path.resolve('src/db/migrations');

/** A PostgreSQL server of its own with our tables, on a folder that `end` takes away. */
export async function testDatabase(
  migrations: string = MIGRATIONS,
): Promise<Connection & { url: string; end(): Promise<void> }> {
  const folder = temporaryFolder();
  const server = await startPostgres(folder, { fast: true });
  const connection = connect(server.url, () => undefined);
  await migrateDatabase(connection.db, migrations);
  return {
    ...connection,
    url: server.url,
    async end() {
      await connection.close();
      await server.stop();
      rmSync(folder, { recursive: true, force: true });
    },
  };
}
