import { storableText } from '../storable-text';

/** A mailbox as a row may name it. */
export interface NamedMailbox {
  id: number;
  address: string;
  /** Name of the sender as recipients see it; '' for none. */
  senderName: string;
}

/** From which mailbox somebody is written to. */
export interface ChosenSender {
  /** Null for any of the campaign's. */
  mailboxId: number | null;
  /** What their row names, where that is none of these mailboxes; '' otherwise. */
  unknown: string;
}

/** More of a cell is not repeated in a sentence. */
const MOST_CHARACTERS = 80;
const clipped = (text: string): string =>
  text.length > MOST_CHARACTERS ? `${storableText(text.slice(0, MOST_CHARACTERS))}…` : text;

const plain = (text: string): string => text.normalize('NFKC').trim().toLowerCase().replace(/\s+/g, ' ');
const addressIn = (text: string): string => /<([^<>]*)>\s*$/.exec(text)?.[1]?.trim() ?? text;
const localPart = (address: string): string => address.slice(0, address.lastIndexOf('@'));

/**
 * The mailbox that a cell means: by its address (alone, or behind a name in angle brackets), else by the sender's name, else by
 * what stands before the `@`; null where it is none of them, or could be several.
 */
export function mailboxNamed<M extends NamedMailbox>(cell: string, mailboxes: readonly M[]): M | null {
  const text = plain(cell);
  if (text === '') return null;
  const by = [
    (m: M) => plain(m.address) === addressIn(text),
    (m: M) => plain(m.senderName) === text,
    (m: M) => plain(localPart(m.address)) === text,
  ];
  for (const is of by) {
    const found = mailboxes.filter(is);
    if (found.length > 0) return found.length === 1 ? (found[0] as M) : null;
  }
  return null;
}

/**
 * Chooses the sender of somebody's messages before the first has left: the mailbox that their row names, else the one that has
 * written to them before.
 *
 * @param named what their row says; '' where it says nothing, or is not asked
 * @param lastId the mailbox from which they were last written to; null for none, or where that does not count
 * @param mailboxes the campaign's
 */
export function chooseSender(
  { named, lastId }: { named: string; lastId: number | null },
  mailboxes: readonly NamedMailbox[],
): ChosenSender {
  if (named.trim() !== '') {
    const mailbox = mailboxNamed(named, mailboxes);
    return mailbox ? { mailboxId: mailbox.id, unknown: '' } : { mailboxId: null, unknown: clipped(named.trim()) };
  }
  return { mailboxId: mailboxes.some((m) => m.id === lastId) ? lastId : null, unknown: '' };
}
