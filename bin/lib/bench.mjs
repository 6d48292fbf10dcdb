import { spawnSync } from 'node:child_process';
import { build, bundle } from './build.mjs';
import { inRoot, ROOT } from './paths.mjs';
import { preparePackages, preparePostgres } from './prepare.mjs';

/** `npm run bench [-- NAME]`: one JSON object a line, each a ratio against a yardstick of the same run. */
export async function bench() {
  preparePackages();
  preparePostgres();
  await build({ web: false });
  const main = inRoot('bench/dist/main.mjs');
  await bundle('bench/main.ts', main);
  const { status } = spawnSync(process.execPath, [main, ...process.argv.slice(3)], { cwd: ROOT, stdio: 'inherit' });
  process.exit(status ?? 1);
}
