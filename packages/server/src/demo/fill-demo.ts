import { weekdayWindows, type FollowUpCondition, type WeekWindows } from '@baton/core';
import {
  MOST_REPLIES,
  type BriefView,
  type FoundProvider,
  type ImportView,
  type MailboxChoices,
  type Outcome,
  type ReplyPage,
  type ShellView,
} from '@baton/contract';
import { createTransport } from 'nodemailer';
import type { ApiClient } from './api-client';
import { demoCsv, KINDS } from './demo-people';
import { TEXTS } from './demo-texts';
import { ProgressLine, type ProgressOutput } from './progress-line';

/** The simulator's control desk, for what only the provider can do: open accounts. */
export interface ProviderDesk {
  call(method: 'POST' | 'PUT', path: string, body: unknown): Promise<unknown>;
  smtpPort: number;
  imapPort: number;
  /** Where its sign-in is. */
  issuer: string;
}

const DOMAIN = 'tidewaterkelp.example';
/** The moment the demo shows: Tuesday morning, everything under way. */
const SHOWN = Date.parse('2026-11-24T10:42:00Z');
const PASSWORD = 'demo-mailbox';

/**
 * Plays four weeks at Tidewater Kelp Works through the API and the clock: the engine itself makes the history.
 *
 * @param out where the progress is shown
 */
export async function fillDemo(api: ApiClient, desk: ProviderDesk, out: ProgressOutput): Promise<void> {
  const { clock } = await api.get<ShellView>('/shell');
  const progress = new ProgressLine(out, clock.nowMs, SHOWN);
  const driveTo = (untilMs: number) => driveClock(api, untilMs, (nowMs) => progress.show(nowMs));
  const until = (iso: string) => driveTo(Date.parse(iso));
  const connect = (
    name: string,
    senderName: string,
    quota: number,
    from: number,
    to: number,
    over: Partial<MailboxChoices> = {},
  ) => connectMailbox(api, desk, { name, senderName, quota, windows: weekdayWindows(from, to), over });
  const { lists, messages } = await addListsAndMessages(api);

  const ines = await connect('ines', 'Ines Aldrich', 36, 540, 990);
  const tomas = await connect('tomas', 'Tomas Reyl', 36, 510, 990);
  const grantId = await signIn(api, desk, 'hello');
  const hello = await connect('hello', 'Tidewater Kelp', 44, 540, 1020, { grantId, password: '' });
  await startCampaign(api, {
    name: 'Orchards, soil results',
    listId: lists.orchards,
    mailboxIds: [hello, tomas],
    startDate: '2026-10-26',
    steps: [step(messages.orchards), step(messages.reminder, 3)],
  });

  await until('2026-11-06T16:00:00Z');
  const orders = await connect('orders', 'Orders desk', 40, 480, 960);
  await startCampaign(api, {
    name: 'Garden centres, autumn',
    listId: lists.gardens,
    mailboxIds: [ines, orders],
    startDate: '2026-11-09',
    steps: [step(messages.gardens), step(messages.reminder, 4), step(messages.last, 5)],
    dailyLimit: 50,
  });

  await until('2026-11-20T15:00:00Z');
  const wren = await connect('wren', 'Wren Okafor', 40, 540, 960, { ramp: { first: 10, add: 4, every: 1 } });
  await startCampaign(api, {
    name: 'Vineyards, spring trial',
    listId: lists.vineyards,
    mailboxIds: [ines, tomas, hello, orders, wren],
    startDate: '2026-11-23',
    steps: [step(messages.vines), step(messages.reminder, 3), step(messages.last, 5)],
  });

  await until('2026-11-23T18:00:00Z');
  await settleReplies(api);
  await workWithReplies(api, desk);
  // The provider becomes stricter with one mailbox: it will have to rest.
  await desk.call('POST', '/accounts', { address: `orders@${DOMAIN}`, password: PASSWORD, dailyLimit: 12 });
  await draftCampaign(api, {
    name: 'Orchards, second pressing',
    listId: lists.orchards,
    mailboxIds: [hello],
    startDate: '2026-11-30',
    steps: [step(messages.pressing), { ...step(messages.reminder, 3), condition: 'not_clicked' }],
  });
  await driveTo(SHOWN);
  await api.put('/clock', { rate: 1 });
}

/** The lists and messages that the campaigns use. */
async function addListsAndMessages(api: ApiClient) {
  const lists = {
    vineyards: await importList(api, 'North-coast vineyards', 'vineyards'),
    gardens: await importList(api, 'Garden centres', 'gardens'),
    orchards: await importList(api, 'Cider orchards', 'orchards'),
  };
  const messages = {} as Record<keyof typeof TEXTS, number>;
  for (const key of Object.keys(TEXTS) as (keyof typeof TEXTS)[])
    messages[key] = (await api.post<{ id: number }>('/messages', { name: TEXTS[key].name, content: TEXTS[key] })).id;
  return { lists, messages };
}

/** What receivers find about the senders' domain: signed and named, but nobody acts on forgeries yet. */
export async function setRecords(desk: ProviderDesk): Promise<void> {
  const records = {
    [`TXT ${DOMAIN}`]: [`v=spf1 include:mail.${DOMAIN} -all`],
    [`TXT default._domainkey.${DOMAIN}`]: ['v=DKIM1; k=rsa; p=MIGfMA0GCSqGSIb3DQEBAQUAA4GNADCBiQKBgQ'],
    [`TXT _dmarc.${DOMAIN}`]: [`v=DMARC1; p=none; rua=mailto:desk@${DOMAIN}`],
  };
  for (const [of, list] of Object.entries(records))
    await desk.call('PUT', `/records/${encodeURIComponent(of)}`, { records: list });
}

async function importList(api: ApiClient, name: string, kind: keyof typeof KINDS): Promise<number> {
  const view = await api.upload<ImportView>('/imports', KINDS[kind].file, demoCsv(KINDS[kind]));
  return (await api.post<{ listId: number }>(`/imports/${view.id}/keep`, { name })).listId;
}

/** @returns its address */
async function openAccount(desk: ProviderDesk, name: string): Promise<string> {
  const address = `${name}@${DOMAIN}`;
  await desk.call('POST', '/accounts', { address, password: PASSWORD, dailyLimit: 500 });
  return address;
}

/** Signs in at the provider and allows what is asked there, as its owner would in a browser. */
async function signIn(api: ApiClient, desk: ProviderDesk, name: string): Promise<number> {
  const username = await openAccount(desk, name);
  const found = await api.post<FoundProvider>('/sign-in/discovery', { issuer: desk.issuer });
  const provider = { ...found, name: 'Simulated provider', clientId: 'baton', clientSecret: '', extraParameters: '' };
  const { id: providerId } = await api.post<{ id: number }>('/sign-in/providers', provider);
  const { grantId, url } = await api.post<{ grantId: number; url: string }>('/sign-in/grants', {
    providerId,
    username,
  });
  const body = new URLSearchParams([...new URL(url).searchParams, ['account', username], ['decision', 'allow']]);
  const back = await fetch(found.authorizationEndpoint, { method: 'POST', body });
  if (!back.ok) throw new Error(`${username} could not sign in: ${await back.text()}`);
  return grantId;
}

async function connectMailbox(
  api: ApiClient,
  desk: ProviderDesk,
  m: { name: string; senderName: string; quota: number; windows: WeekWindows; over: Partial<MailboxChoices> },
): Promise<number> {
  const address = await openAccount(desk, m.name);
  const choices: MailboxChoices = {
    address,
    senderName: m.senderName,
    signature: `${m.senderName}\nTidewater Kelp Works, 4 Slip Road, Carrow Bay`,
    smtp: { host: '127.0.0.1', port: desk.smtpPort, security: 'none' },
    imap: { host: '127.0.0.1', port: desk.imapPort, security: 'none' },
    username: address,
    password: PASSWORD,
    grantId: null,
    zone: 'Europe/Dublin',
    windows: m.windows,
    dailyQuota: m.quota,
    ramp: null,
    providerLimit24h: 200,
    paceSeconds: 90,
    archiveFolder: '',
    replyTo: '',
    daysOff: [],
    ...m.over,
  };
  const { id, test } = await api.post<{ id: number | null; test: unknown }>('/mailboxes', choices);
  if (id === null) throw new Error(`${address} could not be connected: ${JSON.stringify(test)}`);
  return id;
}

const step = (messageId: number, delay = 0) => ({ messageId, delay, tolerance: delay === 0 ? 0 : 2 });

type Chosen = Pick<BriefView, 'listId' | 'mailboxIds' | 'startDate'> & {
  steps: (ReturnType<typeof step> & { condition?: FollowUpCondition })[];
  dailyLimit?: number;
};

async function choose(api: ApiClient, id: number, chosen: Chosen): Promise<BriefView> {
  const brief = await api.get<BriefView>(`/campaigns/${id}`);
  return api.put<BriefView>(`/campaigns/${id}`, {
    revision: brief.revision,
    name: brief.name,
    window: brief.window,
    windowZone: brief.windowZone,
    dailyLimit: null,
    leaveOutBlank: false,
    leaveOutDoubtful: null,
    enrolNew: false,
    replyEndsHere: false,
    holdsColleagues: false,
    watchesOpens: 'all',
    watchesClicks: 'all',
    ...chosen,
  });
}

async function draftCampaign(api: ApiClient, { name, ...chosen }: Chosen & { name: string }): Promise<BriefView> {
  const { id } = await api.post<{ id: number }>('/campaigns', { name });
  return choose(api, id, chosen);
}

async function startCampaign(api: ApiClient, wanted: Chosen & { name: string }): Promise<void> {
  const { id, forecast } = await draftCampaign(api, wanted);
  await api.post(`/campaigns/${id}/start`, { people: forecast.people, lastDay: forecast.lastDay });
}

/** Drives the clock and waits until it gets there, reporting the time it has reached on the way. */
async function driveClock(api: ApiClient, untilMs: number, report: (nowMs: number) => void): Promise<void> {
  await api.put('/clock', { untilMs });
  for (;;) {
    const { clock } = await api.get<ShellView>('/shell');
    report(clock.nowMs);
    if (clock.nowMs >= untilMs && !clock.driving) return;
    await new Promise((resolve) => setTimeout(resolve, 500));
  }
}

const MEANS: readonly [RegExp, Outcome][] = [
  [/talk on|Thursday/, 'meeting'],
  [/soil results|two rows|pallets|sack/, 'interested'],
  [/not the right person|cellar master/, 'wrong_person'],
  [/supplier|Not for us|do not use/, 'no'],
];

/** The coordinator has looked through last week's answers; the newest still wait. */
/** What colleagues do with replies: texts for answers, an answer from one's own mail program, a note, a day to write again. */
async function workWithReplies(api: ApiClient, desk: ProviderDesk): Promise<void> {
  for (const snippet of SNIPPETS) await api.put('/snippets', snippet);
  const { replies } = await api.get<ReplyPage>(`/replies?show=reply&limit=${MOST_REPLIES}`);
  const [keen] = replies.filter((r) => r.outcome === 'interested');
  const put = replies.filter((r) => r.outcome === 'later').slice(0, 3);
  if (put.length > 0) {
    const change = { remindOn: '2026-12-07', assignedTo: 'Wren' };
    await api.patch('/replies', { ids: put.map((r) => r.id), change });
  }
  if (!keen) return;
  await api.post(`/replies/${keen.id}/notes`, { text: 'Buys for three estates. Prefers the telephone, mornings.' });
  const transport = createTransport({
    ...{ host: '127.0.0.1', port: desk.smtpPort, secure: false, ignoreTLS: true },
    auth: { user: keen.mailbox, pass: PASSWORD },
  });
  await transport.sendMail({
    ...{ from: keen.mailbox, to: keen.fromKey, subject: keen.subject },
    text: 'Thank you. A sack will be with you on Thursday; I shall ring in the week after.\n\nTidewater Kelp Works',
  });
  transport.close();
}

const SNIPPETS = [
  {
    name: 'A sack is on its way',
    text: 'Hello {{ given name }},\n\nthank you. A sack is on its way to {{ company | default: "you" }}; there is nothing to pay.\n\nWrite to me when it has arrived, and I will send the dosage for your soil.',
  },
  {
    name: 'Soil results',
    text: 'Hello {{ given name }},\n\nthe results of last year are on one page; I will put it into the post today.',
  },
];

async function settleReplies(api: ApiClient): Promise<void> {
  const { replies } = await api.get<ReplyPage>(`/replies?show=reply&limit=${MOST_REPLIES}`);
  for (const r of replies.slice(2)) {
    const outcome = MEANS.find(([words]) => words.test(r.own))?.[1] ?? 'later';
    await api.put(`/replies/${r.id}/outcome`, { outcome });
  }
}
