import { ENDING_BOUNCES, KINDS_WITH_OUTCOME, type ResultCounts } from '@baton/core';
import type pg from 'pg';

const BOUNCES: readonly string[] = ENDING_BOUNCES;

interface Seen {
  delivery: number;
  of: number;
  opens: number;
  machine: number;
  firstClick: string | null;
  firstOpen: string | null;
  country: string | null;
}

/** Somebody to whom something has left, with all that became of it. */
export interface Person {
  id: number;
  campaignId: number;
  contactId: number;
  variant: number;
  state: string;
  openedAt: number | null;
  clickedAt: number | null;
  sent: { step: number; at: number; mailboxId: number; id: number; versionId: number | null; seen: Seen | null }[];
  bouncedBy: string;
  country: string | null;
  replies: { at: number; id: number; deliveryId: number | null; outcome: string | null }[];
  complained: boolean;
  byPrograms: boolean;
}

/** Everybody to whom something has left, put together from the tables by nothing but loops. */
export async function everybody(pool: pg.Pool): Promise<Person[]> {
  const all = async <T>(text: string) => (await pool.query(text)).rows as T[];
  const sent = await all<{ id: number; of: number; step: number; at: string; mailbox: number; version: number | null }>(
    'select id, enrolment_id as of, step, sent_at as at, mailbox_id as mailbox, version_id as version from deliveries where sent_at is not null',
  );
  const mails = await all<{
    id: number;
    of: number;
    at: string;
    kind: string;
    outcome: string | null;
    delivery: number | null;
  }>(
    'select id, enrolment_id as of, received_at as at, kind, outcome, delivery_id as delivery from incoming where enrolment_id is not null',
  );
  const events = await all<{ of: number; contact: number; kind: string }>(
    'select enrolment_id as of, contact_id as contact, kind from events where undone_at is null order by id',
  );
  const seen = await all<Seen>(
    `select delivery_id as delivery, enrolment_id as of, opens, by_machine as machine, country,
      first_click_at as "firstClick", first_open_at as "firstOpen" from delivery_signals`,
  );
  const rows = await all<Omit<Person, 'sent'> & { openedAt: string | null; clickedAt: string | null }>(
    `select id, campaign_id as "campaignId", contact_id as "contactId", variant, state, opened_at as "openedAt", clicked_at as "clickedAt" from enrolments`,
  );
  const order = <T extends { at: number; id: number }>(a: T, b: T) => a.at - b.at || a.id - b.id;
  return rows
    .map((e): Person => ({
      ...e,
      openedAt: e.openedAt === null ? null : Number(e.openedAt),
      clickedAt: e.clickedAt === null ? null : Number(e.clickedAt),
      sent: sent
        .filter((d) => d.of === e.id)
        .map((d) => ({
          ...{ id: d.id, step: d.step, at: Number(d.at), mailboxId: d.mailbox, versionId: d.version },
          seen: seen.find((s) => s.delivery === d.id) ?? null,
        }))
        .sort(order),
      replies: mails
        .filter((m) => m.of === e.id && (KINDS_WITH_OUTCOME as readonly string[]).includes(m.kind))
        .map((m) => ({ id: m.id, at: Number(m.at), deliveryId: m.delivery, outcome: m.outcome }))
        .sort(order),
      complained: events.some((v) => v.kind === 'complaint' && v.of === e.id && v.contact === e.contactId),
      bouncedBy:
        events.filter((v) => v.of === e.id && v.contact === e.contactId && BOUNCES.includes(v.kind)).at(-1)?.kind ??
        'hard_bounce',
      country:
        seen
          .filter((s) => s.of === e.id && s.country !== null)
          .sort(
            (a, b) => Number(a.firstClick ?? Infinity) - Number(b.firstClick ?? Infinity) || a.delivery - b.delivery,
          )[0]?.country ?? null,
      byPrograms: seen.some((s) => s.of === e.id && s.machine > 0) && !seen.some((s) => s.of === e.id && s.opens > 0),
    }))
    .filter((p) => p.sent.length > 0);
}

export const outcomeOf = (p: Person) => p.replies.filter((r) => r.outcome !== null).at(-1)?.outcome ?? null;

/** What results have to say of these people. */
export function counted(people: readonly Person[]): ResultCounts {
  const how = (is: (p: Person) => boolean) => people.filter(is).length;
  return {
    written: people.length,
    bounced: how((p) => p.state === 'bounced'),
    unreachable: how((p) => p.state === 'bounced' && p.bouncedBy === 'soft_bounce'),
    blocked: how((p) => p.state === 'bounced' && p.bouncedBy === 'blocked'),
    unsubscribed: how((p) => p.state === 'unsubscribed'),
    complained: how((p) => p.complained),
    opened: how((p) => p.openedAt !== null),
    clicked: how((p) => p.clickedAt !== null),
    byPrograms: how((p) => p.byPrograms),
    replied: how((p) => p.replies.length > 0),
    interested: how((p) => ['interested', 'meeting'].includes(outcomeOf(p) ?? '')),
    meetings: how((p) => outcomeOf(p) === 'meeting'),
  };
}

/** Somebody as far as one message is concerned: only the last one led to their end. */
export function asReader(p: Person, step: number): Person[] {
  const message = p.sent.find((d) => d.step === step);
  if (!message) return [];
  const { seen } = message;
  const isLast = p.sent.at(-1) === message;
  return [
    {
      ...p,
      state: isLast ? p.state : 'in_progress',
      complained: isLast && p.complained,
      openedAt: seen?.firstOpen == null ? null : 0,
      clickedAt: seen?.firstClick == null ? null : 0,
      byPrograms: seen !== null && seen.machine > 0 && seen.opens === 0,
      replies: stepReplied(p) === step ? p.replies : [],
    },
  ];
}

/** The step that their first reply answers. */
export const stepReplied = (p: Person): number | undefined =>
  (
    p.sent.find((d) => d.id === p.replies[0]?.deliveryId) ??
    p.sent.filter((d) => d.at <= (p.replies[0]?.at ?? -1)).at(-1)
  )?.step;
