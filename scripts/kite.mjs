// `npm run --silent kite -- COMMAND`: the headless command. stdout carries JSON only.
import { ensureModules, ensureNode, ROOT, say, spawnSync, Stop } from './lib.mjs';

try {
  ensureNode();
  ensureModules();
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
const done = spawnSync(process.execPath, ['--import', 'tsx', `${ROOT}/src/cli/main.ts`, ...process.argv.slice(2)], {
  stdio: 'inherit',
  cwd: process.env.INIT_CWD ?? process.cwd(),
  env: { ...process.env, TSX_TSCONFIG_PATH: `${ROOT}/scripts/tsconfig.run.json`, NODE_PATH: `${ROOT}/node_modules` },
});
process.exit(done.status ?? 2);
