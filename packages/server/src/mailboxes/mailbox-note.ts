import { dayWords, type DateForm } from '@baton/core';
import type { MailboxRow } from '../store/mailboxes/mailbox-rows';
import { restsOn } from './capacity';

/** Why nothing leaves from a mailbox on its local day, in words; '' when it sends. */
export function mailboxNote(mailbox: MailboxRow, day: number, form: DateForm): string {
  // Why not is said where there is room for it.
  if (mailbox.problem !== null) return 'cannot sign in';
  if (mailbox.held) return 'held';
  return restsOn(mailbox, day) ? `rests until ${dayWords(mailbox.restUntil ?? '', 'short', form)}` : '';
}
