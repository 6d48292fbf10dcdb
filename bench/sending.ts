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
