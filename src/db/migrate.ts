import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { sql } from 'drizzle-orm';
import { migrate } from 'drizzle-orm/node-postgres/migrator';
import type { Database } from './connect.ts';

interface Journal {
  readonly entries: readonly { readonly tag: string; readonly when: number }[];
}

/**
 * Brings the tables up to date, then compares every journal entry with what the database says it has run: Drizzle's
 * own migrator looks only at the newest timestamp and would pass over an older file. Throws with the file's name.
 */
export async function migrateDatabase(db: Database, folder: string): Promise<void> {
  await migrate(db, { migrationsFolder: folder });
  const journal = JSON.parse(readFileSync(join(folder, 'meta', '_journal.json'), 'utf8')) as Journal;
  const { rows } = await db.execute<{ hash: string }>(sql`select hash from drizzle.__drizzle_migrations`);
  const run = new Set(rows.map((r) => r.hash));
  for (const { tag } of journal.entries) {
    const text = readFileSync(join(folder, `${tag}.sql`), 'utf8');
    if (run.has(createHash('sha256').update(text).digest('hex'))) continue;
    throw new Error(
      `migration ${tag} has not been run on this database, or was changed after it ran; restore the file or start with a new data folder`,
    );
  }
}
