import { readSignals, SIGNALS_SETTLE_MS } from '@baton/core';
import { passOverDue } from '../campaigns/pass-over';
import type { Duty } from '../duties/duty';
import { announce } from '../store/changes';
import { addEvents } from '../store/campaigns/event-rows';
import { LOCKS, withLock, type Queryable, type Store } from '../store/database';
import { putReadSignals, signalledMessages } from '../store/signals/signal-rows';

/** Messages in one transaction. */
const AT_ONCE = 200;

/** Tells what people did with messages from what programs did, and passes follow-ups over that can go to somebody no more. */
export function signalDuty(store: Store): Duty {
  return {
    name: 'read opens and clicks',
    eventful: false,
    nextDue: (nowMs, { firstSignalAt, hasToPassOver, nextLastDayEnd }) => {
      const due = [
        hasToPassOver ? nowMs : null,
        firstSignalAt === null ? null : firstSignalAt + SIGNALS_SETTLE_MS,
        nextLastDayEnd,
      ].filter((at) => at !== null);
      return due.length === 0 ? null : Math.min(...due);
    },
    run: async (nowMs) => {
      // The later of two that read the same message would write over what the other had read.
      const done = await withLock(store, LOCKS.signals, 0, async () => {
        let read = 0;
        for (let some = -1; some !== 0; read += some) some = await store.db.transaction((tx) => readSome(tx, nowMs));
        return read;
      });
      return (done ?? 0) + (await passOverDue(store, nowMs));
    },
  };
}

async function readSome(tx: Queryable, nowMs: number): Promise<number> {
  const found = await signalledMessages(tx, nowMs - SIGNALS_SETTLE_MS, AT_ONCE);
  if (found.length === 0) return 0;
  const messages = found.map((m) => {
    const read = readSignals(m.signals, m.sentAt);
    const first = m.signals.find(
      (s, i) => s.kind === 'click' && s.at === read.clicks.firstAt && read.machine[i] === '',
    );
    return { ...m, read, first, country: first?.country ?? null };
  });
  await putReadSignals(tx, messages);
  await addEvents(
    tx,
    messages.flatMap(({ first, wasClicked, contactId, enrolmentId, deliveryId }) =>
      first === undefined || wasClicked
        ? []
        : [{ at: first.at, kind: 'clicked' as const, contactId, enrolmentId, deliveryId, detail: first.link }],
    ),
  );
  await announce(tx, 'progress');
  return found.length;
}
