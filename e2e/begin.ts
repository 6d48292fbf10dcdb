import type { Stack } from './stack';
import { PASSWORD } from './steps';

/** The server's API, for what a test begins with. */
export function api(stack: Stack) {
  return async <T>(method: string, path: string, body: unknown): Promise<T> => {
    const text = typeof body === 'string';
    const response = await fetch(`${stack.address}/api${path}`, {
      method,
      headers: { 'x-baton': '1', 'content-type': text ? 'text/csv' : 'application/json' },
      body: text ? body : JSON.stringify(body),
    });
    if (!response.ok) throw new Error(`${path}: ${await response.text()}`);
    return (response.status === 204 ? undefined : await response.json()) as T;
  };
}

/**
 * Two mailboxes and a list.
 *
 * @param people rows of the list under that header: addresses, with what else there is about them
 * @returns how a campaign to it is started
 */
export async function begin(stack: Stack, people: readonly string[], header = 'email') {
  const call = api(stack);
  const mailboxIds: number[] = [];
  for (const name of ['ines', 'tomas']) {
    const address = `${name}@tidewaterkelp.example`;
    await stack.simulator('POST', '/accounts', { address, password: PASSWORD });
    const server = (port: number) => ({ host: '127.0.0.1', port, security: 'none' });
    const { id } = await call<{ id: number }>('POST', '/mailboxes', {
      ...{ address, senderName: name, signature: name, username: address, password: PASSWORD },
      ...{ smtp: server(stack.smtpPort), imap: server(stack.imapPort), zone: 'Europe/Dublin' },
      windows: [1, 2, 3, 4, 5, 6, 7].map((d) => (d < 6 ? [[540, 1020]] : [])),
      ...{ dailyQuota: 5, ramp: null, providerLimit24h: null, paceSeconds: 60 },
    });
    mailboxIds.push(id);
  }
  const view = await call<{ id: number }>('POST', '/imports', [header, ...people].join('\n'));
  const { listId } = await call<{ listId: number }>('POST', `/imports/${view.id}/keep`, { name: 'Growers' });
  const message = async (name: string) =>
    call<{ id: number }>('POST', '/messages', {
      ...{ name, content: { subject: name, body: `${name}\n\n{{ unsubscribe_link }}` } },
    });
  const messages = [await message('Kelp'), await message('A reminder'), await message('One last note')];
  return async (name: string, startDate: string, ids = mailboxIds, choices: object = {}): Promise<number> => {
    const { id } = await call<{ id: number }>('POST', '/campaigns', { name });
    const brief = await call<{ forecast: { people: number; lastDay: string } }>('PUT', `/campaigns/${id}`, {
      ...{
        ...{ revision: 0, allowsOthers: true },
        name,
        listId,
        segmentId: null,
        mailboxIds: ids,
        dailyLimit: null,
        leaveOutBlank: false,
        startDate,
      },
      steps: [0, 2].map((delay, i) => ({ messageId: messages[i]?.id, others: [], delay, tolerance: 2 })),
      window: { weekdays: [1, 2, 3, 4, 5], from: 540, to: 1020 },
      ...{ windowZone: 'workspace', leaveOutDoubtful: null, enrolNew: false, variants: [], needsLines: false },
      ...choices,
    });
    const { people: n, lastDay } = brief.forecast;
    await call('POST', `/campaigns/${id}/start`, { people: n, lastDay });
    return id;
  };
}
