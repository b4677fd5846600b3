// `./kite COMMAND` (or `npm run --silent kite -- COMMAND`): the headless command. stdout carries JSON only.
import { pathToFileURL } from 'node:url';
import path from 'node:path';
import { ensureCli, ensureModules, ensureNode, ROOT, say, Stop } from './lib.mjs';

try {
  ensureNode();
  ensureModules();
  ensureCli();
} catch (error) {
  say(
    JSON.stringify({
      code: 'SETUP',
      message: error instanceof Stop ? error.message : String(error),
      path: 'setup',
      remedy: 'Put right what the message says and try again.',
    }),
  );
  process.exit(2);
}
if (process.env.INIT_CWD) process.chdir(process.env.INIT_CWD);
await import(pathToFileURL(path.join(ROOT, 'build', 'cli', 'kite.js')).href);
