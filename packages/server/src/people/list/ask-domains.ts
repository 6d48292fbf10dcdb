import { promises as dns } from 'node:dns';
import pLimit from 'p-limit';
import type { SimulatorClient } from '../../duties/simulated-world';
import { announce } from '../../store/changes';
import { LOCKS, withLock, type Store } from '../../store/database';
import { nextDomains, noteDomain } from '../../store/people/list/domain-rows';
import type { WorkspaceClock } from '../../time/workspace-clock';

/** Says whether a server takes mail for a domain. @throws for what cannot be known now */
export type AskDomain = (domain: string) => Promise<boolean>;

const AT_ONCE = 20;
const BATCH = 200;
/** Answers that say for certain that there is nothing. */
const NOTHING = new Set(['ENOTFOUND', 'ENODATA']);

/** Asks the machine's own resolver: mail servers, else an address of the domain itself (RFC 5321 5.1); a null MX takes none (RFC 7505). */
export async function askResolver(domain: string): Promise<boolean> {
  try {
    const servers = await dns.resolveMx(domain);
    if (servers.length > 0) return servers.some((s) => s.exchange !== '' && s.exchange !== '.');
  } catch (error) {
    if (!NOTHING.has((error as { code?: string }).code ?? '')) throw error;
  }
  const found = await Promise.allSettled([dns.resolve4(domain), dns.resolve6(domain)]);
  if (found.some((f) => f.status === 'fulfilled' && f.value.length > 0)) return true;
  const unsure = found.find((f) => f.status === 'rejected' && !NOTHING.has((f.reason as { code?: string }).code ?? ''));
  if (unsure?.status === 'rejected') throw unsure.reason;
  return false;
}

/** The simulator stands in for the resolver. */
export function askSimulator(simulator: SimulatorClient): AskDomain {
  return async (domain) => {
    const answer = await simulator.call('GET', `/domains/${encodeURIComponent(domain)}`);
    return (answer as { mailServers: string[] }).mailServers.length > 0;
  };
}

/** Asks for the domains that are wanted, some at a time. A domain that gives no answer counts as fine: a doubt is no reason. @returns how many */
export async function askWantedDomains(store: Store, clock: WorkspaceClock, ask: AskDomain): Promise<number> {
  if ((await nextDomains(store.db, 1)).length === 0) return 0;
  const done = await withLock(store, LOCKS.askingDomains, 0, async () => {
    const domains = await nextDomains(store.db, BATCH);
    if (domains.length === 0) return 0;
    const nowMs = await clock.now();
    const limit = pLimit(AT_ONCE);
    await Promise.all(
      domains.map((domain) =>
        limit(async () => {
          const takesMail = await ask(domain).catch(() => true);
          await noteDomain(store.db, domain, takesMail, nowMs);
        }),
      ),
    );
    await announce(store.db, 'people');
    return domains.length;
  });
  return done ?? 0;
}
