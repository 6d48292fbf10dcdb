import { DAY_MS, HOUR_MS } from '@baton/core';
import type { Duty } from '../../duties/duty';
import { announce } from '../../store/changes';
import type { Store } from '../../store/database';
import { purgeMessages } from '../../store/messages/message-rows';
import { firstRemoved, purgeRemoved } from '../../store/people/list/purge-rows';
import { KEPT_DAYS } from './kept-days';

/** Removes for good what was deleted {@link KEPT_DAYS} days ago. */
export function purgeDuty(store: Store): Duty {
  return {
    name: 'remove what was deleted',
    eventful: false,
    // Whether something goes an hour later, nobody sees; looking for it takes a while in large lists.
    askEveryMs: HOUR_MS,
    nextDue: async () => {
      const first = await firstRemoved(store.db);
      return first === null ? null : first + KEPT_DAYS * DAY_MS;
    },
    run: async (nowMs) => {
      const before = nowMs - KEPT_DAYS * DAY_MS;
      const gone = (await purgeRemoved(store.db, before)) + (await purgeMessages(store.db, before));
      if (gone > 0) await announce(store.db, 'people', 'messages');
      return gone;
    },
  };
}
