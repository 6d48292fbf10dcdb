import { existsSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { build, DEMO_MAIN, SERVER_MAIN, SIMULATOR_MAIN, WEB_DIR } from './build.mjs';
import { claimInstance } from './instance.mjs';
import { requireFree } from './ports.mjs';
import { STATE } from './paths.mjs';
import { preparePackages } from './prepare.mjs';
import { say } from './say.mjs';
import { together } from './together.mjs';

const portOf = (name, fallback) => Number(process.env[name] ?? fallback);

/** When the demo's history begins: four weeks and a day before the day it shows. */
const BEGINS = '2026-10-26T06:00:00.000Z';

/** `npm run demo`: everything prepared, started and filled in; ends with Ctrl+C. */
export async function demo() {
  const ports = {
    web: portOf('BATON_PORT', 4310),
    public: portOf('BATON_PUBLIC_PORT', 4311),
    smtp: portOf('BATON_SIMULATOR_SMTP_PORT', 4325),
    imap: portOf('BATON_SIMULATOR_IMAP_PORT', 4343),
    signIn: portOf('BATON_SIMULATOR_SIGN_IN_PORT', 4381),
    control: portOf('BATON_SIMULATOR_CONTROL_PORT', 4380),
  };
  const address = `http://127.0.0.1:${ports.web}`;
  await together(claimInstance('demo', address), async ({ processes, lost, useCluster }) => {
    await requireFree(ports.web, 'its web page', 'BATON_PORT');
    await requireFree(ports.public, 'its pages for recipients', 'BATON_PUBLIC_PORT');
    await requireFree(ports.smtp, 'the simulator’s SMTP', 'BATON_SIMULATOR_SMTP_PORT');
    await requireFree(ports.imap, 'the simulator’s IMAP', 'BATON_SIMULATOR_IMAP_PORT');
    await requireFree(ports.signIn, 'the simulator’s sign-in', 'BATON_SIMULATOR_SIGN_IN_PORT');
    await requireFree(ports.control, 'the simulator’s control desk', 'BATON_SIMULATOR_CONTROL_PORT');
    preparePackages();
    await build();
    const filled = join(STATE, 'demo-filled');
    const journal = join(STATE, 'simulator.journal');
    const cluster = await useCluster('demo-postgres');
    // A filling that was broken off begins again from nothing.
    if (!existsSync(filled)) {
      rmSync(journal, { force: true });
      cluster.dropDatabase('baton_demo');
    }
    cluster.createDatabase('baton_demo');
    const env = {
      DATABASE_URL: cluster.url('baton_demo'),
      BATON_PORT: String(ports.web),
      BATON_PUBLIC_PORT: String(ports.public),
      BATON_PUBLIC_ADDRESS: `http://127.0.0.1:${ports.public}`,
      BATON_KEY_FILE: join(STATE, 'demo.key'),
      BATON_WEB_DIR: WEB_DIR,
      BATON_SIMULATOR_URL: `http://127.0.0.1:${ports.control}`,
      BATON_SIMULATOR_SMTP_PORT: String(ports.smtp),
      BATON_SIMULATOR_IMAP_PORT: String(ports.imap),
      BATON_SIMULATOR_SIGN_IN_PORT: String(ports.signIn),
      BATON_SIMULATOR_CONTROL_PORT: String(ports.control),
      BATON_SIMULATOR_JOURNAL: journal,
      BATON_SIMULATED_START: BEGINS,
      BATON_WORKSPACE: 'Tidewater Kelp Works',
      BATON_POSTAL_ADDRESS: 'Tidewater Kelp Works, 4 Slip Road, Carrow Bay',
      BATON_ZONE: 'Europe/Dublin',
    };
    await processes.run('The migration', SERVER_MAIN, ['migrate'], env);
    await processes.start('The simulator', SIMULATOR_MAIN, [], env, lost('The simulator'));
    await processes.keep('The server', SERVER_MAIN, ['serve'], env);
    await processes.keep('The worker', SERVER_MAIN, ['work'], env);
    if (!existsSync(filled)) {
      say('Filling in Tidewater Kelp Works: four weeks of sending');
      // A filling that is broken off begins again from nothing, so it need not survive a power cut.
      cluster.setSafeCommits(false);
      await processes.run('Filling in the demo', DEMO_MAIN, [address], env);
      cluster.setSafeCommits(true);
      writeFileSync(filled, 'yes');
    }
    say(`\nBaton is ready:  ${address}\nCtrl+C stops it.`);
    process.send?.({ ready: true, address });
  });
}
