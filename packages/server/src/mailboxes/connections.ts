import type { MailboxRow } from '../store/mailboxes/mailbox-rows';
import { accessOf, type Keys } from './connection';
import { ImapReader } from './imap';
import { SmtpSender } from './smtp/smtp-sender';

/** The open connections of one worker process, one each way per mailbox. */
export interface Connections {
  sender(mailbox: MailboxRow): SmtpSender;
  reader(mailbox: MailboxRow): ImapReader;
  /** @throws DomainError where what the mailbox signs in with cannot be read */
  check(mailbox: MailboxRow): Promise<void>;
  close(): Promise<void>;
}

export function createConnections(keys: Keys): Connections {
  const senders = new Ways((mailbox) => new SmtpSender(accessOf(mailbox, keys)));
  const readers = new Ways((mailbox) => new ImapReader(accessOf(mailbox, keys)));
  return {
    sender: (mailbox) => senders.of(mailbox),
    reader: (mailbox) => readers.of(mailbox),
    async check(mailbox) {
      senders.of(mailbox);
      if (mailbox.grantId !== null) await keys.tokens.check(mailbox.grantId);
    },
    async close() {
      await Promise.all([senders.close(), readers.close()]);
    },
  };
}

/** One way of each mailbox; where its settings have changed it is made anew, and the old one closed. */
class Ways<W extends { close(): unknown }> {
  private readonly ways = new Map<number, { settings: string; way: W }>();

  constructor(private readonly make: (mailbox: MailboxRow) => W) {}

  of(mailbox: MailboxRow): W {
    const settings = JSON.stringify([
      mailbox.smtp,
      mailbox.imap,
      mailbox.username,
      mailbox.passwordSealed,
      mailbox.grantId,
    ]);
    const known = this.ways.get(mailbox.id);
    if (known?.settings === settings) return known.way;
    void known?.way.close();
    const way = this.make(mailbox);
    this.ways.set(mailbox.id, { settings, way });
    return way;
  }

  async close(): Promise<void> {
    const all = [...this.ways.values()];
    this.ways.clear();
    await Promise.all(all.map(({ way }) => way.close()));
  }
}
