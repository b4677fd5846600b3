import { handle } from '$lib/server/api.ts';
import { ENDPOINTS } from '$lib/server/endpoints.ts';
import { services } from '$lib/server/services.ts';
import { VERSION } from '$lib/server/version.ts';

export const GET = handle(ENDPOINTS.health, async () => {
  const all = services();
  const { engine, standins, database, disk } = all.system();
  return {
    ok: engine !== null && engine.showFaults.length === 0 && database === 'up' && engine.database && disk !== 'full',
    version: VERSION,
    database,
    disk,
    engine: engine as never,
    outputs: (engine?.outputs ?? []) as never,
    standins,
    processes: { web: process.pid, engine: engine?.pid ?? null, standins: standins?.pid ?? null },
    pages: all.hub.clients,
  };
});
