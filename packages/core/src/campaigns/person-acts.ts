import type { RecordedEventKind } from './recipient-events';
import { isOpen, type RecipientState } from './states';

/** What a person can do about one recipient of a campaign that is under way. */
export const PERSON_ACTS = ['end', 'skip', 'postpone', 'move', 'send_now'] as const;
export type PersonAct = (typeof PERSON_ACTS)[number];

/** What it takes to say whether that can be done. */
export interface ActFacts {
  state: RecipientState;
  /** Place of the next message. */
  sent: number;
  /** Messages of the campaign. */
  steps: number;
  /** Whether the next message is planned, and has not begun to leave. */
  isPlanned: boolean;
}

/** Why it cannot be done for somebody, in words that follow "passed over:"; null where it can. */
export function whyNotAct(act: PersonAct, { state, sent, steps, isPlanned }: ActFacts): string | null {
  if (!isOpen(state)) return 'nothing more is to come for them';
  switch (act) {
    case 'end':
    case 'postpone':
      return null;
    case 'skip':
      if (sent === 0) return 'the first message cannot be skipped, only ended';
      return sent >= steps ? 'nothing more is to come for them' : null;
    case 'move':
      return sent === 0 ? null : 'they are in a thread with their mailbox';
    case 'send_now':
      return isPlanned ? null : 'their next message is not planned, or is leaving already';
  }
}

/** What their history says of it; null for nothing. */
export function eventOfAct(
  act: PersonAct,
  { sent, steps }: Pick<ActFacts, 'sent' | 'steps'>,
): RecordedEventKind | null {
  switch (act) {
    case 'end':
      return 'ended_by_hand';
    case 'skip':
      return sent + 1 >= steps ? 'skipped_last' : 'skipped';
    case 'postpone':
      return 'postponed';
    case 'move':
      return 'moved';
    case 'send_now':
      return null;
  }
}

const DONE: Readonly<Record<PersonAct, (people: string, detail: string) => string>> = {
  end: (people) => `The campaign was ended for ${people}.`,
  skip: (people) => `${people} skipped a message.`,
  postpone: (people, day) =>
    day === ''
      ? `What follows for ${people} is no longer postponed.`
      : `What follows for ${people} was postponed to ${day}.`,
  move: (people, mailbox) => `${people} will be written to from ${mailbox}.`,
  send_now: (people) => `The next message to ${people} leaves now, if its mailbox may send.`,
};

/**
 * What was done, in a sentence.
 *
 * @param who how many, and the address of one
 * @param detail the day or mailbox, in words
 */
export const actWords = (act: PersonAct, who: { people: number; address: string }, detail: string): string =>
  DONE[act](who.people === 1 ? who.address : `${who.people.toLocaleString('en')} people`, detail);
