import { join } from 'node:path';
import { build, SERVER_MAIN, WEB_DIR } from './build.mjs';
import { claimInstance } from './instance.mjs';
import { requireFree } from './ports.mjs';
import { STATE } from './paths.mjs';
import { preparePackages } from './prepare.mjs';
import { say, UserError } from './say.mjs';
import { together } from './together.mjs';

/** `npm start`: the real thing, in real time, with `DATABASE_URL` or a private cluster. */
export async function start() {
  const port = Number(process.env.BATON_PORT ?? 4300);
  const publicPort = Number(process.env.BATON_PUBLIC_PORT ?? 4301);
  const address = `http://127.0.0.1:${port}`;
  await together(claimInstance('start', address), async ({ processes, useCluster }) => {
    await requireFree(port, 'its web page', 'BATON_PORT');
    await requireFree(publicPort, 'its pages for recipients', 'BATON_PUBLIC_PORT');
    preparePackages();
    await build();
    const env = {
      DATABASE_URL: process.env.DATABASE_URL ?? (await privateDatabase(useCluster)),
      BATON_PORT: String(port),
      BATON_PUBLIC_PORT: String(publicPort),
      BATON_KEY_FILE: process.env.BATON_KEY_FILE ?? join(STATE, 'baton.key'),
      BATON_WEB_DIR: WEB_DIR,
    };
    await processes.run('The migration', SERVER_MAIN, ['migrate'], env);
    await processes.keep('The server', SERVER_MAIN, ['serve'], env);
    await processes.keep('The worker', SERVER_MAIN, ['work'], env);
    say(`\nBaton is ready:  ${address}\nCtrl+C stops it.`);
  });
}

/** `npm run worker`: one more worker on the database of `DATABASE_URL`. */
export async function worker() {
  if (!process.env.DATABASE_URL || !process.env.BATON_KEY_FILE)
    throw new UserError('A further worker needs DATABASE_URL and BATON_KEY_FILE, the same as the first.');
  await together(
    () => undefined,
    async ({ processes }) => {
      preparePackages();
      await build();
      await processes.keep('The worker', SERVER_MAIN, ['work'], {});
      say('The worker is running. Ctrl+C stops it.');
    },
  );
}

async function privateDatabase(useCluster) {
  const cluster = await useCluster('postgres');
  cluster.createDatabase('baton');
  return cluster.url('baton');
}
