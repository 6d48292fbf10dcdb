import { envelopeAddress, headerText, type Proof } from '@baton/core';
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
  /** Addresses of List-Unsubscribe, the best first; none for a letter from one person to another. */
  leaveBy: readonly string[];
  /** Null for one that belongs to no campaign, as a test. */
  campaignId?: number | null;
}

/**
 * The message as it goes over the wire: headers by RFC 5322 and 2047, both parts (RFC 2046 alternative), pictures that
 * are shown in it (RFC 2392) and files, thread headers, List-Id (RFC 2919), List-Unsubscribe (RFC 2369), with one-click
 * where its address is safe (RFC 8058, 3.1). The Date is that of sending. Lines end as mail's do.
 */
export async function composeMessage(leaving: Leaving): Promise<Buffer> {
  const { proof, mailbox } = leaving;
  // The message’s own comes before the mailbox’s.
  const replyTo = proof.replyTo || mailbox.replyTo;
  const refs = leaving.references.map((id) => `<${id}>`);
  const from = envelopeAddress(mailbox.address);
  const name = headerText(proof.senderName || mailbox.senderName);
  const composer = new MailComposer({
    from: { name: LOOKS_ENCODED.test(name) ? STAND_IN : name, address: from },
    to: bare(leaving.to),
    ...(proof.cc?.length ? { cc: proof.cc.map(bare) } : {}),
    ...(replyTo ? { replyTo: bare(replyTo) } : {}),
    ...(LOOKS_ENCODED.test(proof.subject) ? {} : { subject: proof.subject }),
    text: proof.text,
    html: proof.html,
    attachments: (leaving.files ?? []).map((f) => ({ ...f, filename: headerText(f.filename) })),
    messageId: `<${leaving.messageId}>`,
    date: new Date(leaving.dateMs),
    ...(refs.length > 0 ? { inReplyTo: refs.at(-1) as string, references: refs } : {}),
    headers: {
      ...(LOOKS_ENCODED.test(proof.subject) ? { Subject: prepared(encodedWords(proof.subject)) } : {}),
      ...(leaving.campaignId == null
        ? {}
        : { 'List-Id': prepared(`<campaign-${leaving.campaignId}.${from.slice(from.lastIndexOf('@') + 1)}>`) }),
      ...(leaving.leaveBy.length === 0
        ? {}
        : { 'List-Unsubscribe': prepared(leaving.leaveBy.map((address) => `<${address}>`).join(',\r\n ')) }),
      ...(leaving.leaveBy[0]?.startsWith('https:') ? { 'List-Unsubscribe-Post': 'List-Unsubscribe=One-Click' } : {}),
    },
    disableFileAccess: true,
    disableUrlAccess: true,
  });
  const message = (await composer.compile().build()).toString('latin1').replace(/\r?\n/g, '\r\n');
  const named = LOOKS_ENCODED.test(name)
    ? message.replace(`From: ${STAND_IN} <`, () => `From: ${encodedWords(name)} <`)
    : message;
  return Buffer.from(named, 'latin1');
}

/** An address without a name. */
const bare = (address: string) => ({ name: '', address: envelopeAddress(address) });

const prepared = (value: string) => ({ prepared: true, value });

/** A text that mail programs would take for an encoded word (RFC 2047, 2): it is encoded itself, to be shown as it is. */
const LOOKS_ENCODED = /=\?[^?\s]+\?[bq]\?/i;
/** Stands where a name will, which the composer would not encode. */
const STAND_IN = 'SenderName';
/** An encoded word has 75 characters at most; twelve are its frame, and base64 makes four of three. */
const WORD_BYTES = 45;

/** A text as encoded words (RFC 2047, 4.1), no letter cut apart. */
function encodedWords(text: string): string {
  const words: string[] = [''];
  for (const letter of text) {
    const last = words.length - 1;
    if (Buffer.byteLength(words[last] + letter) > WORD_BYTES) words.push(letter);
    else words[last] += letter;
  }
  return words.map((word) => `=?UTF-8?B?${Buffer.from(word).toString('base64')}?=`).join('\r\n ');
}

/** The subject of a follow-up in the thread of another message. */
export function replySubject(subject: string): string {
  return /^re:/i.test(subject) ? subject : `Re: ${subject}`;
}
