import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import pg from 'pg';
import { SERVER_MAIN, SIMULATOR_MAIN } from '../bin/lib/build.mjs';
import { STATE } from '../bin/lib/paths.mjs';
import { freePort } from '../bin/lib/ports.mjs';
import { startCluster } from '../bin/lib/postgres.mjs';
import { preparePostgres } from '../bin/lib/prepare.mjs';
import { Processes } from '../bin/lib/processes.mjs';
import type { Sink } from './sink';

export const SUBJECT = 'Kelp for';
export const BODY =
  'Hello {{ given_name | default: "there" }},\n\nWe dry and mill kelp from the bay, and growers nearby use it as a spring feed. One pallet would do a trial on two rows.\n\nShall I send you the soil results from last year?\n\n{{ signature }}\n\nRather not hear from us? [Leave this list]({{ unsubscribe_link }})';

interface Size {
  mailboxes: number;
  people: number;
  paceSeconds: number;
}

/** A Baton with a running campaign, whose worker has not been started. */
export interface FilledBaton {
  database: pg.Client;
  /** @returns its process id */
  startWorker(): Promise<number>;
}

/** Mailboxes that are really connected; what is more is copied from the first. */
const CONNECTED = 20;

/** The address of one of the people. */
export const recipient = (i: number): string => `p${i}@vines${i % 900}.example`;

/** Everything durable on a PostgreSQL of its own (fsync on); the messages leave for the sink. */
export async function withBaton<T>(sink: Sink, size: Size, use: (baton: FilledBaton) => Promise<T>): Promise<T> {
  const dir = join(STATE, `bench-postgres-${process.pid}`);
  const keyFile = join(STATE, `bench-${process.pid}.key`);
  const cluster = await startCluster({ bin: preparePostgres() as string, dir });
  const processes = new Processes();
  const database = new pg.Client({ connectionString: (cluster.createDatabase('bench'), cluster.url('bench')) });
  try {
    const [web, pages] = [await freePort(), await freePort()];
    const [smtp, imap, control] = [await freePort(), await freePort(), await freePort()];
    const env = {
      DATABASE_URL: cluster.url('bench'),
      BATON_PORT: String(web),
      BATON_PUBLIC_PORT: String(pages),
      BATON_KEY_FILE: keyFile,
      BATON_SIMULATOR_SMTP_PORT: String(smtp),
      BATON_SIMULATOR_IMAP_PORT: String(imap),
      BATON_SIMULATOR_CONTROL_PORT: String(control),
      BATON_ZONE: 'UTC',
    };
    await processes.run('The migration', SERVER_MAIN, ['migrate'], env);
    await processes.start('The simulator', SIMULATOR_MAIN, [], env, () => undefined);
    await processes.start('The server', SERVER_MAIN, ['serve'], env, () => undefined);
    await database.connect();
    await fillIn(`http://127.0.0.1:${web}/api`, { smtp, imap, control, database }, size);
    await database.query(`update mailboxes set smtp = jsonb_set(smtp, '{port}', $1::text::jsonb)`, [sink.port]);
    return await use({
      database,
      startWorker: async () =>
        (await processes.start('The worker', SERVER_MAIN, ['work'], env, () => undefined)).pid as number,
    });
  } finally {
    await processes.stop();
    await database.end().catch(() => undefined);
    await cluster.stop();
    await rm(dir, { recursive: true, force: true });
    await rm(keyFile, { force: true });
  }
}

/** Through the API, as a page would; the simulator's accounts are made for it. */
async function fillIn(
  api: string,
  ports: { smtp: number; imap: number; control: number; database: pg.Client },
  { mailboxes, people, paceSeconds }: Size,
): Promise<void> {
  const call = async <T>(method: string, path: string, body: unknown): Promise<T> => {
    const text = typeof body === 'string' ? body : JSON.stringify(body);
    const type = typeof body === 'string' ? 'text/csv' : 'application/json';
    const response = await fetch(`${api}${path}`, {
      method,
      body: text,
      headers: { 'x-baton': '1', 'content-type': type },
    });
    if (!response.ok) throw new Error(`${path}: ${await response.text()}`);
    return (response.status === 204 ? undefined : await response.json()) as T;
  };
  const always = Array(7).fill([[0, 1440]]);
  const server = (port: number) => ({ host: '127.0.0.1', port, security: 'none' });
  const open = async (i: number): Promise<string> => {
    const address = `m${i}@tidewaterkelp.example`;
    await fetch(`http://127.0.0.1:${ports.control}/accounts`, {
      method: 'POST',
      body: JSON.stringify({ address, password: 'secret' }),
    });
    return address;
  };
  const copy = async (i: number, of: number): Promise<number> => {
    const { rows } = await ports.database.query<{ id: number }>(
      `insert into mailboxes select (jsonb_populate_record(m, jsonb_build_object(
         'id', nextval('mailboxes_id_seq'), 'address', $1::text, 'username', $1::text))).* from mailboxes m
       where m.id = $2 returning id`,
      [await open(i), of],
    );
    return (rows[0] as { id: number }).id;
  };
  const connect = async (i: number): Promise<number> => {
    const address = await open(i);
    const connected = await call<{ id: number | null; test: unknown }>('POST', '/mailboxes', {
      ...{ address, senderName: 'Ines Aldrich', signature: 'Ines', username: address, password: 'secret' },
      ...{ smtp: server(ports.smtp), imap: server(ports.imap), zone: 'UTC', windows: always, archiveFolder: '' },
      ...{ dailyQuota: 100_000, ramp: null, providerLimit24h: null, paceSeconds, replyTo: '', daysOff: [] },
    });
    if (connected.id === null) throw new Error(`${address}: ${JSON.stringify(connected.test)}`);
    return connected.id;
  };
  const connected = Math.min(mailboxes, CONNECTED);
  const mailboxIds = await Promise.all(Array.from({ length: connected }, (_, i) => connect(i)));
  for (let i = connected; i < mailboxes; i++) mailboxIds.push(await copy(i, mailboxIds[0] as number));
  const rows = Array.from({ length: people }, (_, i) => `${recipient(i)},P${i}`);
  const view = await call<{ id: number }>('POST', '/imports', ['email,given name', ...rows].join('\n'));
  const { listId } = await call<{ listId: number }>('POST', `/imports/${view.id}/keep`, { name: 'All' });
  const message = await call<{ id: number }>('POST', '/messages', {
    name: 'Kelp',
    content: { subject: `${SUBJECT} {{ given_name }}`, body: BODY },
  });
  const { id } = await call<{ id: number }>('POST', '/campaigns', { name: 'Bench' });
  const brief = await call<{ forecast: { people: number; lastDay: string } }>('PUT', `/campaigns/${id}`, {
    ...{ name: 'Bench', listId, segmentId: null, mailboxIds, dailyLimit: null, leaveOutBlank: false },
    steps: [{ messageId: message.id, delay: 0, tolerance: 0 }],
    startDate: new Date().toISOString().slice(0, 10),
    window: { weekdays: [1, 2, 3, 4, 5, 6, 7], from: 0, to: 1440 },
    windowZone: 'workspace',
  });
  const { forecast } = brief;
  await call('POST', `/campaigns/${id}/start`, { people: forecast.people, lastDay: forecast.lastDay });
}
