import { DAY_MS, HOUR_MS, judgeDkim, judgeDmarc, judgeSpf, USUAL_SELECTORS, type RecordFinding } from '@baton/core';
import pLimit from 'p-limit';
import { announce } from '../store/changes';
import { LOCKS, withLock, type Store } from '../store/database';
import { domainsToLookAt, keepDomainRecords } from '../store/mailboxes/domain-record-rows';
import type { WorkspaceClock } from '../time/workspace-clock';
import type { AskDns } from './ask-dns';

/** Domains looked at side by side. */
const AT_ONCE = 10;

/** What receivers find about a sender's domain, explained. */
export async function checkDomain(domain: string, dns: AskDns): Promise<RecordFinding[]> {
  const [spf, dmarc, keys] = await Promise.all([
    dns.texts(domain),
    dns.texts(`_dmarc.${domain}`),
    Promise.all(USUAL_SELECTORS.map(async (s) => [s, await dns.texts(`${s}._domainkey.${domain}`)] as const)),
  ]);
  return [judgeSpf(spf), judgeDkim(Object.fromEntries(keys)), judgeDmarc(dmarc)];
}

interface Looking {
  store: Store;
  clock: WorkspaceClock;
  dns: AskDns;
}

/** Looks at a domain and keeps what was found: for a day, or for an hour where nobody answered. @returns what is known now */
export async function lookAtDomain(domain: string, { store, clock, dns }: Looking): Promise<RecordFinding[]> {
  const found = await checkDomain(domain, dns);
  const lookedAt = await clock.now();
  const againAt = lookedAt + (found.some((f) => f.state === 'unknown') ? HOUR_MS : DAY_MS);
  const { findings, isNew } = await keepDomainRecords(store.db, { domain, findings: found, lookedAt, againAt });
  if (isNew) await announce(store.db, 'mailboxes', 'campaigns');
  return findings;
}

/** Looks at the domains of all mailboxes once a day, so that a brief need not wait for a resolver. @returns how many */
export async function lookAtDomains(looking: Looking): Promise<number> {
  const { store, clock } = looking;
  const due = async () => domainsToLookAt(store.db, await clock.now());
  if ((await due()).length === 0) return 0;
  const looked = await withLock(store, LOCKS.domainRecords, 0, async () => {
    const domains = await due();
    const limit = pLimit(AT_ONCE);
    await Promise.all(domains.map((domain) => limit(() => lookAtDomain(domain, looking))));
    return domains.length;
  });
  return looked ?? 0;
}
