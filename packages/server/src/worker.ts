import { MINUTE_MS } from '@baton/core';
import type { Logger } from 'pino';
import { enrolDuty } from './campaigns/enrol-duty';
import type { Config } from './config';
import { Conductor } from './duties/conductor';
import { simulatedWorld, simulatorClient } from './duties/simulated-world';
import { createConnections, type Connections } from './mailboxes/connections';
import { forLog } from './log/for-log';
import { askResolver, askSimulator, askWantedDomains } from './people/list/ask-domains';
import { takeWantedImports } from './people/import/import-job';
import { feedDuty } from './people/import/feed-duty';
import { purgeDuty } from './people/list/purge-duty';
import { nightlyPlanDuty, replanDuty } from './planning/replan';
import { readDuty, readMailboxNow, type ReadingParts } from './reading/read-duty';
import type { Secrets } from './security/secrets';
import { CompiledMessages } from './messages/compiled-messages';
import { sendDuty } from './sending/send-duty';
import type { Store } from './store/database';
import { systemClock } from './time/system-clock';
import { workspaceClock } from './time/workspace-clock';

/** Pause between two looks when nothing was due. */
const IDLE_MS = 100;
const ASKED_IDLE_MS = 400;

/** How often mailboxes are read. Simulated weeks pass in seconds, in which nobody waits for an answer. */
const READ_EVERY_MS = 3 * MINUTE_MS;
const READ_EVERY_SIMULATED_MS = 60 * MINUTE_MS;

export interface Worker {
  /** Finishes the work under way and stops. */
  stop(): Promise<void>;
}

interface WorkerParts {
  store: Store;
  config: Config;
  secrets: Secrets;
  log: Logger;
}

export interface AssembledWorker {
  conductor: Conductor;
  connections: Connections;
}

/** All duties under one conductor; nothing runs before its first step. */
export function assembleWorker({ store, config, secrets, log }: WorkerParts): AssembledWorker {
  const connections = createConnections(secrets);
  const reading: ReadingParts = {
    store,
    connections,
    everyMs: config.simulatorUrl === null ? READ_EVERY_MS : READ_EVERY_SIMULATED_MS,
    readFailed: (mailboxId, error) => log.warn({ mailboxId, ...forLog(error) }, 'a mailbox could not be read'),
  };
  const compiled = new CompiledMessages();
  const sending = sendDuty({
    store,
    connections,
    secrets,
    publicUrl: config.publicUrl,
    compiled,
    readNow: async (id, now) => void (await readMailboxNow(reading, id, now)),
    sendFailed: (mailboxId, error) => log.error({ mailboxId, ...forLog(error) }, 'a mailbox could not send'),
  });
  const world = config.simulatorUrl === null ? null : simulatedWorld(simulatorClient(config.simulatorUrl));
  // Reading before sending: an answer that is already there must stop what is about to leave.
  const conductor = new Conductor(
    store,
    [
      readDuty(reading),
      feedDuty(store, log),
      enrolDuty(store, { compiled, publicUrl: config.publicUrl }),
      nightlyPlanDuty(store),
      replanDuty(store),
      sending,
      purgeDuty(store),
    ],
    world,
    systemClock,
    {
      dutyFailed: (name, error) => log.error({ duty: name, ...forLog(error) }, 'a duty failed'),
    },
  );
  return { conductor, connections };
}

/** Does Baton's duties until it is stopped. Any number of workers may share one database. */
export function startWorker(parts: WorkerParts): Worker {
  const { log, store } = parts;
  const { conductor, connections } = assembleWorker(parts);
  let stopping = false;
  const loop = async () => {
    while (!stopping) {
      try {
        await conductor.run(() => stopping);
      } catch (error) {
        log.error(forLog(error), 'the worker stumbled');
      }
      if (!stopping) await new Promise((resolve) => setTimeout(resolve, IDLE_MS));
    }
  };
  const clock = workspaceClock(store.db, systemClock);
  const simulator = parts.config.simulatorUrl === null ? null : simulatorClient(parts.config.simulatorUrl);
  const ask = simulator === null ? askResolver : askSimulator(simulator);
  // Apart from the duties: what a person waits for must not hold up what is due, nor the other way round.
  const askedFor = async () => {
    while (!stopping) {
      try {
        await takeWantedImports(store, clock, log);
        await askWantedDomains(store, clock, ask);
      } catch (error) {
        log.error(forLog(error), 'work that was asked for stumbled');
      }
      if (!stopping) await new Promise((resolve) => setTimeout(resolve, ASKED_IDLE_MS));
    }
  };
  const ended = Promise.all([loop(), askedFor()]);
  return {
    async stop() {
      stopping = true;
      await ended;
      await connections.close();
    },
  };
}
