import type { Socket } from 'node:net';
import type pg from 'pg';
import { databaseOver, LOCKS, withLock, type Database, type Queryable, type Store } from '../database';

/** The last statement of a transaction: it goes out together with the commit. */
export type Last<T> = () => Promise<T>;

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
  async transaction<T>(work: (tx: Queryable) => Promise<Last<T>>): Promise<T> {
    try {
      const [, last] = await this.together(() => [this.client.query('begin'), work(this.db)] as const);
      const [result, ended] = await this.together(() => [last(), this.client.query('commit')] as const);
      // PostgreSQL answers so to the commit of a transaction in which something failed.
      if (ended.command !== 'COMMIT') throw new Error('The transaction was rolled back');
      return result;
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
