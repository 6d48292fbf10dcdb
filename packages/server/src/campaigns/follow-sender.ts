import { chooseSender, isLeftOutFor, leftOutReason, type ChosenSender } from '@baton/core';
import { putPeople, removePlannedOf, takeTimes } from '../store/campaigns/change-rows';
import { senderCellsChanged, type SenderCellChanged } from '../store/campaigns/sender-rows';
import { lastSenders, readCampaignMailboxes } from '../store/campaigns/campaign-rows';
import type { Queryable } from '../store/database';
import { listMailboxes } from '../store/mailboxes/mailbox-rows';
import type { PersonStands } from '../store/schema/schema';

/**
 * People whom running campaigns have not written to yet follow their row when it names another mailbox: they are written to from
 * that one, or left out where the campaign does not have it. Whoever a person has moved since stays where they are.
 *
 * @param as whether the rows are now as after the change, or as before it
 * @returns for how many that is something else
 */
export async function followSender(
  tx: Queryable,
  { id: changeId, listId }: { id: number; listId: number },
  as: 'before' | 'after',
  nowMs: number,
): Promise<number> {
  const changed = await senderCellsChanged(tx, changeId);
  let all = 0;
  for (const campaignId of new Set(changed.map((c) => c.campaignId))) {
    const own = changed.filter((c) => c.campaignId === campaignId);
    const ids = (await readCampaignMailboxes(tx, [campaignId])).map((l) => l.mailboxId);
    const mailboxes = (await listMailboxes(tx)).filter((m) => ids.includes(m.id));
    const last = own.some((c) => c.keepsSender) ? await lastSenders(tx, [listId]) : new Map<number, number>();
    const chosen = (row: SenderCellChanged, named: string | null) =>
      chooseSender({ named: named ?? '', lastId: last.get(row.contactId) ?? null }, mailboxes);
    const follow = own.flatMap((row) => {
      const [was, now] = as === 'after' ? [row.before, row.after] : [row.after, row.before];
      const to = stands(row, chosen(row, was), chosen(row, now));
      return to === null ? [] : [{ id: row.id, since: row.state, ...to }];
    });
    // What is just leaving is waited for: it counts as sent, and whoever has got it stays with its mailbox.
    await takeTimes(
      tx,
      campaignId,
      follow.map((f) => f.id),
    );
    const waiting = new Set((await senderCellsChanged(tx, changeId)).map((c) => c.id));
    const moved = follow.filter((f) => waiting.has(f.id));
    await putPeople(tx, moved, nowMs);
    await removePlannedOf(
      tx,
      moved.map((m) => m.id),
    );
    all += moved.length;
  }
  return all;
}

/** How somebody stands with another mailbox named in their row; null where nothing changes for them. */
function stands(row: SenderCellChanged, was: ChosenSender, now: ChosenSender): PersonStands | null {
  const { state, reason, sent, notBefore, mailboxId } = row;
  const isOut = isLeftOutFor('sender', row);
  if (state === 'left_out' ? !isOut : mailboxId !== was.mailboxId) return null;
  if (now.unknown !== '') {
    const why = leftOutReason('sender', now.unknown).words;
    return state === 'left_out' && reason === why
      ? null
      : { state: 'left_out', reason: why, sent, notBefore, mailboxId: null };
  }
  if (!isOut && now.mailboxId === mailboxId) return null;
  return { state: isOut ? 'waiting' : state, reason: isOut ? '' : reason, sent, notBefore, mailboxId: now.mailboxId };
}
