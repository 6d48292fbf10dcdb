import { compileMessage, type CompiledMessage, type Proof } from '@baton/core';
import MailComposer from 'nodemailer/lib/mail-composer';
import type { MailboxRow } from '../store/mailbox-rows';

/** What a finished message needs beside its proof. */
export interface Leaving {
  mailbox: Pick<MailboxRow, 'address' | 'senderName'>;
  to: string;
  proof: Pick<Proof, 'subject' | 'text' | 'html'>;
  /** Without brackets. */
  messageId: string;
  /** Message-IDs of the thread so far, oldest first; empty for a first message. */
  references: readonly string[];
  dateMs: number;
  unsubscribeUrl: string;
}

/**
 * The message as it goes over the wire: headers by RFC 5322 and 2047, both parts (RFC 2046 alternative),
 * thread headers, List-Unsubscribe with one-click (RFC 2369, 8058). The Date is that of sending.
 */
export async function composeMessage(leaving: Leaving): Promise<Buffer> {
  const refs = leaving.references.map((id) => `<${id}>`);
  const composer = new MailComposer({
    from: { name: leaving.mailbox.senderName, address: leaving.mailbox.address },
    to: { name: '', address: leaving.to },
    subject: leaving.proof.subject,
    text: leaving.proof.text,
    html: `<!doctype html><html><body style="font-family:sans-serif;font-size:15px;line-height:1.5">\n${leaving.proof.html}\n</body></html>`,
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

/** The subject of a follow-up in the thread of another message. */
export function replySubject(subject: string): string {
  return /^re:/i.test(subject) ? subject : `Re: ${subject}`;
}

/** Compiled messages by their source, so that a campaign's text is parsed once. */
export class CompiledMessages {
  private readonly known = new Map<string, CompiledMessage>();

  get(message: { subject: string; body: string }): CompiledMessage {
    const key = JSON.stringify([message.subject, message.body]);
    let compiled = this.known.get(key);
    if (!compiled) {
      compiled = compileMessage(message);
      if (this.known.size > 500) this.known.clear();
      this.known.set(key, compiled);
    }
    return compiled;
  }
}
