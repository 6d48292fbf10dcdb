import { promises as dns } from 'node:dns';
import type { SimulatorClient } from '../duties/simulated-world';

/** A service of a domain (RFC 2782). */
export interface Service {
  host: string;
  port: number;
  priority: number;
}

/** What Baton asks a resolver about a sender's domain. No answer and no record are the same. */
export interface AskDns {
  texts(name: string): Promise<string[]>;
  services(name: string): Promise<Service[]>;
  /** Whether a name has an address. */
  exists(name: string): Promise<boolean>;
}

/** The machine's own resolver. */
export const machineDns: AskDns = {
  texts: async (name) => (await dns.resolveTxt(name).catch(() => [])).map((parts) => parts.join('')),
  services: async (name) =>
    (await dns.resolveSrv(name).catch(() => [])).map(({ name: host, port, priority }) => ({ host, port, priority })),
  exists: async (name) =>
    (await Promise.allSettled([dns.resolve4(name), dns.resolve6(name)])).some(
      (f) => f.status === 'fulfilled' && f.value.length > 0,
    ),
};

/** The simulator stands in for the resolver. */
export function simulatedDns(simulator: SimulatorClient): AskDns {
  const ask = async (type: string, name: string) =>
    ((await simulator.call('GET', `/records/${encodeURIComponent(`${type} ${name}`)}`)) as { records: string[] })
      .records;
  return {
    texts: (name) => ask('TXT', name),
    services: async (name) =>
      (await ask('SRV', name)).map((record) => {
        const [priority, , port, host] = record.split(' ');
        return { host: host ?? '', port: Number(port), priority: Number(priority) };
      }),
    exists: async (name) => (await ask('A', name)).length > 0,
  };
}
