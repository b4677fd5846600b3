import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Logger } from 'pino';
import { required } from '../../process.ts';
import type { ServiceOptions } from './services.ts';

/** Options of the web process from the environment that the start command sets. */
export function serviceOptions(log: Logger): ServiceOptions {
  const standin = process.env['AMBER_STANDIN_PORT'];
  return {
    databaseUrl: required('AMBER_DATABASE_URL'),
    dataDir: required('AMBER_DATA_DIR'),
    enginePort: Number(required('AMBER_ENGINE_PORT')),
    engineToken: required('AMBER_ENGINE_TOKEN'),
    standinPort: standin ? Number(standin) : null,
    ear: process.env['AMBER_EAR'] ?? null,
    listen: process.env['AMBER_LISTEN'] ?? null,
    play: process.env['AMBER_PLAY'] ?? null,
    songs: process.env['AMBER_SONGS'] ?? null,
    pages: pagesOf(process.env['AMBER_WEB_BUILD']),
    log,
  };
}

/** Of which build the pages in a folder are, as the build noted it; null where there are none. */
function pagesOf(folder: string | undefined): string | null {
  if (!folder) return null;
  const { version } = JSON.parse(readFileSync(join(folder, 'client/_app/version.json'), 'utf8')) as { version: string };
  return version;
}
