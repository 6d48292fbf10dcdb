import { putSendOns, sendOnsChanged, type SendOnChanged } from '../store/campaigns/own-time-rows';
import type { Queryable } from '../store/database';
import { readWorkspace } from '../store/workspace-rows';
import { startsOn } from './first-message-time';

/**
 * People whom running campaigns have not written to yet follow their row when it says another day or minute on which to send.
 * Whoever a person has given another day since stays there.
 *
 * @param as whether the rows are now as after the change, or as before it
 */
export async function followSendOn(tx: Queryable, changeId: number, as: 'before' | 'after'): Promise<void> {
  const changed = await sendOnsChanged(tx, changeId);
  if (changed.length === 0) return;
  const { zone } = await readWorkspace(tx);
  const stands = (row: SendOnChanged, sendOn: string | null) => startsOn(row, { sendOn, zone: row.zone }, zone);

  const follow = changed.flatMap((row) => {
    const was = stands(row, as === 'after' ? row.before : row.after);
    const isAsInRow = was.notBefore === row.notBefore && was.sendMinute === row.sendMinute;
    return isAsInRow ? [{ id: row.id, ...stands(row, as === 'after' ? row.after : row.before) }] : [];
  });
  await putSendOns(tx, follow);
}
