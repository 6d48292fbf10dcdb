import type { Proof } from '@baton/core';
import MailComposer from 'nodemailer/lib/mail-composer';
import type { MessageFile } from '../messages/message-files';
import type { MailboxRow } from '../store/mailboxes/mailbox-rows';

/** What a finished message needs beside its proof. */
export interface Leaving {
  mailbox: Pick<MailboxRow, 'address' | 'senderName'> & Partial<Pick<MailboxRow, 'replyTo'>>;
  to: string;
  proof: Pick<Proof, 'subject' | 'text' | 'html'> & Partial<Pick<Proof, 'senderName' | 'replyTo' | 'cc'>>;
  files?: readonly MessageFile[];
  /** Without brackets. */
  messageId: string;
  /** Message-IDs of the thread so far, oldest first; empty for a first message. */
  references: readonly string[];
  dateMs: number;
  unsubscribeUrl: string;
}

/**
 * The message as it goes over the wire: headers by RFC 5322 and 2047, both parts (RFC 2046 alternative), pictures that
 * are shown in it (RFC 2392) and files,
 * thread headers, List-Unsubscribe with one-click (RFC 2369, 8058). The Date is that of sending.
 */
export async function composeMessage(leaving: Leaving): Promise<Buffer> {
  const { proof } = leaving;
  // The message’s own comes before the mailbox’s.
  const replyTo = proof.replyTo || leaving.mailbox.replyTo;
  const refs = leaving.references.map((id) => `<${id}>`);
  const composer = new MailComposer({
    from: { name: proof.senderName || leaving.mailbox.senderName, address: leaving.mailbox.address },
    to: { name: '', address: leaving.to },
    ...(proof.cc?.length ? { cc: proof.cc.map(bare) } : {}),
    ...(replyTo ? { replyTo: bare(replyTo) } : {}),
    subject: proof.subject,
    text: proof.text,
    html: proof.html,
    attachments: (leaving.files ?? []).map((f) => ({ ...f })),
    messageId: `<${leaving.messageId}>`,
    date: new Date(leaving.dateMs),
    ...(refs.length > 0 ? { inReplyTo: refs.at(-1) as string, references: refs } : {}),
    headers: {
      'List-Unsubscribe': { prepared: true, value: `<${leaving.unsubscribeUrl}>` },
      'List-Unsubscribe-Post': 'List-Unsubscribe=One-Click',
    },
    disableFileAccess: true,
    disableUrlAccess: true,
  });
  return composer.compile().build();
}

/** An address without a name. */
const bare = (address: string) => ({ name: '', address });

/** The subject of a follow-up in the thread of another message. */
export function replySubject(subject: string): string {
  return /^re:/i.test(subject) ? subject : `Re: ${subject}`;
}
