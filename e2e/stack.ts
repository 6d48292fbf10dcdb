import { randomBytes } from 'node:crypto';
import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import { test as base } from '@playwright/test';
import { SERVER_MAIN, SIMULATOR_MAIN, WEB_DIR } from '../bin/lib/build.mjs';
import { STATE } from '../bin/lib/paths.mjs';
import { freePort } from '../bin/lib/ports.mjs';
import { startCluster } from '../bin/lib/postgres.mjs';
import { preparePostgres } from '../bin/lib/prepare.mjs';
import { Processes } from '../bin/lib/processes.mjs';

/** A Baton of the test's own: database, simulator, server and worker, as the launcher starts them. */
export interface Stack {
  address: string;
  smtpPort: number;
  imapPort: number;
  /** The simulated provider's sign-in. */
  issuer: string;
  /** The simulator's control desk. */
  simulator<T>(method: 'GET' | 'POST' | 'PUT', path: string, body?: unknown): Promise<T>;
}

/** Monday morning, before anybody works. */
export const BEGINS = '2026-11-02T07:00:00.000Z';

async function startStack(): Promise<{ stack: Stack; stop(): Promise<void> }> {
  const given = process.env['BATON_TEST_POSTGRES'];
  const dir = join(STATE, `e2e-postgres-${process.pid}`);
  const own = given === undefined ? await startCluster({ bin: preparePostgres() as string, dir, fast: true }) : null;
  const root = given ?? own?.url('postgres') ?? '';
  const { createDatabase } = await import('./database');
  const databaseUrl = await createDatabase(root, `baton_e2e_${randomBytes(5).toString('hex')}`);
  const [web, pages] = [await freePort(), await freePort()];
  const [smtp, imap, control] = [await freePort(), await freePort(), await freePort()];
  const signIn = await freePort();
  const keyFile = join(STATE, `e2e-${process.pid}.key`);
  const env = {
    DATABASE_URL: databaseUrl,
    BATON_PORT: String(web),
    BATON_PUBLIC_PORT: String(pages),
    BATON_PUBLIC_ADDRESS: `http://127.0.0.1:${pages}`,
    BATON_KEY_FILE: keyFile,
    BATON_WEB_DIR: WEB_DIR,
    BATON_SIMULATOR_URL: `http://127.0.0.1:${control}`,
    BATON_SIMULATOR_SMTP_PORT: String(smtp),
    BATON_SIMULATOR_IMAP_PORT: String(imap),
    BATON_SIMULATOR_SIGN_IN_PORT: String(signIn),
    BATON_SIMULATOR_CONTROL_PORT: String(control),
    BATON_SIMULATED_START: BEGINS,
    BATON_WORKSPACE: 'Tidewater Kelp Works',
    BATON_POSTAL_ADDRESS: '4 Slip Road, Carrow Bay',
    BATON_ZONE: 'Europe/Dublin',
  };
  const processes = new Processes();
  const stop = async () => {
    await processes.stop();
    await own?.stop();
    if (own) await rm(dir, { recursive: true, force: true });
    await rm(keyFile, { force: true });
  };
  try {
    await startProcesses(processes, env);
  } catch (error) {
    await stop();
    throw error;
  }
  const stack: Stack = {
    address: `http://127.0.0.1:${web}`,
    smtpPort: smtp,
    imapPort: imap,
    issuer: `http://127.0.0.1:${signIn}`,
    async simulator<T>(method: string, path: string, body?: unknown): Promise<T> {
      const response = await fetch(`http://127.0.0.1:${control}${path}`, {
        method,
        ...(body === undefined ? {} : { body: JSON.stringify(body) }),
      });
      if (!response.ok) throw new Error(`${method} ${path}: ${await response.text()}`);
      return (await response.json()) as T;
    },
  };
  return { stack, stop };
}

async function startProcesses(processes: Processes, env: Record<string, string>): Promise<void> {
  const lost = () => undefined;
  await processes.run('The migration', SERVER_MAIN, ['migrate'], env);
  await processes.start('The simulator', SIMULATOR_MAIN, [], env, lost);
  await processes.start('The server', SERVER_MAIN, ['serve'], env, lost);
  await processes.start('The worker', SERVER_MAIN, ['work'], env, lost);
}

/** Answers of 4xx, which tests provoke; and that Playwright cannot look into the sandboxed frames of messages. */
const EXPECTED = /Failed to load resource|Blocked script execution/;

/** Tests with a stack each, and a check that no page asked anybody but our own server for anything. */
export const test = base.extend<{ stack: Stack; onlyOurs: undefined }>({
  // Playwright takes a fixture's needs from its first parameter, which must be a pattern.
  // eslint-disable-next-line no-empty-pattern
  stack: async ({}, use) => {
    const { stack, stop } = await startStack();
    await use(stack);
    await stop();
  },
  onlyOurs: [
    async ({ page, stack }, use) => {
      const strangers: string[] = [];
      const complaints: string[] = [];
      page.on('request', (r) => {
        if (!r.url().startsWith(stack.address) && !/^(?:data|blob|about):/.test(r.url())) strangers.push(r.url());
      });
      page.on('pageerror', (e) => complaints.push(e.message));
      page.on('console', (m) => {
        if (m.type() === 'error' && !EXPECTED.test(m.text())) complaints.push(m.text());
      });
      await use(undefined);
      if (strangers.length > 0) throw new Error(`Requests left this machine: ${strangers.join(', ')}`);
      if (complaints.length > 0) throw new Error(`The page complained: ${complaints.join(' | ')}`);
    },
    { auto: true },
  ],
});

export { expect } from '@playwright/test';
