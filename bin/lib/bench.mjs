import { spawnSync } from 'node:child_process';
import { copyFileSync } from 'node:fs';
import { build, bundle, READER_THREAD } from './build.mjs';
import { inRoot, ROOT } from './paths.mjs';
import { preparePackages, preparePostgres } from './prepare.mjs';

/** `npm run bench [-- NAME]`: one JSON object a line, each a ratio against a yardstick of the same run. */
export async function bench() {
  preparePackages();
  preparePostgres();
  await build({ web: false });
  const main = inRoot('bench/dist/main.mjs');
  await bundle('bench/main.ts', main);
  // What reads messages looks for its thread beside itself.
  copyFileSync(READER_THREAD, inRoot('bench/dist/reader-thread.mjs'));
  const { status } = spawnSync(process.execPath, [main, ...process.argv.slice(3)], { cwd: ROOT, stdio: 'inherit' });
  process.exit(status ?? 1);
}
