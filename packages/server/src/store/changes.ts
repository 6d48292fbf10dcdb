import { sql } from 'drizzle-orm';
import pg from 'pg';
import { isTopic, type Topic } from '@baton/contract';
import { backOffMs } from '../time/back-off';
import type { Queryable, Store } from './database';

/** Where processes tell each other what has changed. */
export const CHANNEL = 'baton_changes';

/** Tells every process that something of a kind has changed; sent when the transaction commits. */
export async function announce(db: Queryable, ...topics: Topic[]): Promise<void> {
  const told = [...new Set(topics)].map((topic) => sql`pg_notify(${CHANNEL}, ${topic})`);
  await db.execute(sql`select ${sql.join(told, sql`, `)}`);
}

/** Pauses between two tries to listen again, the first and the longest. */
const AGAIN_MS = 250;
const AGAIN_MOST_MS = 10_000;
/** A try that has not got through by then is given up. */
const CONNECT_MS = 10_000;

/**
 * Calls back for every change announced by any process, until closed. Reconnects by itself, over one connection at a
 * time; after a break every topic is reported once, since some may have been missed.
 */
export async function listenForChanges(
  store: Store,
  onChange: (topic: Topic) => void,
  topics: readonly Topic[],
): Promise<{ close(): Promise<void> }> {
  let closed = false;
  let current: pg.Client | null = null;
  let timer: NodeJS.Timeout | null = null;
  let failures = 0;
  const connect = async () => {
    const client = new pg.Client({ connectionString: store.url, connectionTimeoutMillis: CONNECT_MS, keepAlive: true });
    client.on('notification', (n) => {
      if (isTopic(n.payload)) onChange(n.payload);
    });
    // A connection ends in several ways, and some of them tell of it twice.
    client.on('error', () => lost(client));
    client.on('end', () => lost(client));
    try {
      await client.connect();
      await client.query(`listen ${CHANNEL}`);
    } catch (error) {
      void client.end().catch(() => undefined);
      throw error;
    }
    current = client;
    failures = 0;
  };
  const lost = (client: pg.Client) => {
    if (client !== current) return;
    current = null;
    void client.end().catch(() => undefined);
    again();
  };
  const again = () => {
    if (closed || timer) return;
    timer = setTimeout(
      () => {
        timer = null;
        connect().then(
          () => (closed ? void current?.end() : topics.forEach(onChange)),
          () => again(),
        );
      },
      backOffMs(++failures, AGAIN_MS, AGAIN_MOST_MS),
    ).unref();
  };
  await connect();
  return {
    async close() {
      closed = true;
      if (timer) clearTimeout(timer);
      const last = current;
      current = null;
      await last?.end();
    },
  };
}
