import { spawnSync } from 'node:child_process';
import { build, COMMANDS_MAIN } from './build.mjs';
import { preparePackages } from './prepare.mjs';
import { keepOutputForData } from './say.mjs';

/** Tools that take and give open formats: `baton check-list FILE`, `baton plan FILE.json`, `baton read-mail FILE…`. */
export async function command() {
  keepOutputForData();
  preparePackages();
  await build({ web: false });
  const { status } = spawnSync(process.execPath, [COMMANDS_MAIN, ...process.argv.slice(2)], { stdio: 'inherit' });
  process.exit(status ?? 1);
}
