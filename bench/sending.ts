import { readFileSync } from 'node:fs';
import nodemailer from 'nodemailer';
import { BODY, recipient, SUBJECT, withBaton } from './baton';
import { print } from './row';
import { startSink, type Sink } from './sink';

const MAILBOXES = 20;
const PEOPLE = 2000;

/** How long the worker is left alone before it is watched, and how long it is watched. */
const SETTLE_MS = 10_000;
const WATCH_MS = 30_000;

/** The whole path (claim, compose, hand over, record; fsync on) against bare nodemailer, to the same sink. */
export async function sending(): Promise<void> {
  const sink = await startSink();
  const before = await bareNodemailer(sink);
  await withBaton(sink, { mailboxes: MAILBOXES, people: PEOPLE, paceSeconds: 0 }, async ({ database, startWorker }) => {
    await database.query('update deliveries set instant = $1', [Date.now()]);
    const timed = sink.time(PEOPLE);
    const worker = await startWorker();
    const whole = await timed;
    // Before and behind, since other work on the machine comes and goes.
    const bare = (before + (await bareNodemailer(sink))) / 2;
    print({
      name: `send ${PEOPLE} messages from ${MAILBOXES} mailboxes, the whole path`,
      ratio: whole / bare,
      goal: 2.5,
      unit: 'times bare nodemailer over as many connections to the same sink',
      messagesPerSecond: Math.round((PEOPLE / whole) * 1000),
      barePerSecond: Math.round((PEOPLE / bare) * 1000),
    });
    await pause(SETTLE_MS);
    const used = cpuMs(worker);
    await pause(WATCH_MS);
    print({
      name: 'a worker with nothing to send',
      ratio: (cpuMs(worker) - used) / WATCH_MS,
      goal: 0.01,
      unit: 'of a processor core',
    });
  });
  await sink.close();
}

/** Mailboxes at their usual pace, and messages of each. */
const MANY = 200;
const EACH = 3;
/** Between two messages of one, longer than its pace, as plans have it. */
const EVERY_MS = 60_000;

/** From the moment a message is due to the moment at which the server has it, with many mailboxes at the usual pace. */
export async function delay(): Promise<void> {
  const sink = await startSink();
  const size = { mailboxes: MANY, people: MANY * EACH, paceSeconds: 45 };
  await withBaton(sink, size, async ({ database, startWorker }) => {
    // As many of each, which no plan would do whose mailboxes could take them all.
    await database.query(
      `update deliveries d set mailbox_id = m.id
       from (select id, row_number() over (order by id) - 1 as n from mailboxes) m,
         (select id, row_number() over (order by id) - 1 as n from deliveries) q
       where q.id = d.id and q.n % $1 = m.n`,
      [MANY],
    );
    // Nothing is due until all mailboxes have been read for the first time.
    await database.query('update deliveries set instant = $1', [Date.now() + 3_600_000]);
    await database.query('update workspace set plan_wanted_at = null');
    await startWorker();
    await pause(2 * SETTLE_MS);
    // Each mailbox has one in each minute, and they come evenly; the first of each opens its connection.
    const { rows } = await database.query<{ address: string; instant: string; n: string }>(
      `update deliveries d set instant = $1 + q.n * $2 + (d.mailbox_id * 7919 % $3) * $2 / $3
       from (select id, row_number() over (partition by mailbox_id order by id) - 1 as n from deliveries) q,
         enrolments e, contacts p
       where q.id = d.id and e.id = d.enrolment_id and p.id = e.contact_id returning p.address, d.instant, q.n`,
      [Date.now() + SETTLE_MS, EVERY_MS, MANY],
    );
    const due = new Map(rows.map((r) => [r.address, Number(r.instant)]));
    const isFirst = new Set(rows.filter((r) => r.n === '0').map((r) => r.address));
    const [first, late]: [number[], number[]] = [[], []];
    await sink.each([...due.keys()], (address) =>
      (isFirst.has(address) ? first : late).push(Date.now() - (due.get(address) as number)),
    );
    for (const times of [first, late]) times.sort((a, b) => a - b);
    const at = (share: number) => late[Math.floor((late.length - 1) * share)] as number;
    print({
      name: `from due to handed over, ${MANY} mailboxes at one message a minute, 99th of 100`,
      ratio: at(0.99) / 1000,
      goal: 0.5,
      unit: 'seconds, over connections that are open; firstMs with opening them',
      medianMs: at(0.5),
      mostMs: at(1),
      firstMs: first[Math.floor(first.length / 2)] as number,
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
