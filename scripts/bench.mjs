// `npm run bench`: measures, and prints JSON lines {name, value, unit}. `npm run bench -- render` runs one file.
import { readdirSync } from 'node:fs';
import path from 'node:path';
import { ensureBuild, ensureDebian, ensureModules, ensureNode, ROOT, say, spawnSync, Stop } from './lib.mjs';

function main(wanted) {
  ensureNode();
  ensureDebian('postgres');
  ensureModules();
  const all = readdirSync(path.join(ROOT, 'bench')).flatMap((name) => /^(\w+)\.bench\.ts$/.exec(name)?.[1] ?? []);
  const unknown = wanted.filter((name) => !all.includes(name));
  if (unknown.length > 0) throw new Stop(`There is no bench "${unknown[0]}". There are: ${all.join(', ')}.`);
  ensureBuild();
  for (const name of wanted.length > 0 ? wanted : all) {
    say(`Measuring ${name} ...`);
    const done = spawnSync(process.execPath, ['--expose-gc', '--import', 'tsx', `bench/${name}.bench.ts`], {
      cwd: ROOT,
      stdio: 'inherit',
      env: { ...process.env, TSX_TSCONFIG_PATH: path.join(ROOT, 'scripts/tsconfig.run.json') },
    });
    if (done.status !== 0) throw new Stop(`The bench "${name}" failed.`);
  }
}

try {
  main(process.argv.slice(2));
} catch (error) {
  say(error instanceof Stop ? error.message : error.stack);
  process.exit(1);
}
