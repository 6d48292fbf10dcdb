import { isoDate } from '@baton/core';
import type { ServerParts } from '../http/context';
import { readWorkspace } from '../store/workspace-rows';
import { zones } from './zones';

/** The workspace's own date of today, as an ISO date. */
export async function localToday({ store, clock }: Pick<ServerParts, 'store' | 'clock'>): Promise<string> {
  const { zone } = await readWorkspace(store.db);
  return isoDate(zones.get(zone).toLocal(await clock.now()).day);
}
