import { DAY_MS } from '@baton/core';
import type { Duty } from '../duties/duty';
import { announce } from '../store/changes';
import type { Store } from '../store/database';
import { firstRemoved, purgeRemoved } from '../store/purge-rows';

/** How long deleted lists and people taken off a list can come back. */
export const KEPT_DAYS = 30;

/** Removes for good what was deleted {@link KEPT_DAYS} days ago. */
export function purgeDuty(store: Store): Duty {
  return {
    name: 'remove what was deleted',
    eventful: false,
    nextDue: async () => {
      const first = await firstRemoved(store.db);
      return first === null ? null : first + KEPT_DAYS * DAY_MS;
    },
    run: async (nowMs) => {
      const gone = await purgeRemoved(store.db, nowMs - KEPT_DAYS * DAY_MS);
      if (gone > 0) await announce(store.db, 'people');
      return gone;
    },
  };
}
