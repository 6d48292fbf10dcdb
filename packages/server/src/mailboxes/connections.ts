import type { Secrets } from '../security/secrets';
import type { MailboxRow } from '../store/mailboxes/mailbox-rows';
import { accessOf } from './connection';
import { ImapReader } from './imap';
import { SmtpSender } from './smtp';

/** The open connections of one worker process, one each way per mailbox. */
export interface Connections {
  sender(mailbox: MailboxRow): SmtpSender;
  reader(mailbox: MailboxRow): ImapReader;
  close(): Promise<void>;
}

export function createConnections(secrets: Secrets): Connections {
  const senders = new Map<string, SmtpSender>();
  const readers = new Map<string, ImapReader>();
  // Changed settings are another key, so that they take effect at once.
  const keyOf = (m: MailboxRow) => JSON.stringify([m.id, m.smtp, m.imap, m.username, m.passwordSealed]);
  return {
    sender(mailbox) {
      const key = keyOf(mailbox);
      const sender = senders.get(key) ?? new SmtpSender(accessOf(mailbox, secrets));
      senders.set(key, sender);
      return sender;
    },
    reader(mailbox) {
      const key = keyOf(mailbox);
      const reader = readers.get(key) ?? new ImapReader(accessOf(mailbox, secrets));
      readers.set(key, reader);
      return reader;
    },
    async close() {
      for (const s of senders.values()) s.close();
      await Promise.all([...readers.values()].map((r) => r.close()));
      senders.clear();
      readers.clear();
    },
  };
}
