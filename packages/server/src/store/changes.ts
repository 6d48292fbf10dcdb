import { sql } from 'drizzle-orm';
import pg from 'pg';
import { isTopic, type Topic } from '@baton/contract';
import type { Queryable, Store } from './database';

/** Where processes tell each other what has changed. */
export const CHANNEL = 'baton_changes';

/** Tells every process that something of a kind has changed; sent when the transaction commits. */
export async function announce(db: Queryable, ...topics: Topic[]): Promise<void> {
  for (const topic of new Set(topics)) await db.execute(sql`select pg_notify(${CHANNEL}, ${topic})`);
}

/**
 * Calls back for every change announced by any process, until closed. Reconnects by itself; after a break
 * every topic is reported once, since some may have been missed.
 */
export async function listenForChanges(
  store: Store,
  onChange: (topic: Topic) => void,
  topics: readonly Topic[],
): Promise<{ close(): Promise<void> }> {
  let closed = false;
  let client: pg.Client;
  const connect = async () => {
    client = new pg.Client({ connectionString: store.url });
    client.on('notification', (n) => {
      if (isTopic(n.payload)) onChange(n.payload);
    });
    client.on('error', () => undefined);
    client.on('end', () => {
      if (!closed) setTimeout(() => void reconnect(), 500).unref();
    });
    await client.connect();
    await client.query(`listen ${CHANNEL}`);
  };
  const reconnect = async () => {
    try {
      await connect();
      topics.forEach(onChange);
    } catch {
      if (!closed) setTimeout(() => void reconnect(), 2000).unref();
    }
  };
  await connect();
  return {
    async close() {
      closed = true;
      await client.end();
    },
  };
}
