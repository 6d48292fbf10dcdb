import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import nodemailer from 'nodemailer';
import pg from 'pg';
import { SERVER_MAIN, SIMULATOR_MAIN } from '../bin/lib/build.mjs';
import { STATE } from '../bin/lib/paths.mjs';
import { freePort, startCluster } from '../bin/lib/postgres.mjs';
import { preparePostgres } from '../bin/lib/prepare.mjs';
import { Processes } from '../bin/lib/processes.mjs';
import { print } from './row';
import { startSink, type Sink } from './sink';

const MAILBOXES = 20;
const PEOPLE = 2000;
const SUBJECT = 'Kelp for';
const BODY =
  'Hello {{ given_name | default: "there" }},\n\nWe dry and mill kelp from the bay, and growers nearby use it as a spring feed. One pallet would do a trial on two rows.\n\nShall I send you the soil results from last year?\n\n{{ signature }}\n\nRather not hear from us? [Leave this list]({{ unsubscribe_link }})';

/** The whole path (claim, compose, hand over, record; fsync on) against bare nodemailer, to the same sink. */
export async function sending(): Promise<void> {
  const sink = await startSink();
  const dir = join(STATE, `bench-postgres-${process.pid}`);
  const cluster = await startCluster({ bin: preparePostgres() as string, dir });
  const processes = new Processes();
  try {
    const bare = await bareNodemailer(sink);
    const whole = await throughBaton(sink, cluster, processes);
    print({
      name: `send ${PEOPLE} messages from ${MAILBOXES} mailboxes, the whole path`,
      ratio: whole / bare,
      goal: 2.5,
      unit: 'times bare nodemailer over as many connections to the same sink',
      messagesPerSecond: Math.round((PEOPLE / whole) * 1000),
    });
  } finally {
    await processes.stop();
    await cluster.stop();
    await rm(dir, { recursive: true, force: true });
    await sink.close();
  }
}

async function bareNodemailer(sink: Sink): Promise<number> {
  const transport = nodemailer.createTransport({
    host: '127.0.0.1',
    port: sink.port,
    ignoreTLS: true,
    pool: true,
    maxConnections: MAILBOXES,
    maxMessages: Infinity,
  });
  const text = BODY.replace(/\{\{.*?\}\}/g, 'something or other');
  const timed = sink.time(PEOPLE);
  const from = { name: 'Ines Aldrich', address: 'ines@tidewaterkelp.example' };
  const sends = Array.from({ length: PEOPLE }, (_, i) =>
    transport.sendMail({ from, to: `p${i}@vines.example`, subject: `${SUBJECT} p${i}`, text, html: `<p>${text}</p>` }),
  );
  await Promise.all(sends);
  transport.close();
  return timed;
}

type Cluster = Awaited<ReturnType<typeof startCluster>>;

async function throughBaton(sink: Sink, cluster: Cluster, processes: Processes): Promise<number> {
  cluster.createDatabase('bench');
  const [web, pages] = [await freePort(), await freePort()];
  const [smtp, imap, control] = [await freePort(), await freePort(), await freePort()];
  const env = {
    DATABASE_URL: cluster.url('bench'),
    BATON_PORT: String(web),
    BATON_PUBLIC_PORT: String(pages),
    BATON_KEY_FILE: join(STATE, `bench-${process.pid}.key`),
    BATON_SIMULATOR_SMTP_PORT: String(smtp),
    BATON_SIMULATOR_IMAP_PORT: String(imap),
    BATON_SIMULATOR_CONTROL_PORT: String(control),
    BATON_ZONE: 'UTC',
  };
  await processes.run('The migration', SERVER_MAIN, ['migrate'], env);
  await processes.start('The simulator', SIMULATOR_MAIN, [], env, () => undefined);
  await processes.start('The server', SERVER_MAIN, ['serve'], env, () => undefined);
  await fillIn(`http://127.0.0.1:${web}/api`, { smtp, imap, control });
  const database = new pg.Client({ connectionString: cluster.url('bench') });
  await database.connect();
  // All are due at once, and leave for the sink instead of the simulator.
  await database.query(`update mailboxes set smtp = jsonb_set(smtp, '{port}', $1::text::jsonb)`, [sink.port]);
  await database.query('update deliveries set instant = $1', [Date.now()]);
  await database.end();
  const timed = sink.time(PEOPLE);
  await processes.start('The worker', SERVER_MAIN, ['work'], env, () => undefined);
  const ms = await timed;
  await rm(env.BATON_KEY_FILE, { force: true });
  return ms;
}

async function fillIn(api: string, ports: { smtp: number; imap: number; control: number }): Promise<void> {
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
  const mailboxIds: number[] = [];
  const always = Array(7).fill([[0, 1440]]);
  for (let i = 0; i < MAILBOXES; i++) {
    const address = `m${i}@tidewaterkelp.example`;
    await fetch(`http://127.0.0.1:${ports.control}/accounts`, {
      method: 'POST',
      body: JSON.stringify({ address, password: 'secret' }),
    });
    const server = (port: number) => ({ host: '127.0.0.1', port, security: 'none' });
    const connected = await call<{ id: number | null; test: unknown }>('POST', '/mailboxes', {
      ...{ address, senderName: 'Ines Aldrich', signature: 'Ines', username: address, password: 'secret' },
      ...{ smtp: server(ports.smtp), imap: server(ports.imap), zone: 'UTC', windows: always },
      ...{ dailyQuota: 100_000, ramp: null, providerLimit24h: null, paceSeconds: 0, keepsSent: false },
    });
    if (connected.id === null) throw new Error(`${address}: ${JSON.stringify(connected.test)}`);
    mailboxIds.push(connected.id);
  }
  const rows = Array.from({ length: PEOPLE }, (_, i) => `p${i}@vines${i % 900}.example,P${i}`);
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
  const { people, lastDay } = brief.forecast;
  await call('POST', `/campaigns/${id}/start`, { people, lastDay });
}
