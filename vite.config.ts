import { sveltekit } from '@sveltejs/kit/vite';
import type * as development from './src/lib/server/dev.ts';
import { defineConfig, type Plugin, type ViteDevServer } from 'vite';

/** In development the WebSocket and the services live in Vite's own server. */
function liveInDevelopment(): Plugin {
  return {
    name: 'amber-live',
    apply: 'serve',
    async configureServer(server: ViteDevServer) {
      if (!process.env['AMBER_DATABASE_URL']) return;
      const { startServices } = (await server.ssrLoadModule('/src/lib/server/dev.ts')) as typeof development;
      const services = startServices();
      server.httpServer?.on('upgrade', (request, socket, head) => {
        if (request.url?.split('?')[0] === '/live') services.hub.upgrade(request, socket, head as Buffer);
      });
      server.httpServer?.once('listening', () => process.send?.('ready'));
    },
  };
}

/** Of ours and of small libraries; charts and the room are loaded where they are shown. */
const SHARED =
  /\/src\/(core|lib)\/|node_modules\/(svelte|@sveltejs|zod|bits-ui|@lucide|@internationalized|@floating-ui|culori|esm-env)\//;

export default defineConfig({
  plugins: [sveltekit(), liveInDevelopment()],
  server: {
    host: process.env['AMBER_HOST'] ?? '127.0.0.1',
    port: Number(process.env['AMBER_PORT'] ?? 5280),
    strictPort: true,
  },
  build: {
    chunkSizeWarningLimit: 900,
    // What most pages share comes in one piece: hundreds of small ones are asked for one after the other.
    rolldownOptions: {
      output: { codeSplitting: { groups: [{ name: 'shared', minShareCount: 4, test: SHARED }] } },
    },
  },
});
