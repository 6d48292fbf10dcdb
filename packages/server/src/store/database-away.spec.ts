import { connect, createServer, type Server, type Socket } from 'node:net';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Topic } from '@baton/contract';
import { pino } from 'pino';
import { freePort } from '../../../../bin/lib/ports.mjs';
import { readConfig } from '../config';
import { createApp, listen } from '../http/app';
import { LiveStream } from '../http/live-stream';
import { AccessTokens } from '../mailboxes/sign-in/access-tokens';
import { CompiledMessages } from '../messages/compiled-messages';
import { createSecrets } from '../security/secrets';
import { systemClock } from '../time/system-clock';
import { OwnMachine } from '../signals/own-machine';
import { workspaceClock } from '../time/workspace-clock';
import { createTestStore, type TestStore } from '../testing/test-store';
import { announce, listenForChanges } from './changes';
import { LOCKS, openStore, withLock, type Store } from './database';
import { isDatabaseAway } from './database-errors';

/** The way to the database, which can be cut. */
class Way {
  tries = 0;
  private isCut = false;
  private readonly sockets = new Set<Socket>();
  private readonly server: Server;

  constructor(to: URL) {
    this.server = createServer((client) => {
      this.tries++;
      if (this.isCut) {
        client.destroy();
        return;
      }
      const server = connect(Number(to.port), to.hostname);
      for (const socket of [client, server]) {
        this.sockets.add(socket);
        socket.on('error', () => undefined).on('close', () => this.sockets.delete(socket));
      }
      client.pipe(server).pipe(client);
    });
  }

  async open(): Promise<number> {
    await new Promise<void>((resolve) => this.server.listen(0, '127.0.0.1', resolve));
    return (this.server.address() as { port: number }).port;
  }

  cut(): void {
    this.isCut = true;
    for (const socket of this.sockets) socket.destroy();
  }

  mend(): void {
    this.isCut = false;
  }

  async close(): Promise<void> {
    this.cut();
    await new Promise((resolve) => this.server.close(resolve));
  }
}

let direct: TestStore;
let way: Way;
let store: Store;
beforeEach(async () => {
  direct = await createTestStore();
  way = new Way(new URL(direct.url));
  const url = new URL(direct.url);
  url.port = String(await way.open());
  store = openStore(url.href);
});
afterEach(async () => {
  await way.close();
  await store.close().catch(() => undefined);
  await direct.drop();
});

const patiently = { timeout: 60_000, interval: 50 };

describe('a database that goes away and comes back', () => {
  it('is listened to over one connection at a time, and everything is told once it is back', async () => {
    const told: Topic[] = [];
    const listening = await listenForChanges(store, (topic) => told.push(topic), ['today', 'people']);
    await announce(direct.db, 'campaigns');
    await vi.waitFor(() => expect(told).toEqual(['campaigns']), patiently);
    way.cut();
    const before = way.tries;
    await vi.waitFor(() => expect(way.tries).toBeGreaterThanOrEqual(before + 4), patiently);
    // Each try is followed by one: with two for each there would be dozens by now.
    expect(way.tries).toBeLessThan(before + 12);
    told.length = 0;
    way.mend();
    await vi.waitFor(() => expect(told).toEqual(['today', 'people']), patiently);
    await announce(direct.db, 'mailboxes');
    await vi.waitFor(() => expect(told).toEqual(['today', 'people', 'mailboxes']), patiently);
    await listening.close();
  });

  it('takes the lock with it, and the process lives', async () => {
    const work = withLock(store, LOCKS.mailboxSending, 1, async (isHeld) => {
      expect(isHeld()).toBe(true);
      way.cut();
      await vi.waitFor(() => expect(isHeld()).toBe(false), patiently);
      return 'done';
    });
    expect(await work).toBe('done');
    way.mend();
    expect(await withLock(store, LOCKS.mailboxSending, 1, () => Promise.resolve('again'))).toBe('again');
  });

  it('is told of to who asks, with when to ask again', async () => {
    const port = await freePort();
    const config = readConfig({ DATABASE_URL: store.url, BATON_PORT: String(port), BATON_KEY_FILE: 'none' });
    const [secrets, clock] = [createSecrets(Buffer.alloc(32, 5)), workspaceClock(store.db, systemClock)];
    const parts = {
      ...{
        config,
        store,
        simulator: null,
        log: pino({ level: 'silent' }),
        compiled: new CompiledMessages(),
        ownMachine: new OwnMachine(true),
      },
      ...{ secrets, clock, tokens: new AccessTokens({ store, secrets, clock }) },
    };
    const server = await listen(createApp(parts, new LiveStream()), '127.0.0.1', port);
    const ask = () => fetch(`http://127.0.0.1:${port}/api/lists`, { headers: { 'x-baton': '1' } });
    expect((await ask()).status).toBe(200);
    way.cut();
    const away = await ask();
    expect([away.status, away.headers.get('retry-after')]).toEqual([503, '5']);
    expect(await away.json()).toMatchObject({
      detail: expect.stringContaining('cannot be reached just now') as string,
    });
    way.mend();
    expect((await ask()).status).toBe(200);
    server.closeAllConnections();
    await new Promise((resolve) => server.close(resolve));
  });

  it('breaks off a transaction, which says why it failed', async () => {
    const broken = store.db.transaction(async (tx) => {
      await tx.execute('select 1');
      way.cut();
      await tx.execute('select pg_sleep(1)');
    });
    const error: unknown = await broken.then(
      () => null,
      (e: unknown) => e,
    );
    expect(isDatabaseAway(error)).toBe(true);
    const refused: unknown = await store.db.execute('select 1').catch((e: unknown) => e);
    expect(isDatabaseAway(refused)).toBe(true);
    way.mend();
    const wrong: unknown = await store.db.execute('select nothing').catch((e: unknown) => e);
    expect(isDatabaseAway(wrong)).toBe(false);
    expect((await store.db.execute('select 1 as one')).rows).toEqual([{ one: 1 }]);
  });
});
