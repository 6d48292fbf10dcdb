import { knownRecords, type RecordFinding } from '@baton/core';
import { eq, sql } from 'drizzle-orm';
import type { Queryable } from '../database';
import { domainRecords } from '../schema/schema';

/** Domains of mailboxes that are to be looked at now, or never were. */
export async function domainsToLookAt(db: Queryable, nowMs: number): Promise<string[]> {
  const { rows } = await db.execute<{ domain: string }>(sql`
    select distinct d.domain from (select substring(m.address from '[^@]*$') as domain from mailboxes m) d
    left join domain_records r on r.domain = d.domain
    where r.domain is null or r.again_at <= ${nowMs}
    order by d.domain`);
  return rows.map((r) => r.domain);
}

/** What is known of the records of each domain that was looked at. */
export async function readDomainRecords(db: Queryable): Promise<Map<string, RecordFinding[]>> {
  const rows = await db.select({ domain: domainRecords.domain, findings: domainRecords.findings }).from(domainRecords);
  return new Map(rows.map((r) => [r.domain, r.findings]));
}

/** Keeps what was found. @returns what is known now, and whether that is anything new */
export async function keepDomainRecords(
  db: Queryable,
  row: { domain: string; findings: RecordFinding[]; lookedAt: number; againAt: number },
): Promise<{ findings: RecordFinding[]; isNew: boolean }> {
  return db.transaction(async (tx) => {
    const [before] = await tx.select().from(domainRecords).where(eq(domainRecords.domain, row.domain)).for('update');
    const kept = { ...row, findings: knownRecords(before?.findings ?? null, row.findings) };
    await tx.insert(domainRecords).values(kept).onConflictDoUpdate({ target: domainRecords.domain, set: kept });
    const words = (findings: RecordFinding[] = []) => findings.map((f) => f.words).join();
    return { findings: kept.findings, isNew: words(kept.findings) !== words(before?.findings) };
  });
}
