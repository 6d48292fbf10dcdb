import { randomBytes } from 'node:crypto';
import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import { weekdayWindows } from '@baton/core';
import { simpleParser } from 'mailparser';
import { SERVER_MAIN } from '../bin/lib/build.mjs';
import { STATE } from '../bin/lib/paths.mjs';
import { startCluster } from '../bin/lib/postgres.mjs';
import { preparePostgres } from '../bin/lib/prepare.mjs';
import { Processes } from '../bin/lib/processes.mjs';
import { CORPUS } from '../packages/server/src/reading/corpus/corpus';
import { MOST_AT_ONCE } from '../packages/server/src/mailboxes/imap';
import { takeMails } from '../packages/server/src/reading/take-mail';
import { createSecrets } from '../packages/server/src/security/secrets';
import { openStore } from '../packages/server/src/store/database';
import { addMailbox, readMailbox, type MailboxRow } from '../packages/server/src/store/mailboxes/mailbox-rows';
import { ensureWorkspace } from '../packages/server/src/store/workspace-rows';
import { print } from './row';

const MESSAGES = 2000;
const NOW = Date.parse('2026-11-24T09:00:00Z');

/** Reading, classifying and filing what came in, against parsing it alone. */
export async function reading(): Promise<void> {
  const raws = Array.from({ length: MESSAGES }, (_, i) =>
    Buffer.concat([
      Buffer.from(`Message-ID: <${i}@vines.example>\r\n`),
      (CORPUS[i % CORPUS.length] as (typeof CORPUS)[number]).raw,
    ]),
  );
  const before = await parsing(raws);
  const taken = await filing(raws);
  const bare = Math.min(before, await parsing(raws));
  print({
    name: `read, classify and file ${MESSAGES.toLocaleString('en')} messages`,
    ratio: taken / bare,
    goal: 2,
    unit: 'times parsing them',
    perSecond: Math.round((MESSAGES / taken) * 1000),
  });
}

async function parsing(raws: readonly Buffer[]): Promise<number> {
  const from = performance.now();
  for (const raw of raws) await simpleParser(raw);
  return performance.now() - from;
}

async function filing(raws: readonly Buffer[]): Promise<number> {
  const cluster = await startCluster({
    bin: preparePostgres() as string,
    dir: join(STATE, `bench-postgres-${process.pid}`),
  });
  try {
    cluster.createDatabase('bench');
    const env = { DATABASE_URL: cluster.url('bench'), BATON_KEY_FILE: join(STATE, `bench-${process.pid}.key`) };
    await new Processes().run('The migration', SERVER_MAIN, ['migrate'], env);
    const store = openStore(cluster.url('bench'));
    await ensureWorkspace(store.db, {
      workspace: { name: 'Tidewater Kelp Works', zone: 'UTC', postalAddress: '4 Slip Road, Carrow Bay' },
      clock: { simulated: true, nowMs: NOW, anchorRealMs: 0, rate: 0 },
    });
    const server = { host: 'mx.tidewaterkelp.example', port: 993, security: 'tls' as const };
    const id = await addMailbox(store.db, {
      ...{ address: 'ines@tidewaterkelp.example', senderName: 'Ines Aldrich', signature: 'Ines', username: 'ines' },
      ...{ smtp: server, imap: server, passwordSealed: 'x', zone: 'UTC', windows: weekdayWindows(0, 1440) },
      ...{ dailyQuota: 100, paceSeconds: 60, keepsSent: true, createdAt: NOW },
    });
    const mailbox = (await readMailbox(store.db, id)) as MailboxRow;
    const parts = { store, secrets: createSecrets(randomBytes(32)) };
    const from = performance.now();
    const arrived = raws.map((raw, i) => ({ uidValidity: '1', uid: i + 1, raw }));
    // As many at a time as are fetched.
    for (let i = 0; i < arrived.length; i += MOST_AT_ONCE)
      await takeMails(parts, mailbox, arrived.slice(i, i + MOST_AT_ONCE), NOW);
    const ms = performance.now() - from;
    await store.close();
    return ms;
  } finally {
    await cluster.stop();
    await rm(join(STATE, `bench-postgres-${process.pid}`), { recursive: true, force: true });
    await rm(join(STATE, `bench-${process.pid}.key`), { force: true });
  }
}
