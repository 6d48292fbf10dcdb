import type { Socket } from 'node:net';
import type pg from 'pg';
import { databaseOver, LOCKS, withLock, type Bound, type Database, type Queryable, type Store } from '../database';

/**
 * How a transaction ends: with nothing more, or with a last statement that goes out together with the commit. That is not
 * sent by who asks for it, but here: what is sent only once it is waited for would come behind the commit.
 */
export type End<T> = { result: T } | { last: Bound<unknown>; result(rows: unknown[]): T };

/** An end with a last statement. @param result what its rows come to */
export const endWith = <R, T>(last: Bound<R>, result: (rows: R[]) => T): End<T> => ({
  last,
  result: (rows) => result(rows as R[]),
});

/**
 * The connection of a mailbox that sends. It holds the mailbox's lock: what goes over it can only be done by who has that.
 * Statements that need not wait for each other go out in one piece, since each piece costs a process more than PostgreSQL
 * has to do for it (measured: six pieces a message were a third of a worker's time).
 */
export class SendingConnection {
  /** For single statements, and transactions of other kinds. */
  readonly db: Database;

  constructor(
    private readonly client: pg.PoolClient,
    /** Once it is lost with its connection, somebody else may have the lock. */
    readonly isHeld: () => boolean,
  ) {
    this.db = databases.get(client) ?? databaseOver(client);
    databases.set(client, this.db);
  }

  /**
   * Runs a transaction. Its beginning goes out with the statements that `work` makes before it first waits.
   *
   * @throws what a statement failed with; nothing of it has happened then, as far as PostgreSQL could say
   */
  async transaction<T>(work: (tx: Queryable) => Promise<End<T>>): Promise<T> {
    try {
      const [, end] = await this.together(() => [this.client.query('begin'), work(this.db)] as const);
      if (!('last' in end)) {
        requireCommit(await this.client.query('commit'));
        return end.result;
      }
      const [{ rows }, ended] = await this.together(
        () => [this.client.query(end.last.query), this.client.query('commit')] as const,
      );
      requireCommit(ended);
      return end.result(rows);
    } catch (error) {
      await this.client.query('rollback').catch(() => undefined);
      throw error;
    }
  }

  /** Both go out in one piece, and both have ended before either's failure is told. */
  private async together<A, B>(ask: () => readonly [Promise<A>, Promise<B>]): Promise<[A, B]> {
    const { stream } = (this.client as unknown as { connection: { stream: Socket } }).connection;
    stream.cork();
    const asked = ask();
    stream.uncork();
    await Promise.allSettled(asked);
    return Promise.all(asked);
  }
}

/** PostgreSQL answers otherwise to the commit of a transaction in which something failed. */
function requireCommit({ command }: pg.QueryResult): void {
  if (command !== 'COMMIT') throw new Error('The transaction was rolled back');
}

/** Made once for each connection: that takes longer than a message. */
const databases = new WeakMap<pg.PoolClient, Database>();

/** Runs work while this process, and no other, may send from a mailbox. @returns null where another may */
export const withSendingLock = <T>(
  store: Store,
  mailboxId: number,
  work: (on: SendingConnection) => Promise<T>,
): Promise<T | null> =>
  withLock({ pool: store.sending }, LOCKS.mailboxSending, mailboxId, (isHeld, client) =>
    work(new SendingConnection(client, isHeld)),
  );
