import { clockWords, dayWords, escapeHtml, isoDate } from '@baton/core';
import type { Queryable } from '../store/database';
import type { MailboxRow } from '../store/mailboxes/mailbox-rows';
import { readIncoming as readRow, type IncomingRow } from '../store/reading/reply-rows';
import type { LetterRow } from '../store/reading/letter-rows';
import { readWorkspace, type WorkspaceRow } from '../store/workspace-rows';
import { readSentHead } from '../reading/read-incoming';
import { zones } from '../time/zones';
import { composeMessage } from './compose';

/** Characters of a quoted message; a person reads no more of it. */
const MOST_QUOTED = 50_000;

/**
 * A letter by hand as it goes over the wire: the words, the mailbox's signature, and what it answers, in that thread.
 *
 * @returns what puts it together, of what the database has, which is asked here
 */
export async function letterComposer(
  tx: Queryable,
  mailbox: MailboxRow,
  letter: LetterRow,
  dateMs: number,
): Promise<() => Promise<Buffer>> {
  const answered = letter.incomingId === null ? null : await readRow(tx, letter.incomingId);
  const quotation = answered && letter.quotes ? quotationOf(answered, await readWorkspace(tx)) : '';
  const head = answered && (await readSentHead(answered.raw));
  const references = head ? [...head.references, ...(answered.messageId === '' ? [] : [answered.messageId])] : [];
  const message = {
    mailbox,
    to: letter.toKey,
    proof: { subject: letter.subject, ...bodyOf({ text: letter.body, signature: mailbox.signature, quotation }) },
    messageId: letter.messageId,
    references: [...new Set(references)],
    dateMs,
    leaveBy: [],
  };
  return () => composeMessage(message);
}

interface LetterParts {
  text: string;
  signature: string;
  quotation: string;
}

/** Both forms of a letter's body. A signature stands behind "-- " in plain text, where mail programs know it (RFC 3676, 4.3). */
export function bodyOf({ text, signature, quotation }: LetterParts): { text: string; html: string } {
  const own = text.trimEnd();
  const signed = signature.trim();
  const plain = [own, ...(signed === '' ? [] : [`-- \n${signed}`]), ...(quotation === '' ? [] : [quotation])];
  const [attribution = '', ...quoted] = quotation.split('\n');
  const html = [
    `<p>${linesOf(own)}</p>`,
    ...(signed === '' ? [] : [`<p>${linesOf(signed)}</p>`]),
    ...(quotation === ''
      ? []
      : [
          `<p>${linesOf(attribution)}</p>`,
          `<blockquote type="cite" style="${QUOTE}">${linesOf(quoted.map(unquoted).join('\n'))}</blockquote>`,
        ]),
  ];
  return { text: plain.join('\n\n'), html: html.join('\n') };
}

const QUOTE = 'margin:0 0 0 .8ex;border-left:1px solid #ccc;padding-left:1ex';
const unquoted = (line: string): string => line.replace(/^> ?/, '');

/** Text as HTML: an empty line is a paragraph's end, other ends of lines stay. */
const linesOf = (text: string): string =>
  escapeHtml(text)
    .replace(/\n{2,}/g, '</p>\n<p>')
    .replace(/(?<!>)\n/g, '<br>\n');

/** What an answer quotes: who wrote when, and the words behind ">". */
export function quotationOf(
  { fromName, fromKey, receivedAt, body }: Pick<IncomingRow, 'fromName' | 'fromKey' | 'receivedAt' | 'body'>,
  { zone, dateForm }: Pick<WorkspaceRow, 'zone' | 'dateForm'>,
): string {
  const { day, minute } = zones.get(zone).toLocal(receivedAt);
  const who = fromName === '' || fromName === fromKey ? fromKey : `${fromName} <${fromKey}>`;
  const isCut = body.length > MOST_QUOTED;
  const lines = body.slice(0, MOST_QUOTED).trimEnd().split(/\r?\n/);
  const quoted = [...lines, ...(isCut ? ['[…]'] : [])].map((line) =>
    /^(?:>|$)/.test(line) ? `>${line}` : `> ${line}`,
  );
  const on = dayWords(isoDate(day), 'dated', dateForm);
  return [`On ${on} at ${clockWords(minute)}, ${who} wrote:`, ...quoted].join('\n');
}
