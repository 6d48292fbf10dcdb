import { pino } from 'pino';
import { TOPICS } from '@baton/contract';
import { HOUR_MS } from '@baton/core';
import { readConfig } from './config';
import { simulatorClient } from './duties/simulated-world';
import type { ServerParts } from './http/context';
import { createApp, createPublicApp, listen } from './http/app';
import { LiveStream } from './http/live-stream';
import { AccessTokens } from './mailboxes/sign-in/access-tokens';
import { CompiledMessages } from './messages/compiled-messages';
import { readKeyFile } from './security/key-file';
import { createSecrets } from './security/secrets';
import { OwnMachine } from './signals/own-machine';
import { listenForChanges } from './store/changes';
import { migrateStore, openStore } from './store/database';
import { countResults } from './store/results/result-counting';
import { ensureWorkspace, UNNAMED, updateWorkspace } from './store/workspace-rows';
import { systemClock } from './time/system-clock';
import { workspaceClock } from './time/workspace-clock';
import { startWorker } from './worker';
import { findOwnMachine } from './workspace/public-address';

/** `main.mjs serve`, `main.mjs work` or `main.mjs migrate`. */
const role = process.argv[2];
const config = readConfig(process.env);
const log = pino({ level: config.logLevel });
const store = openStore(config.databaseUrl);
const secrets = createSecrets(await readKeyFile(config.keyFile));

const FIND_OWN_MS = 6 * HOUR_MS;

async function migrate(): Promise<void> {
  await migrateStore(store);
  // A new form of results may count everybody anew, for which no page is to wait.
  await countResults(store);
  const zone = process.env['BATON_ZONE'] ?? Intl.DateTimeFormat().resolvedOptions().timeZone;
  await ensureWorkspace(store.db, {
    workspace: {
      name: process.env['BATON_WORKSPACE'] ?? UNNAMED,
      zone,
      postalAddress: process.env['BATON_POSTAL_ADDRESS'] ?? '',
    },
    clock: {
      simulated: config.simulatedStartMs !== null,
      nowMs: config.simulatedStartMs ?? 0,
      anchorRealMs: systemClock.now(),
      rate: 0,
    },
  });
  // The demo's links lead to wherever it listens this time.
  if (config.publicAddress !== null) await updateWorkspace(store.db, { publicAddress: config.publicAddress });
  await store.close();
}

async function serve(): Promise<() => Promise<void>> {
  const live = new LiveStream();
  const changes = await listenForChanges(store, (topic) => live.changed(topic), TOPICS);
  const simulator = config.simulatorUrl === null ? null : simulatorClient(config.simulatorUrl);
  const clock = workspaceClock(store.db, systemClock);
  const parts: ServerParts = {
    config,
    store,
    secrets,
    tokens: new AccessTokens({ store, secrets, clock }),
    ownMachine: new OwnMachine(config.simulatorUrl !== null),
    simulator,
    log,
    clock,
    compiled: new CompiledMessages(),
  };
  const app = createApp(parts, live);
  const server = await listen(app, config.host, config.port);
  const publicServer = await listen(createPublicApp(parts), config.publicHost, config.publicPort);
  // Where this machine is seen from outside may change.
  const findOwn = () => void findOwnMachine(parts).catch(() => undefined);
  findOwn();
  const finding = setInterval(findOwn, FIND_OWN_MS);
  return async () => {
    clearInterval(finding);
    live.close();
    for (const listening of [server, publicServer]) {
      listening.closeAllConnections();
      await new Promise((resolve) => listening.close(resolve));
    }
    await changes.close();
    await store.close();
  };
}

async function work(): Promise<() => Promise<void>> {
  const worker = await startWorker({ store, config, secrets, log });
  return async () => {
    await worker.stop();
    await store.close();
  };
}

if (role === 'migrate') {
  await migrate();
} else {
  const stop = await (role === 'serve' ? serve() : work());
  process.send?.({ ready: true });
  let stopping = false;
  const end = () => {
    if (stopping) return;
    stopping = true;
    void stop().then(() => process.exit(0));
  };
  process.once('SIGTERM', end);
  process.once('SIGINT', end);
  // The launcher is gone: nobody would ever stop us.
  process.once('disconnect', end);
}
