import type { Queryable, Store } from '../store/database';
import { FAILED, failedBy } from '../store/database-errors';

/** How often a change is tried again that met others in a deadlock. */
const MOST_TRIES = 3;

/** A change of many rows, tried again where it met others in a deadlock. */
export async function unlessDeadlocked(store: Store, work: (tx: Queryable) => Promise<void>): Promise<void> {
  for (let tries = 1; ; tries++) {
    try {
      return await store.db.transaction(work);
    } catch (error) {
      if (tries >= MOST_TRIES || !failedBy(error, FAILED.deadlock)) throw error;
    }
  }
}
