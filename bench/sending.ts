import { readFileSync } from 'node:fs';
import nodemailer from 'nodemailer';
import { BODY, recipient, SUBJECT, withBaton } from './baton';
import { print } from './row';
import { startSink, type Sink } from './sink';

const MAILBOXES = 20;
const PEOPLE = 2000;

/** Mailboxes at their usual pace, and messages of each. */
const MANY = 200;
const EACH = 2;
const PACE_MS = 60_000;

/** How long the worker is left alone before it is watched, and how long it is watched. */
const SETTLE_MS = 10_000;
const WATCH_MS = 30_000;

/** The whole path (claim, compose, hand over, record; fsync on) against bare nodemailer, to the same sink. */
export async function sending(): Promise<void> {
  const sink = await startSink();
  const bare = await bareNodemailer(sink);
  await withBaton(sink, { mailboxes: MAILBOXES, people: PEOPLE, paceSeconds: 0 }, async ({ database, startWorker }) => {
    await database.query('update deliveries set instant = $1', [Date.now()]);
    const timed = sink.time(PEOPLE);
    const worker = await startWorker();
    const whole = await timed;
    print({
      name: `send ${PEOPLE} messages from ${MAILBOXES} mailboxes, the whole path`,
      ratio: whole / bare,
      goal: 2.5,
      unit: 'times bare nodemailer over as many connections to the same sink',
      messagesPerSecond: Math.round((PEOPLE / whole) * 1000),
    });
    await pause(SETTLE_MS);
    const before = cpuMs(worker);
    await pause(WATCH_MS);
    print({
      name: 'a worker with nothing to send',
      ratio: (cpuMs(worker) - before) / WATCH_MS,
      goal: 0.01,
      unit: 'of a processor core',
    });
  });
  await sink.close();
}

/** From the moment a message is due to the moment at which the server has it, with many mailboxes at the usual pace. */
export async function delay(): Promise<void> {
  const sink = await startSink();
  const size = { mailboxes: MANY, people: MANY * EACH, paceSeconds: PACE_MS / 1000 };
  await withBaton(sink, size, async ({ database, startWorker }) => {
    const from = Date.now() + 5000;
    // Each mailbox has one in each minute, and they come evenly.
    await database.query(
      `update deliveries d set instant = $1 + q.n * $2 + (d.mailbox_id * 7919 % $3) * $2 / $3
       from (select id, row_number() over (partition by mailbox_id order by id) - 1 as n from deliveries) q
       where q.id = d.id`,
      [from, PACE_MS, MANY],
    );
    const { rows } = await database.query<{ key: string; instant: string }>(
      'select p.key, d.instant from deliveries d join enrolments e on e.id = d.enrolment_id join contacts p on p.id = e.contact_id',
    );
    const due = new Map(rows.map((r) => [r.key, Number(r.instant)]));
    const late: number[] = [];
    const all = sink.each(Array.from(due.keys()), (address) => late.push(Date.now() - (due.get(address) as number)));
    await startWorker();
    await all;
    late.sort((a, b) => a - b);
    const at = (share: number) => late[Math.floor((late.length - 1) * share)] as number;
    print({
      name: `from due to handed over, ${MANY} mailboxes at one message a minute, 99th of 100`,
      ratio: at(0.99) / 1000,
      goal: 0.5,
      unit: 'seconds',
      medianMs: at(0.5),
    });
  });
  await sink.close();
}

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

/** Processor time of a process so far (proc(5): fields 14 and 15 of stat, in hundredths of a second). */
function cpuMs(pid: number): number {
  const fields = readFileSync(`/proc/${pid}/stat`, 'utf8').split(') ')[1]?.split(' ') ?? [];
  return (Number(fields[11]) + Number(fields[12])) * 10;
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
    transport.sendMail({ from, to: recipient(i), subject: `${SUBJECT} p${i}`, text, html: `<p>${text}</p>` }),
  );
  await Promise.all(sends);
  transport.close();
  return timed;
}
