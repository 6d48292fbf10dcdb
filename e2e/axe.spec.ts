import AxeBuilder from '@axe-core/playwright';
import { expect, test, type Stack } from './stack';
import type { Page } from '@playwright/test';

const PASSWORD = 'correct horse';

/** Speaks to the API as the interface does. */
const caller =
  (stack: Stack) =>
  async <T>(method: string, path: string, body?: unknown): Promise<T> => {
    const headers = { 'content-type': 'application/json', 'x-baton': '1' };
    const answer = await fetch(`${stack.address}/api${path}`, {
      method,
      headers,
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    });
    if (!answer.ok) throw new Error(`${method} ${path}: ${answer.status} ${await answer.text()}`);
    return (answer.status === 204 ? undefined : await answer.json()) as T;
  };

interface Made {
  listId: number;
  messageId: number;
  runningId: number;
  draftId: number;
  mailboxId: number;
  contactId: number;
}

/** A workspace in which every screen has something to show. */
async function makeWorkspace(stack: Stack): Promise<Made> {
  const call = caller(stack);
  const address = 'ines@tidewaterkelp.example';
  await stack.simulator('POST', '/accounts', { address, password: PASSWORD, dailyLimit: 500 });
  const server = (port: number) => ({ host: '127.0.0.1', port, security: 'none' });
  const weekday = [[540, 1020]];
  const mailbox = await call<{ id: number }>('POST', '/mailboxes', {
    ...{ address, senderName: 'Ines Aldrich', signature: 'Ines', username: address, password: PASSWORD },
    ...{ smtp: server(stack.smtpPort), imap: server(stack.imapPort), zone: 'Europe/Dublin' },
    windows: [weekday, weekday, weekday, weekday, weekday, [], []],
    ...{ dailyQuota: 20, ramp: null, providerLimit24h: null, paceSeconds: 60 },
    ...{ archiveFolder: '', replyTo: '', daysOff: [] },
  });
  const personas = ['keen', 'keen', 'unknown', 'asks_out', 'silent', 'silent', 'reader', 'reader'];
  for (const [i, persona] of personas.entries())
    await stack.simulator('PUT', `/people/p${i}@vines.example`, { persona });
  const rows = personas.map((_, i) => `p${i}@vines.example,Given${i},Estate ${i},${i % 2 ? 'North' : 'South'}`);
  const form = await fetch(`${stack.address}/api/imports?name=growers.csv`, {
    method: 'POST',
    headers: { 'x-baton': '1', 'content-type': 'application/octet-stream' },
    body: ['email,first name,company,region', ...rows].join('\n'),
  });
  const view = (await form.json()) as { id: number };
  const { listId } = await call<{ listId: number }>('POST', `/imports/${view.id}/keep`, { name: 'Growers' });
  await call('POST', '/suppressions', { what: 'slate.example', reason: 'asked by phone' });
  const body = {
    type: 'doc',
    content: [{ type: 'paragraph', content: [{ type: 'text', text: 'Hello {{ first name }}' }] }],
  };
  const content = {
    ...{ subject: 'Kelp for {{ company }}', preview: '', body, format: 'letter', layout: null, plain: null },
    ...{ senderName: '', replyTo: '', cc: '', bcc: '', attachments: [] },
  };
  const message = await call<{ id: number }>('POST', '/messages', { name: 'Trial', content });
  const campaign = async (name: string) => {
    const { id } = await call<{ id: number }>('POST', '/campaigns', { name });
    const step = (delay: number) => ({ messageId: message.id, others: [], delay, tolerance: delay === 0 ? 0 : 2 });
    await call('PUT', `/campaigns/${id}`, {
      ...{ revision: 0, name, listId, segmentId: null, steps: [step(0), step(3)], mailboxIds: [mailbox.id] },
      ...{ startDate: '2026-11-02', window: { weekdays: [1, 2, 3, 4, 5], from: 540, to: 990 } },
      ...{ windowZone: 'recipient', dailyLimit: null, share: 1, leaveOutBlank: false, leaveOutDoubtful: null },
      ...{ enrolNew: false, variants: [], needsLines: false },
    });
    return id;
  };
  const runningId = await campaign('Vineyards');
  const { forecast } = await call<{ forecast: { people: number; lastDay: string } }>('GET', `/campaigns/${runningId}`);
  await call('POST', `/campaigns/${runningId}/start`, { people: forecast.people, lastDay: forecast.lastDay });
  const draftId = await campaign('Orchards');
  await call('PUT', '/clock', { untilMs: Date.parse('2026-11-04T12:00:00Z') });
  await expect
    .poll(async () => (await call<{ clock: { driving: boolean } }>('GET', '/shell')).clock.driving)
    .toBe(false);
  const { people } = await call<{ people: { contactId: number }[] }>('GET', `/campaigns/${runningId}/recipients`);
  return {
    ...{ listId, messageId: message.id, runningId, draftId, mailboxId: mailbox.id },
    contactId: people[0]?.contactId ?? 0,
  };
}

/** Every main screen, with what shows that it has loaded. */
const screens = (made: Made): [name: string, path: string, ready: string][] => [
  ['Today', '/today', 'Needs you'],
  ['People', `/people/${made.listId}`, 'p0@vines.example'],
  ['Import', '/people/import', 'Drop a file of people here'],
  ['a person', `/people/person/${made.contactId}`, 'History'],
  ['the suppression list', '/people/suppressions', 'slate.example'],
  ['a message', `/messages/${made.messageId}`, 'Worth reading first'],
  ['the library', '/messages/library', 'None yet'],
  ['personal lines', `/messages/${made.messageId}/lines/${made.listId}`, 'Approve, next'],
  ['Campaigns', '/campaigns', 'Vineyards'],
  ['a draft’s brief', `/campaigns/${made.draftId}`, 'Plan if nobody replies'],
  ['a running brief', `/campaigns/${made.runningId}`, 'Recipients'],
  ['Plan', '/plan', 'Campaigns by end date'],
  ['Plan by campaign', '/plan?by=campaign', 'Campaigns by end date'],
  ['Mailboxes', '/mailboxes', 'Rules for all mailboxes'],
  ['a mailbox', `/mailboxes/${made.mailboxId}`, 'The last 14 days'],
  ['Replies', '/replies', 'To decide'],
  ['Results', '/results', 'Campaigns side by side'],
  ['a campaign’s results', `/results/${made.runningId}`, 'When replies came'],
  ['Activity', '/activity', 'What'],
  ['Settings', '/settings', 'Postal address'],
  ['Simulated inboxes', '/inboxes', 'The simulator accepted'],
];

async function faults(page: Page): Promise<string[]> {
  // The message itself is the writer's; its frame takes no script, and so cannot be looked into.
  const rules = { 'label-content-name-mismatch': { enabled: true } };
  const { violations } = await new AxeBuilder({ page }).options({ rules }).exclude('iframe').analyze();
  return violations.flatMap((v) =>
    v.nodes.map((n) => `${v.id}: ${n.target.join(' ')} — ${n.failureSummary?.split('\n')[1]?.trim() ?? ''}`),
  );
}

test('axe finds nothing on any main screen, light or dark', async ({ page, stack }) => {
  const made = await makeWorkspace(stack);
  const found: string[] = [];
  for (const [name, path, ready] of screens(made)) {
    await page.goto(stack.address + path);
    await expect(page.getByText(ready).first()).toBeVisible();
    for (const colorScheme of ['light', 'dark'] as const) {
      await page.emulateMedia({ colorScheme, reducedMotion: 'reduce' });
      found.push(...(await faults(page)).map((fault) => `${name}, ${colorScheme}: ${fault}`));
    }
  }
  expect(found).toEqual([]);
});
