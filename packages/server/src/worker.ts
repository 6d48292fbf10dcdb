import type { Logger } from 'pino';
import type { Config } from './config';
import { Conductor } from './duties/conductor';
import { simulatedWorld, simulatorClient } from './duties/simulated-world';
import { createConnections } from './mailboxes/connections';
import { forLog } from './log/for-log';
import { replanDuty } from './planning/plan-workspace';
import { readDuty, readMailboxNow, type ReadingParts } from './reading/read-duty';
import type { Secrets } from './security/secrets';
import { CompiledMessages } from './sending/compose';
import { recoverAll } from './sending/recover';
import { sendDuty } from './sending/send-duty';
import type { Store } from './store/database';
import { systemClock } from './time/system-clock';
import { workspaceClock } from './time/workspace-clock';

/** Pause between two looks when nothing was due. */
const IDLE_MS = 100;

export interface Worker {
  /** Finishes what is under way and stops. */
  stop(): Promise<void>;
}

/** Does Baton's duties until it is stopped. Any number of workers may share one database. */
export function startWorker(parts: { store: Store; config: Config; secrets: Secrets; log: Logger }): Worker {
  const { store, config, secrets, log } = parts;
  const connections = createConnections(secrets);
  const reading: ReadingParts = {
    store,
    connections,
    readFailed: (mailboxId, error) =>
      log.warn({ mailboxId, code: (error as { code?: string }).code }, 'a mailbox could not be read'),
  };
  const sending = sendDuty({
    store,
    connections,
    secrets,
    publicUrl: config.publicUrl,
    compiled: new CompiledMessages(),
    readNow: async (id, now) => void (await readMailboxNow(reading, id, now)),
    sendFailed: (mailboxId, error) => log.error({ mailboxId, ...forLog(error) }, 'a mailbox could not send'),
  });
  const world = config.simulatorUrl === null ? null : simulatedWorld(simulatorClient(config.simulatorUrl));
  // Reading before sending: an answer that is already there must stop what is about to leave.
  const conductor = new Conductor(store, [readDuty(reading), replanDuty(store), sending], world, systemClock, {
    dutyFailed: (name, error) => log.error({ duty: name, ...forLog(error) }, 'a duty failed'),
  });
  let stopping = false;
  const loop = async () => {
    let recovered = false;
    while (!stopping) {
      let more = false;
      try {
        if (!recovered) await recoverAll({ store, connections }, await workspaceClock(store.db, systemClock).now());
        recovered = true;
        more = await conductor.step();
      } catch (error) {
        log.error(forLog(error), 'the worker stumbled');
      }
      if (!more) await new Promise((resolve) => setTimeout(resolve, IDLE_MS));
    }
  };
  const ended = loop();
  return {
    async stop() {
      stopping = true;
      await ended;
      await connections.close();
    },
  };
}
