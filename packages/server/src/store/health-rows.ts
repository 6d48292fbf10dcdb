import type { SentOutcome } from '@baton/core';
import { sql } from 'drizzle-orm';
import type { Queryable } from './database';

/** What came of the messages of a mailbox, newest first: all handed over since an instant, `most` at most. */
export async function sentOutcomes(
  db: Queryable,
  mailboxId: number,
  afterMs: number,
  most: number,
): Promise<SentOutcome[]> {
  const { rows } = await db.execute<{ at: string; kinds: string[]; verdict: string }>(sql`
    select a.started_at as at, a.verdict,
      coalesce((select array_agg(e.kind) from events e where e.delivery_id = a.delivery_id), '{}') as kinds
    from attempts a
    where a.mailbox_id = ${mailboxId} and a.started_at > ${afterMs} and a.verdict in ('accepted', 'permanent', 'too_much', 'mailbox_refused')
    order by a.started_at desc limit ${most}`);
  return rows.map(({ at, kinds, verdict }) => ({ sentAt: Number(at), result: resultOf(kinds, verdict) }));
}

/** The worst of what happened to a message, or the answer to it. */
function resultOf(kinds: readonly string[], verdict: string): SentOutcome['result'] {
  if (kinds.includes('complaint')) return 'complaint';
  if (kinds.includes('bounce')) return 'hard_bounce';
  if (kinds.includes('soft_bounce')) return 'soft_bounce';
  if (verdict !== 'accepted') return 'refused';
  return kinds.includes('reply') ? 'reply' : 'nothing';
}
