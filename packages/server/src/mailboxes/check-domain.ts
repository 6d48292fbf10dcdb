import { judgeDkim, judgeDmarc, judgeSpf, USUAL_SELECTORS, type RecordFinding } from '@baton/core';
import type { AskDns } from './ask-dns';

/** What receivers find about a sender's domain, explained. */
export async function checkDomain(domain: string, dns: AskDns): Promise<RecordFinding[]> {
  const [spf, dmarc, keys] = await Promise.all([
    dns.texts(domain),
    dns.texts(`_dmarc.${domain}`),
    Promise.all(USUAL_SELECTORS.map(async (s) => [s, await dns.texts(`${s}._domainkey.${domain}`)] as const)),
  ]);
  return [judgeSpf(spf), judgeDkim(Object.fromEntries(keys)), judgeDmarc(dmarc)];
}
