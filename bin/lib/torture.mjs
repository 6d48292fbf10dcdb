import { spawnSync } from 'node:child_process';
import { build, bundle } from './build.mjs';
import { inRoot, ROOT } from './paths.mjs';
import { preparePackages, preparePostgres } from './prepare.mjs';

const MAIN = inRoot('torture/dist/main.mjs');

/** Makes the program of the trial. */
export const bundleTorture = () => bundle('torture/main.ts', MAIN);

/** `npm run torture [-- --seconds N --seed N]`: kills, cuts and stalls everything, and counts what was promised. */
export async function torture() {
  preparePackages();
  preparePostgres();
  await build({ web: false });
  await bundleTorture();
  const { status } = spawnSync(process.execPath, [MAIN, ...process.argv.slice(3)], { cwd: ROOT, stdio: 'inherit' });
  process.exit(status ?? 1);
}
