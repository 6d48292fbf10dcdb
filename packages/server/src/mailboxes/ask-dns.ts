import { NODATA, NOTFOUND, promises } from 'node:dns';
import type { SimulatorClient } from '../duties/simulated-world';

/** A service of a domain (RFC 2782). */
export interface Service {
  host: string;
  port: number;
  priority: number;
}

/** What Baton asks a resolver about a sender's domain; where only a guess depends on it, no answer is the same as no record. */
export interface AskDns {
  /** Null where nobody answered: then nothing can be said. */
  texts(name: string): Promise<string[] | null>;
  services(name: string): Promise<Service[]>;
  /** Whether a name has an address. */
  exists(name: string): Promise<boolean>;
}

/** A resolver that does not answer is not waited for longer than a person would. */
const dns = new promises.Resolver({ timeout: 3000, tries: 2 });

/** Whether an error says that there is no such record, and not that nobody could be asked. */
const isNone = (error: unknown): boolean =>
  [NODATA, NOTFOUND].some((code) => code === (error as NodeJS.ErrnoException).code);

/** The texts of a name's records. @param ask what asks for them */
export async function textsBy(ask: (name: string) => Promise<string[][]>, name: string): Promise<string[] | null> {
  try {
    return (await ask(name)).map((parts) => parts.join(''));
  } catch (error) {
    return isNone(error) ? [] : null;
  }
}

/** The machine's own resolver. */
export const machineDns: AskDns = {
  texts: (name) => textsBy((of) => dns.resolveTxt(of), name),
  services: async (name) =>
    (await dns.resolveSrv(name).catch(() => [])).map(({ name: host, port, priority }) => ({ host, port, priority })),
  exists: async (name) =>
    (await Promise.allSettled([dns.resolve4(name), dns.resolve6(name)])).some(
      (f) => f.status === 'fulfilled' && f.value.length > 0,
    ),
};

/** The simulator stands in for the resolver where there is one. */
export const dnsBy = (simulator: SimulatorClient | null): AskDns =>
  simulator === null ? machineDns : simulatedDns(simulator);

function simulatedDns(simulator: SimulatorClient): AskDns {
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
