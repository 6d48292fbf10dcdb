import type { ApiClient } from '../packages/server/src/demo/api-client';
import type { Sink } from './sink';

export const DOMAIN = 'tidewaterkelp.example';
const QUOTA = 45;
/** The last of them have providers that keep no copies. */
const MAILBOXES = 8;
const KEEP_NONE = 2;
/** About as many as can be written to in a second of the trial. */
const PEOPLE_A_SECOND = 3.8;

export interface Scene {
  campaignId: number;
  mailboxIds: number[];
  people: string[];
}

/** Mailboxes, people and a running campaign of two messages, through the API as a page would. */
export async function fillIn(api: ApiClient, sink: Sink, startDate: string, seconds: number): Promise<Scene> {
  const names = Array.from({ length: MAILBOXES }, (_, i) => `m${i}`);
  for (const [i, name] of names.entries())
    sink.store.addAccount({
      ...{ address: `${name}@${DOMAIN}`, password: 'secret', dailyLimit: 1e9 },
      keepsSent: i < MAILBOXES - KEEP_NONE,
    });
  const server = (port: number) => ({ host: '127.0.0.1', port, security: 'none' });
  // Where the machine is slow, the sink may come to the test's message too late: then it is tested again.
  const connect = async (name: string, triesLeft = 30): Promise<number> => {
    const { id, test } = await api.post<{ id: number | null; test: unknown }>('/mailboxes', {
      ...{ address: `${name}@${DOMAIN}`, senderName: 'Ines Aldrich', signature: 'Ines', replyTo: '', daysOff: [] },
      ...{ username: `${name}@${DOMAIN}`, password: 'secret', archiveFolder: '' },
      ...{ smtp: server(sink.smtpPort), imap: server(sink.imapPort), zone: 'UTC' },
      ...{ windows: Array(7).fill([[0, 1440]]), dailyQuota: QUOTA, ramp: null, providerLimit24h: null },
      paceSeconds: 20,
    });
    if (id === null && triesLeft > 0) return connect(name, triesLeft - 1);
    if (id === null) throw new Error(JSON.stringify(test));
    return id;
  };
  const mailboxIds = await Promise.all(names.map((name) => connect(name)));
  const people = Array.from({ length: Math.ceil(PEOPLE_A_SECOND * seconds) }, (_, i) => `p${i}@vines${i % 70}.example`);
  const rows = people.map((address, i) => `${address},P${i}`);
  const view = await api.upload<{ id: number }>('/imports', 'p.csv', ['email,given name', ...rows].join('\n'));
  const { listId } = await api.post<{ listId: number }>(`/imports/${view.id}/keep`, { name: 'All' });
  const message = async (name: string) =>
    (
      await api.post<{ id: number }>('/messages', {
        name,
        content: { subject: `${name} for {{ given_name }}`, body: 'Hello\n\n[Leave]({{ unsubscribe_link }})' },
      })
    ).id;
  const { id } = await api.post<{ id: number }>('/campaigns', { name: 'Trial' });
  const step = async (name: string, delay: number) => ({
    ...{ messageId: await message(name), others: [], delay, tolerance: delay === 0 ? 0 : 3 },
  });
  const brief = await api.put<{ forecast: { people: number; lastDay: string } }>(`/campaigns/${id}`, {
    revision: 0,
    ...{ name: 'Trial', listId, segmentId: null, mailboxIds, dailyLimit: 300, share: 1, leaveOutBlank: false },
    ...{ leaveOutDoubtful: null, enrolNew: false, variants: [], needsLines: false, startDate },
    steps: [await step('Kelp', 0), await step('Reminder', 1)],
    window: { weekdays: [1, 2, 3, 4, 5, 6, 7], from: 0, to: 1440 },
    windowZone: 'workspace',
  });
  const { people: many, lastDay } = brief.forecast;
  await api.post(`/campaigns/${id}/start`, { people: many, lastDay });
  return { campaignId: id, mailboxIds, people };
}
