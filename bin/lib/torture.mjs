import { spawnSync } from 'node:child_process';
import { build, bundle } from './build.mjs';
import { inRoot, ROOT } from './paths.mjs';
import { preparePackages, preparePostgres } from './prepare.mjs';

const MAIN = inRoot('torture/dist/main.mjs');

/** Makes the program of the trial. */
export const bundleTorture = () => bundle('torture/main.ts', MAIN);

/**
 * How the program of the trial is started: where this user may have mounts that nobody else sees, with them, so that the
 * trial can have a disk of its own and fill it.
 *
 * @param {string[]} args
 * @returns {string[]}
 */
export function tortureCommand(args) {
  const apart = ['unshare', '--mount', '--propagation', 'private'];
  const isAllowed = process.getuid?.() === 0 && spawnSync(apart[0], [...apart.slice(1), 'true']).status === 0;
  return [...(isAllowed ? apart : []), process.execPath, MAIN, ...(isAllowed ? ['--own-disk'] : []), ...args];
}

/** `npm run torture [-- --seconds N --seed N]`: kills, cuts and stalls everything, and counts what was promised. */
export async function torture() {
  preparePackages();
  preparePostgres();
  await build({ web: false });
  await bundleTorture();
  const [program, ...args] = tortureCommand(process.argv.slice(3));
  const { status } = spawnSync(program, args, { cwd: ROOT, stdio: 'inherit' });
  process.exit(status ?? 1);
}
