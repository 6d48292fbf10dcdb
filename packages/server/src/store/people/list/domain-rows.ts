import { DAY_MS } from '@baton/core';
import { isNull, sql } from 'drizzle-orm';
import type { Queryable } from '../../database';
import { mailDomains } from '../../schema/schema';

/** What was asked longer ago than this is asked again. */
const ASKED_DAYS = 30;

/** Notes that a list's domains are to be asked for. @returns how many are */
export async function wantDomains(tx: Queryable, listId: number, nowMs: number): Promise<number> {
  const { rowCount } = await tx.execute(sql`
    insert into mail_domains (domain)
    select distinct c.domain from list_rows r join contacts c on c.id = r.contact_id
    where r.list_id = ${listId} and r.removed_at is null
    on conflict (domain) do update set takes_mail = null
      where mail_domains.asked_at < ${nowMs - ASKED_DAYS * DAY_MS}`);
  return rowCount ?? 0;
}

/** Domains of a list that are still to be asked for. */
export async function domainsToAsk(db: Queryable, listId: number): Promise<number> {
  const { rows } = await db.execute<{ n: number }>(sql`
    select count(*)::int as n from mail_domains m where m.takes_mail is null and exists (
      select from contacts c join list_rows r on r.contact_id = c.id
      where c.domain = m.domain and r.list_id = ${listId} and r.removed_at is null)`);
  return rows[0]?.n ?? 0;
}

/** Whether domains accept mail, of those that have been asked about; null while one is being asked. */
export async function answersOfDomains(
  db: Queryable,
  domains: readonly string[],
): Promise<Map<string, boolean | null>> {
  if (domains.length === 0) return new Map();
  const { rows } = await db.execute<{ domain: string; takesMail: boolean | null }>(sql`
    select domain, takes_mail as "takesMail" from mail_domains
    where domain = any(${sql.param([...domains])}::text[])`);
  return new Map(rows.map((r) => [r.domain, r.takesMail]));
}

export async function nextDomains(db: Queryable, limit: number): Promise<string[]> {
  const rows = await db
    .select({ domain: mailDomains.domain })
    .from(mailDomains)
    .where(isNull(mailDomains.takesMail))
    .limit(limit);
  return rows.map((r) => r.domain);
}

export async function noteDomain(db: Queryable, domain: string, takesMail: boolean, askedAt: number): Promise<void> {
  const set = { takesMail, askedAt };
  await db
    .insert(mailDomains)
    .values({ domain, ...set })
    .onConflictDoUpdate({ target: mailDomains.domain, set });
}
