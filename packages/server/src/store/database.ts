import { fileURLToPath } from 'node:url';
import { existsSync } from 'node:fs';
import { fillPlaceholders, sql, type SQL, type SQLWrapper } from 'drizzle-orm';
export { TransactionRollbackError } from 'drizzle-orm';
import { PgDialect } from 'drizzle-orm/pg-core';
import { drizzle, type NodePgDatabase } from 'drizzle-orm/node-postgres';
import { migrate } from 'drizzle-orm/node-postgres/migrator';
import pg from 'pg';
import * as schema from './schema/schema';

export type Database = NodePgDatabase<typeof schema>;
/** A database or a transaction in it: what every repository function takes first. */
export type Queryable = Pick<
  Database,
  'select' | 'selectDistinct' | 'insert' | 'update' | 'delete' | 'execute' | 'transaction'
>;

const dialect = new PgDialect({ casing: 'snake_case' });

/** A statement with its values that has not been sent; `T` is what its rows are. */
export interface Bound<T> {
  query: pg.QueryConfig;
  /** Only tells the type. */
  row?: T;
}

/** A statement that PostgreSQL prepares. */
export interface Prepared<V, T> {
  /** Runs it. */
  (db: Queryable, values: V): Promise<T[]>;
  bind(values: V): Bound<T>;
}

/**
 * A statement that is run over and over: its text is put together once, and PostgreSQL prepares it (PostgreSQL 15,
 * PREPARE). For those of sending, either took longer than doing it.
 *
 * @param name one for each statement
 * @param make the statement; whatever changes from one run to the next is a value
 */
export function prepared<V extends Record<string, unknown>, T>(
  name: string,
  make: (value: (key: keyof V & string) => SQLWrapper) => SQL,
): Prepared<V, T> {
  let built: { sql: string; params: unknown[] } | null = null;
  const bind = (values: V): Bound<T> => {
    built ??= dialect.sqlToQuery(make((key) => sql.placeholder(key) as unknown as SQLWrapper));
    return { query: { name, text: built.sql, values: fillPlaceholders(built.params, values) } };
  };
  const run = async (db: Queryable, values: V): Promise<T[]> => {
    const { client } = (db as unknown as { session: { client: pg.Pool | pg.PoolClient } }).session;
    return (await client.query(bind(values).query)).rows as T[];
  };
  return Object.assign(run, { bind });
}

/** The pattern for `like` that finds a text anywhere, its own wildcards taken literally. */
export const like = (text: string): string => `%${text.replace(/[\\%_]/g, '\\$&')}%`;

/** How long a lock is waited for that would keep others from working; then it is done without. */
const LOCK_MS = 2000;

/** From here on a transaction waits for locks for so long only, see `failedBy`. */
export async function waitShortly(tx: Queryable): Promise<void> {
  await tx.execute(sql.raw(`set local lock_timeout = ${LOCK_MS}`));
}

/** Rows in one statement: PostgreSQL takes 65,535 parameters, a row has up to ten. */
const BATCH = 5000;

export function batches<T>(rows: readonly T[]): T[][] {
  return Array.from({ length: Math.ceil(rows.length / BATCH) }, (_, i) => rows.slice(i * BATCH, (i + 1) * BATCH));
}

export interface Store {
  db: Database;
  pool: pg.Pool;
  /** Connections over which mailboxes send: statements go out without waiting for the answer to those before. */
  sending: pg.Pool;
  url: string;
  /** How many connections have broken so far. */
  losses(): number;
  close(): Promise<void>;
}

/** A database that does not answer, or has no connection free for so long, is told of as away. */
const CONNECT_MS = 30_000;

/**
 * Mailboxes of one process that send at the same time, that are read at the same time, and of these that send those that are
 * read at the same time because a follow-up is to leave. Sending takes a connection, of those for it; reading takes two, its
 * lock's and one to work with. They have to be there for all of them together: with fewer each would hold what another
 * waits for.
 */
export const SENDING_AT_ONCE = 16;
export const READING_AT_ONCE = 6;
export const READING_FIRST_AT_ONCE = 8;
/** For the conductor, imports and questions of domains. */
const FOR_OTHERS = 8;

/** Its statements are few, and planned once: planning them for each message took PostgreSQL a fifth of its time. */
const SENDING_SETTINGS: pg.PoolConfig = { pipeline: true, options: '-c plan_cache_mode=force_generic_plan' };

const MAX_CONNECTIONS = 2 * (READING_AT_ONCE + READING_FIRST_AT_ONCE) + FOR_OTHERS;

export function openStore(url: string): Store {
  let losses = 0;
  const lost = () => {
    losses++;
  };
  const open = (max: number, more: pg.PoolConfig) => {
    const pool = new pg.Pool({
      ...{ connectionString: url, max, ...more },
      connectionTimeoutMillis: CONNECT_MS,
      keepAlive: true,
    });
    // A connection that breaks, idle or in use, is replaced by the pool; without a listener it would end the process.
    pool.on('error', lost);
    pool.on('connect', (client) => void client.on('error', lost));
    return pool;
  };
  const pool = open(MAX_CONNECTIONS, {});
  const sending = open(SENDING_AT_ONCE, SENDING_SETTINGS);
  return {
    ...{ db: databaseOver(pool), pool, sending, url },
    losses: () => losses,
    close: async () => void (await Promise.all([pool.end(), sending.end()])),
  };
}

/** What repositories take, over a pool or one connection. */
export const databaseOver = (client: pg.Pool | pg.PoolClient): Database =>
  drizzle(client, { schema, casing: 'snake_case' }) as Database;

/** Brings the database's tables up to date. */
export async function migrateStore(store: Store): Promise<void> {
  const beside = fileURLToPath(new URL('../../migrations', import.meta.url));
  const bundled = fileURLToPath(new URL('../migrations', import.meta.url));
  await migrate(store.db, { migrationsFolder: existsSync(beside) ? beside : bundled });
}

/** What advisory locks are for; the number is the lock's first key. */
export const LOCKS = {
  mailboxSending: 1,
  conductor: 2,
  planning: 3,
  mailboxReading: 4,
  importing: 5,
  feeding: 6,
  askingDomains: 7,
  campaignDay: 8,
  connection: 9,
  restoring: 10,
  signals: 11,
  domainRecords: 12,
  results: 13,
  writingRows: 14,
} as const;

/**
 * Runs work while holding a session lock that PostgreSQL drops by itself if this process dies, or its connection does.
 *
 * @param work is told whether the lock is still held: once it is lost, somebody else may have it; and gets its connection
 * @returns the work's result, or null when somebody else holds the lock
 */
export async function withLock<T>(
  { pool }: Pick<Store, 'pool'>,
  lock: number,
  key: number,
  work: (isHeld: () => boolean, client: pg.PoolClient) => Promise<T>,
): Promise<T | null> {
  const client = await pool.connect();
  let isLost = false;
  const lost = () => {
    isLost = true;
  };
  client.on('error', lost).on('end', lost);
  try {
    const { rows } = await client.query<{ got: boolean }>('select pg_try_advisory_lock($1, $2) as got', [lock, key]);
    if (!rows[0]?.got) return null;
    try {
      return await work(() => !isLost, client);
    } finally {
      if (!isLost)
        await client.query('select pg_advisory_unlock($1, $2)', [lock, key]).catch(() => {
          isLost = true;
        });
    }
  } finally {
    client.off('error', lost).off('end', lost);
    client.release(isLost);
  }
}
