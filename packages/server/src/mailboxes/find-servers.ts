import type { FoundServers, ServerChoice } from '@baton/contract';
import type { AskDns } from './ask-dns';

/** Services that say where a domain's mail is sent and read, the safer first (RFC 6186, RFC 8314). */
const SENDING = [
  { service: '_submissions._tcp', security: 'tls' },
  { service: '_submission._tcp', security: 'starttls' },
] as const;
const READING = [
  { service: '_imaps._tcp', security: 'tls' },
  { service: '_imap._tcp', security: 'starttls' },
] as const;

/** Where an address's mail is probably sent and read: as its domain says, else under the usual names. */
export async function findServers(domain: string, dns: AskDns): Promise<FoundServers> {
  const [smtp, imap] = await Promise.all([announced(domain, SENDING, dns), announced(domain, READING, dns)]);
  return {
    smtp: smtp ?? { host: await usual(domain, ['smtp', 'mail'], dns), port: 465, security: 'tls' },
    imap: imap ?? { host: await usual(domain, ['imap', 'mail'], dns), port: 993, security: 'tls' },
    announced: smtp !== null && imap !== null,
  };
}

async function announced(
  domain: string,
  services: readonly { service: string; security: 'tls' | 'starttls' }[],
  dns: AskDns,
): Promise<ServerChoice | null> {
  for (const { service, security } of services) {
    const found = (await dns.services(`${service}.${domain}`)).sort((a, b) => a.priority - b.priority);
    // A single dot says that there is decidedly no such service.
    const best = found.find((f) => f.host !== '' && f.host !== '.');
    if (best) return { host: best.host.replace(/\.$/, ''), port: best.port, security };
  }
  return null;
}

/** The first of the usual names that exists, or the first of them where none is known to. */
async function usual(domain: string, names: readonly string[], dns: AskDns): Promise<string> {
  for (const name of names) if (await dns.exists(`${name}.${domain}`)) return `${name}.${domain}`;
  return `${names[0]}.${domain}`;
}
