import {
  termsOf,
  usualTerms,
  weekdayWindows,
  WHOLE_LIST,
  type ListQuery,
  type MessageContent,
  type RichDoc,
} from '@baton/core';
import type {
  BriefView,
  ImportView,
  MailboxChoices,
  MailboxTest,
  PersonRow,
  RecipientPage,
  RecipientView,
  Topic,
} from '@baton/contract';
import { startProvider, type Provider } from '@baton/simulator';
import { pino } from 'pino';
import { freePort } from '../../../../bin/lib/ports.mjs';
import type { Config } from '../config';
import { apiClient, type ApiClient } from '../demo/api-client';
import { simulatorClient, type SimulatorClient } from '../duties/simulated-world';
import { createApp, createPublicApp, listen } from '../http/app';
import { LiveStream } from '../http/live-stream';
import { AccessTokens } from '../mailboxes/sign-in/access-tokens';
import { CompiledMessages } from '../messages/compiled-messages';
import { createSecrets } from '../security/secrets';
import { OwnMachine } from '../signals/own-machine';
import { updateWorkspace } from '../store/workspace-rows';
import { systemClock } from '../time/system-clock';
import { changeClock, workspaceClock } from '../time/workspace-clock';
import { assembleWorker, type AssembledWorker } from '../worker';
import { createTestStore, MONDAY, type TestStore } from './test-store';

export const DOMAIN = 'tidewaterkelp.example';
export const PASSWORD = 'correct horse';
const KEY = Buffer.alloc(32, 5);

export type WrittenMessage = { name?: string; body?: string | RichDoc } & Partial<Omit<MessageContent, 'body'>>;

/** A step as a brief has it. */
export const stepOf = (messageId: number, delay = 0): BriefView['steps'][number] => ({
  ...{ number: null, messageId, messageName: '', others: [], otherNames: [], ifClicked: null, ifClickedName: null },
  ...{ renews: false, isOlder: false, sent: 0 },
  ...(delay === 0 ? usualTerms(0) : { ...usualTerms(1), delay }),
});

/** So many people who never answer, by address. */
export const silentPeople = (n: number): Record<string, string> =>
  Object.fromEntries(Array.from({ length: n }, (_, i) => [`p${i}@vines.example`, 'silent']));

/** A whole Baton in this process on real PostgreSQL and real sockets, beside a simulated provider; time is driven. */
export class TestWorld {
  private constructor(
    readonly store: TestStore,
    readonly config: Config,
    readonly provider: Provider,
    readonly desk: SimulatorClient,
    readonly api: ApiClient,
    readonly worker: AssembledWorker,
    /** Of the application, and of the pages for recipients. */
    readonly url: string,
    readonly publicUrl: string,
    private readonly live: LiveStream,
    private readonly closeServer: () => Promise<void>,
  ) {}

  static async start(nowMs = MONDAY, seed = 7): Promise<TestWorld> {
    const store = await createTestStore(nowMs);
    const provider = await startProvider({ seed, smtpPort: 0, imapPort: 0, controlPort: 0, journal: null });
    const simulatorUrl = `http://127.0.0.1:${provider.controlPort}`;
    const port = await freePort();
    const config: Config = {
      databaseUrl: store.url,
      host: '127.0.0.1',
      port,
      publicHost: '127.0.0.1',
      publicPort: await freePort(),
      publicAddress: null,
      keyFile: '',
      simulatorUrl,
      webDir: null,
      logLevel: 'silent',
      simulatedStartMs: nowMs,
    };
    const secrets = createSecrets(KEY);
    const log = pino({ level: 'silent' });
    const desk = simulatorClient(simulatorUrl);
    const clock = workspaceClock(store.db, systemClock);
    const live = new LiveStream();
    const tokens = new AccessTokens({ store, secrets, clock });
    const parts = {
      ...{ config, store, secrets, tokens, simulator: desk, log, clock },
      ...{ compiled: new CompiledMessages(), ownMachine: new OwnMachine(true) },
    };
    const servers = [
      await listen(createApp(parts, live), config.host, port),
      await listen(createPublicApp(parts), config.publicHost, config.publicPort),
    ];
    const url = `http://127.0.0.1:${port}`;
    const publicUrl = `http://127.0.0.1:${config.publicPort}`;
    await updateWorkspace(store.db, { publicAddress: publicUrl });
    const worker = assembleWorker({ store, config, secrets, log });
    await desk.call('POST', '/advance', { toMs: nowMs });
    return new TestWorld(store, config, provider, desk, apiClient(url), worker, url, publicUrl, live, async () => {
      live.close();
      for (const server of servers) {
        server.closeAllConnections();
        await new Promise((resolve) => server.close(resolve));
      }
    });
  }

  /** As if the database had announced it. */
  liveChanged(topic: Topic): void {
    this.live.changed(topic);
  }

  async close(): Promise<void> {
    await this.worker.connections.close();
    await this.closeServer();
    await this.provider.close();
    await this.store.drop();
  }

  /** A second worker on the same database, as on another machine. */
  anotherWorker(): AssembledWorker {
    const { store, config } = this;
    const secrets = createSecrets(KEY);
    return assembleWorker({ store, config, secrets, log: pino({ level: 'silent' }) });
  }

  /** Everything due until then is done in order; the clock is there afterwards. */
  async drive(until: string | number, worker = this.worker): Promise<void> {
    const untilMs = typeof until === 'string' ? Date.parse(until) : until;
    await changeClock(this.store.db, { untilMs }, systemClock);
    await worker.conductor.run();
  }

  /** A provider's account and the mailbox connected to it. */
  async connect(
    name: string,
    over: Partial<MailboxChoices> & { providerLimit?: number; keepsSent?: boolean } = {},
  ): Promise<number> {
    const { providerLimit, keepsSent = true, ...choices } = over;
    const address = `${name}@${DOMAIN}`;
    await this.desk.call('POST', '/accounts', {
      address,
      password: PASSWORD,
      dailyLimit: providerLimit ?? 2000,
      keepsSent,
    });
    const { id, test } = await this.api.post<{ id: number | null; test: MailboxTest }>(
      '/mailboxes',
      this.mailboxChoices(name, choices),
    );
    if (id === null) throw new Error(JSON.stringify(test));
    return id;
  }

  mailboxChoices(name: string, over: Partial<MailboxChoices> = {}): MailboxChoices {
    return {
      address: `${name}@${DOMAIN}`,
      senderName: name,
      signature: `${name}\nTidewater Kelp Works`,
      smtp: { host: '127.0.0.1', port: this.provider.smtpPort, security: 'none' },
      imap: { host: '127.0.0.1', port: this.provider.imapPort, security: 'none' },
      username: `${name}@${DOMAIN}`,
      password: PASSWORD,
      grantId: null,
      zone: 'Europe/Dublin',
      windows: weekdayWindows(540, 1020),
      dailyQuota: 50,
      ramp: null,
      providerLimit24h: null,
      paceSeconds: 60,
      archiveFolder: '',
      replyTo: '',
      daysOff: [],
      ...over,
    };
  }

  async importCsv(csv: string, name = 'People'): Promise<number> {
    const view = await this.api.upload<ImportView>('/imports', `${name}.csv`, csv);
    return (await this.api.post<{ listId: number }>(`/imports/${view.id}/keep`, { name })).listId;
  }

  /** A list of people who behave as said, and nobody else. */
  async people(personas: Record<string, string>): Promise<number> {
    for (const [address, persona] of Object.entries(personas))
      await this.desk.call('PUT', `/people/${encodeURIComponent(address)}`, { persona });
    const nameOf = (address: string) => address.charAt(0).toUpperCase() + address.slice(1).split('@')[0];
    const rows = Object.keys(personas).map((a) => `${a},${nameOf(a)}`);
    return this.importCsv(['email,given name', ...rows].join('\n'));
  }

  /** A message of which somebody has read proofs; its text plain, with fields as Liquid and links as `[text](address)`. */
  async message({ name = 'First', ...over }: WrittenMessage = {}): Promise<number> {
    const content = {
      subject: 'Kelp for {{ given_name | default: "you" }}',
      body: 'Hello {{ given_name | default: "there" }},\n\nkelp?\n\n{{ signature }}\n\n[Leave]({{ unsubscribe_link }})',
      ...over,
    };
    const { id } = await this.api.post<{ id: number }>('/messages', { name, content });
    await this.api.post(`/messages/${id}/read`, { content });
    return id;
  }

  /** A list's rows as the grid shows them. */
  async rows(listId: number, query: Partial<ListQuery> = {}, removed = false): Promise<PersonRow[]> {
    const body = { query: { ...WHOLE_LIST, ...query }, removed, limit: 1000 };
    return this.api.post<PersonRow[]>(`/lists/${listId}/rows`, body);
  }

  /** A draft with these choices. */
  async draft(choices: Partial<BriefView> & Pick<BriefView, 'listId' | 'mailboxIds'>): Promise<BriefView> {
    const { id } = await this.api.post<{ id: number }>('/campaigns', { name: choices.name ?? 'Trial' });
    const steps = choices.steps ?? [await this.step({ name: 'First' }), await this.step({ name: 'Reminder' }, 2)];
    return this.api.put<BriefView>(`/campaigns/${id}`, {
      revision: 0,
      name: choices.name ?? 'Trial',
      listId: choices.listId,
      segmentId: choices.segmentId ?? null,
      usesPicked: choices.usesPicked ?? false,
      alsoParts: choices.alsoParts ?? [],
      exceptParts: choices.exceptParts ?? [],
      mailboxIds: choices.mailboxIds,
      steps: steps.map((step) => ({
        ...termsOf(step),
        ...{ messageId: step.messageId, others: step.others, ifClicked: step.ifClicked },
      })),
      senderKey: choices.senderKey ?? null,
      keepsSender: choices.keepsSender ?? false,
      startDate: choices.startDate ?? '2026-11-02',
      startMinute: choices.startMinute ?? null,
      endDate: choices.endDate ?? null,
      endMinute: choices.endMinute ?? null,
      window: choices.window ?? { weekdays: [1, 2, 3, 4, 5], from: 540, to: 990 },
      windowZone: choices.windowZone ?? 'recipient',
      dailyLimit: choices.dailyLimit ?? null,
      share: choices.share ?? 1,
      leaveOutBlank: choices.leaveOutBlank ?? false,
      leaveOutDoubtful: choices.leaveOutDoubtful ?? null,
      allowsOthers: choices.allowsOthers ?? true,
      notWithinDays: choices.notWithinDays ?? null,
      mostPerCompany: choices.mostPerCompany ?? null,
      firstGroup: choices.firstGroup ?? null,
      groupWait: choices.groupWait ?? 1,
      groupByHand: choices.groupByHand ?? false,
      releasedByHand: choices.releasedByHand ?? false,
      enrolNew: choices.enrolNew ?? false,
      replyEndsHere: choices.replyEndsHere ?? false,
      holdsColleagues: choices.holdsColleagues ?? false,
      watchesOpens: choices.watchesOpens ?? 'none',
      watchesClicks: choices.watchesClicks ?? 'none',
      watchesPlaces: choices.watchesPlaces ?? false,
      variants: choices.variants ?? [],
      stopsLosers: choices.stopsLosers ?? false,
      needsLines: choices.needsLines ?? false,
    });
  }

  async step(message: WrittenMessage, delay = 0): Promise<BriefView['steps'][number]> {
    return stepOf(await this.message(message), delay);
  }

  async begin(choices: Parameters<TestWorld['draft']>[0]): Promise<number> {
    const { id, forecast } = await this.draft(choices);
    await this.api.post(`/campaigns/${id}/start`, { people: forecast.people, lastDay: forecast.lastDay });
    return id;
  }

  brief(campaignId: number): Promise<BriefView> {
    return this.api.get<BriefView>(`/campaigns/${campaignId}`);
  }

  /** Takes the last change of a campaign back. */
  undo(campaignId: number): Promise<BriefView> {
    return this.api.post<BriefView>(`/campaigns/${campaignId}/changes/undo`, {});
  }

  async recipients(campaignId: number): Promise<RecipientView[]> {
    return (await this.api.get<RecipientPage>(`/campaigns/${campaignId}/recipients?limit=500`)).people;
  }

  /** Each recipient's state by address. */
  async states(campaignId: number): Promise<Record<string, string>> {
    return Object.fromEntries((await this.recipients(campaignId)).map((p) => [p.address, p.state]));
  }

  /** The first line of each message that a recipient has got, oldest first. */
  async firstLines(address: string): Promise<(string | undefined)[]> {
    return (await this.inbox(address)).map((m) => m.text.split('\n')[0]);
  }

  /** What a recipient's inbox holds, oldest first. */
  async inbox(address: string): Promise<SeenByRecipient[]> {
    const mails = await this.desk.call('GET', `/people/${encodeURIComponent(address)}/inbox`);
    return (mails as SeenByRecipient[]).reverse();
  }
}

/** A message in a simulated recipient's inbox. */
export interface SeenByRecipient {
  id: number;
  from: string;
  subject: string;
  receivedAt: number;
  html: string;
  text: string;
  unsubscribeLink: string | null;
  oneClick: boolean;
  messageId: string;
  references: string[];
  cc: string[];
  replyTo: string;
  files: string[];
}
