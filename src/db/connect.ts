import { drizzle, type NodePgDatabase } from 'drizzle-orm/node-postgres';
import pg from 'pg';
import * as schema from './schema.ts';

export type Database = NodePgDatabase<typeof schema>;
/** A database or a transaction on it. */
export type Executor = Database | Parameters<Parameters<Database['transaction']>[0]>[0];

export interface Connection {
  readonly db: Database;
  readonly pool: pg.Pool;
  close(): Promise<void>;
}

/** Opens a pool. Errors of idle connections go to `onError` (a restart of PostgreSQL must not end the process). */
export function connect(url: string, onError: (error: Error) => void, max = 6): Connection {
  const pool = new pg.Pool({ connectionString: url, max, connectionTimeoutMillis: 5000 });
  pool.on('error', onError);
  return { db: drizzle(pool, { schema, casing: 'snake_case' }), pool, close: () => pool.end() };
}

/**
 * Listens on PostgreSQL channels and reconnects by itself. `onGap` is called after every (re)connection: what was
 * notified meanwhile is lost, so the caller looks again.
 */
export function listen(
  url: string,
  channels: readonly string[],
  onNotify: (channel: string, payload: string) => void,
  onGap: () => void,
): { close(): Promise<void> } {
  let client: pg.Client | null = null;
  let closed = false;
  let timer: NodeJS.Timeout | undefined;
  const open = async (): Promise<void> => {
    const next = new pg.Client({ connectionString: url, connectionTimeoutMillis: 5000 });
    const again = (): void => {
      if (client === next) client = null;
      next.removeAllListeners();
      next.on('error', () => undefined);
      next.end().catch(() => undefined);
      if (!closed) timer = setTimeout(() => void open(), 500);
    };
    next.on('error', again);
    next.on('end', again);
    next.on('notification', (message) => onNotify(message.channel, message.payload ?? ''));
    try {
      await next.connect();
      for (const channel of channels) await next.query(`LISTEN ${channel}`);
      client = next;
      onGap();
    } catch {
      again();
    }
  };
  void open();
  return {
    async close() {
      closed = true;
      clearTimeout(timer);
      client?.removeAllListeners();
      await client?.end().catch(() => undefined);
    },
  };
}
