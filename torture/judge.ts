import pg from 'pg';
import type { Taken } from './sink';

/** A time during which nothing was to leave, or from which on nothing was to leave to somebody. */
export interface Ban {
  what: 'held' | 'suppressed' | 'replied';
  /** The address it is about; null for everybody. */
  address: string | null;
  from: number;
  to: number;
}

export interface Verdict {
  taken: number;
  /** What must be empty, in sentences. */
  twice: string[];
  lost: string[];
  overQuota: string[];
  afterStop: string[];
  /** How many are unconfirmed, by what the database says of why. */
  unconfirmed: Record<string, number>;
  states: Record<string, number>;
}

interface Attempt {
  deliveryId: number;
  messageId: string;
  mailbox: string;
  quota: number;
  day: number;
  startedAt: number;
  state: string;
  reason: string;
  to: string;
}

/** Compares what the sink took with what the database says. */
export async function judge(databaseUrl: string, ledger: readonly Taken[], bans: readonly Ban[]): Promise<Verdict> {
  const database = new pg.Client({ connectionString: databaseUrl });
  await database.connect();
  const { rows: attempts } = await database.query<Attempt>(`
    select d.id as "deliveryId", a.message_id as "messageId", m.address as mailbox, m.daily_quota as quota,
      floor(a.started_at / 86400000)::int as day, a.started_at::float8 as "startedAt", d.state, d.reason, p.key as to
    from attempts a join deliveries d on d.id = a.delivery_id join mailboxes m on m.id = a.mailbox_id
    join enrolments e on e.id = d.enrolment_id join contacts p on p.id = e.contact_id`);
  const { rows: deliveries } = await database.query<{ state: string; reason: string; n: number }>(
    'select state, reason, count(*)::int as n from deliveries group by state, reason',
  );
  await database.end();
  // Tests of a connection are messages to the mailbox itself.
  const own = ledger.filter((t) => t.to[0] !== t.from);
  const byId = new Map(attempts.map((a) => [a.messageId, a]));
  const takenIds = new Set(own.map((t) => t.messageId));
  const states: Record<string, number> = {};
  const unconfirmed: Record<string, number> = {};
  for (const { state, reason, n } of deliveries) {
    states[state] = (states[state] ?? 0) + n;
    if (state === 'unconfirmed') unconfirmed[reason] = (unconfirmed[reason] ?? 0) + n;
  }
  return {
    taken: own.length,
    twice: twice(own),
    lost: [
      ...own.filter((t) => !byId.has(t.messageId)).map((t) => `${t.to[0]}: taken, and no try is known`),
      ...own
        .map((t) => byId.get(t.messageId))
        .filter((a) => a && !['sent', 'unconfirmed', 'sending'].includes(a.state))
        .map((a) => `${a?.to}: taken, and ${a?.state} (${a?.reason})`),
      ...sentWithoutTaking(attempts, takenIds),
    ],
    overQuota: overQuota(own, byId),
    afterStop: own.flatMap((t) => {
      const a = byId.get(t.messageId);
      const ban = a && bans.find((b) => (b.address ?? a.to) === a.to && a.startedAt > b.from && a.startedAt < b.to);
      return ban ? [`${a.to}: begun ${a.startedAt - ban.from} ms after it was ${ban.what}`] : [];
    }),
    unconfirmed,
    states,
  };
}

function twice(own: readonly Taken[]): string[] {
  const count = new Map<string, number>();
  for (const t of own) {
    const key = `${t.to[0]} ${t.isFollowUp ? 'follow-up' : 'first message'}`;
    count.set(key, (count.get(key) ?? 0) + 1);
  }
  return [...count].filter(([, n]) => n > 1).map(([key, n]) => `${key}: ${n} times`);
}

/** Messages that count as sent, none of whose tries the sink took. */
function sentWithoutTaking(attempts: readonly Attempt[], takenIds: ReadonlySet<string>): string[] {
  const byDelivery = new Map<number, Attempt[]>();
  for (const a of attempts) byDelivery.set(a.deliveryId, [...(byDelivery.get(a.deliveryId) ?? []), a]);
  return [...byDelivery.values()]
    .filter(([first]) => first?.state === 'sent')
    .filter((tries) => !tries.some((a) => takenIds.has(a.messageId)))
    .map(([first]) => `${first?.to}: counts as sent, and was never taken`);
}

function overQuota(own: readonly Taken[], byId: ReadonlyMap<string, Attempt>): string[] {
  const count = new Map<string, { n: number; quota: number }>();
  for (const t of own) {
    const a = byId.get(t.messageId);
    if (!a) continue;
    const key = `${a.mailbox} on day ${a.day}`;
    count.set(key, { n: (count.get(key)?.n ?? 0) + 1, quota: a.quota });
  }
  return [...count].filter(([, { n, quota }]) => n > quota).map(([key, { n, quota }]) => `${key}: ${n} of ${quota}`);
}
