import { dirname, join } from 'node:path';
import type { Topic } from '@baton/contract';
import { MINUTE_MS } from '@baton/core';
import type { Logger } from 'pino';
import { endDuty } from './campaigns/end-duty';
import { rowsDuty } from './campaigns/rows-duty';
import { variantDuty } from './campaigns/variant-duty';
import { enrolDuty } from './campaigns/enrol-duty';
import type { Config } from './config';
import { Conductor } from './duties/conductor';
import { SIMULATED_PACE, type Pace } from './duties/duty';
import { simulatedWorld, simulatorClient } from './duties/simulated-world';
import { dnsBy } from './mailboxes/ask-dns';
import { lookAtDomains } from './mailboxes/check-domain';
import { AccessTokens } from './mailboxes/sign-in/access-tokens';
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
import { settleRestored } from './sending/restored';
import { signalDuty } from './signals/signal-duty';
import { sendDuty } from './sending/send-duty';
import { SentMark } from './sending/sent-mark';
import { listenForChanges } from './store/changes';
import { countResults } from './store/results/result-counting';
import type { Store } from './store/database';
import { backOffMs } from './time/back-off';
import { systemClock } from './time/system-clock';
import { workspaceClock } from './time/workspace-clock';

/** Pause between two looks when nothing was due. */
const IDLE_MS = 100;
/** The same in real time: the conductor says when something is due, and what somebody changes wakes it. */
const REAL_IDLE_MS = 1000;
const ASKED_IDLE_MS = 400;
/** Nothing is looked at more often, so that what is due and cannot be done makes no hot loop. */
const LEAST_MS = 50;
/** Pauses after something failed, the first and the longest. */
const FAILED_MS = 250;
const FAILED_MOST_MS = 10_000;

/** How often mailboxes are read. Simulated weeks pass in seconds, in which nobody waits for an answer. */
const READ_EVERY_MS = MINUTE_MS;
const READ_EVERY_SIMULATED_MS = 60 * MINUTE_MS;

/** In real time a slow server holds up its own mailbox only. */
const REAL_PACE: Pace = { now: () => systemClock.now(), waitMs: 50 };

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
  mark: SentMark;
  /** Finds out what has left where the database is from a backup; to be done before each step. */
  settleRestored(): Promise<boolean>;
}

/** All duties under one conductor; nothing runs before its first step. */
export function assembleWorker({ store, config, secrets, log }: WorkerParts): AssembledWorker {
  const clock = workspaceClock(store.db, systemClock);
  const connections = createConnections({ secrets, tokens: new AccessTokens({ store, secrets, clock }) });
  const pace = config.simulatorUrl === null ? REAL_PACE : SIMULATED_PACE;
  const reading: ReadingParts = {
    pace,
    store,
    secrets,
    connections,
    everyMs: config.simulatorUrl === null ? READ_EVERY_MS : READ_EVERY_SIMULATED_MS,
    readFailed: (mailboxId, error) => log.warn({ mailboxId, ...forLog(error) }, 'a mailbox could not be read'),
  };
  const compiled = new CompiledMessages();
  const mark = new SentMark(config.keyFile === '' ? null : join(dirname(config.keyFile), 'sent-mark.json'));
  const sending = sendDuty({
    pace,
    store,
    connections,
    secrets,
    compiled,
    mark,
    readNow: async (id, now, what) => void (await readMailboxNow(reading, id, now, what)),
    sendFailed: (mailboxId, error) => log.error({ mailboxId, ...forLog(error) }, 'a mailbox could not send'),
  });
  const world = config.simulatorUrl === null ? null : simulatedWorld(simulatorClient(config.simulatorUrl));
  // Reading before sending: an answer that is already there must stop what is about to leave.
  const conductor = new Conductor(
    store,
    [
      readDuty(reading),
      feedDuty(store, log),
      endDuty(store),
      enrolDuty(store, { compiled }),
      nightlyPlanDuty(store),
      replanDuty(store),
      sending,
      signalDuty(store),
      variantDuty(store),
      rowsDuty(store, log),
      purgeDuty(store),
    ],
    world,
    systemClock,
    {
      dutyFailed: (name, error) => log.error({ duty: name, ...forLog(error) }, 'a duty failed'),
    },
  );
  let lossesSeen = -1;
  const settle = async () => {
    // A database cannot be restored without breaking its connections.
    const losses = store.losses();
    if (losses === lossesSeen) return false;
    const wasOld = await settleRestored({ store, secrets, connections, mark }, await clock.now());
    if (wasOld) log.warn('the database is from a backup: what has left since was asked of the Sent folders');
    lossesSeen = losses;
    return wasOld;
  };
  return { conductor, connections, mark, settleRestored: settle };
}

/** Waits for its time, and may be woken before it. */
class Sleeper {
  private done: () => void = () => undefined;

  sleep(ms: number): Promise<void> {
    return new Promise((resolve) => {
      const timer = setTimeout(resolve, ms);
      this.done = () => {
        clearTimeout(timer);
        resolve();
      };
    });
  }

  wake(): void {
    this.done();
  }
}

/** Does Baton's duties until it is stopped. Any number of workers may share one database. */
export async function startWorker(parts: WorkerParts): Promise<Worker> {
  const { config, log, store } = parts;
  const { conductor, connections, mark, settleRestored: settle } = assembleWorker(parts);
  let stopping = false;
  const duties = new Sleeper();
  const asked = new Sleeper();
  const isReal = config.simulatorUrl === null;
  // What somebody does wakes it; what it does itself it announces as `progress` and `today`, with every message.
  const wakers: Partial<Record<Topic, Sleeper>> = {
    ...{ clock: duties, campaigns: duties, mailboxes: duties, replies: duties },
    ...{ people: asked, imports: asked },
  };
  const listening = isReal
    ? await listenForChanges(store, (topic) => wakers[topic]?.wake(), Object.keys(wakers) as Topic[])
    : null;
  /** Does something over and over, at the latest when it says; what fails is tried again after growing pauses. */
  const overAndOver = async (sleeper: Sleeper, idleMs: number, words: string, act: () => Promise<number>) => {
    for (let failures = 0; !stopping;) {
      let until = Infinity;
      try {
        until = await act();
        failures = 0;
      } catch (error) {
        failures++;
        log.error(forLog(error), words);
      }
      const untilDue = Math.max(LEAST_MS, until - systemClock.now());
      const pause = failures === 0 ? Math.min(idleMs, untilDue) : backOffMs(failures, FAILED_MS, FAILED_MOST_MS);
      if (!stopping) await sleeper.sleep(pause);
    }
  };
  const clock = workspaceClock(store.db, systemClock);
  const simulator = config.simulatorUrl === null ? null : simulatorClient(config.simulatorUrl);
  const dns = dnsBy(simulator);
  const ask = simulator === null ? askResolver : askSimulator(simulator);
  // Apart from the duties: what a person waits for must not hold up what is due, nor the other way round.
  const askedFor = async () => {
    await takeWantedImports(store, clock, log);
    await askWantedDomains(store, clock, ask);
    await lookAtDomains({ store, clock, dns });
    await countResults(store);
    return Infinity;
  };
  const ended = Promise.all([
    overAndOver(duties, isReal ? REAL_IDLE_MS : IDLE_MS, 'the worker stumbled', async () => {
      await settle();
      return conductor.run(() => stopping);
    }),
    overAndOver(asked, isReal ? REAL_IDLE_MS : ASKED_IDLE_MS, 'work that was asked for stumbled', askedFor),
  ]);
  return {
    async stop() {
      stopping = true;
      duties.wake();
      asked.wake();
      await listening?.close();
      await ended;
      await conductor.settle();
      await connections.close();
      mark.close();
    },
  };
}
