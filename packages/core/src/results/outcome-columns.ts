import { recipientStateWords, type RecipientState } from '../campaigns/states';

/** What became of one recipient of a campaign. */
export interface RecipientOutcome {
  state: RecipientState;
  reason: string;
  mailbox: string;
  /** Local wall-clock times of each message sent, as `2026-11-30 09:14`. */
  sentAt: string[];
  repliedAt: string;
  outcome: string;
  /** What they did with the messages, programs not counted. */
  seen: SeenMessages<string>;
}

/** How often somebody opened messages, when first and last, and how often they followed which links. */
export interface SeenMessages<Time> {
  opens: number;
  firstOpenedAt: Time;
  lastOpenedAt: Time;
  clicks: number;
  links: readonly string[];
}

/** Names of the outcome columns for so many messages. */
export function outcomeHeader(steps: number): string[] {
  const sent = Array.from({ length: steps }, (_, i) => (i === 0 ? 'sent' : `follow-up ${i} sent`));
  return ['state', 'reason', 'mailbox', ...sent, 'replied', 'outcome', ...SEEN];
}

const SEEN = ['opens', 'first opened', 'last opened', 'clicks', 'links followed'];

/** One recipient's cells under {@link outcomeHeader}; blank ones for nobody. */
export function outcomeCells(o: RecipientOutcome | undefined, steps: number): string[] {
  if (!o) return Array<string>(outcomeHeader(steps).length).fill('');
  const sent = Array.from({ length: steps }, (_, i) => o.sentAt[i] ?? '');
  const { opens, firstOpenedAt, lastOpenedAt, clicks, links } = o.seen;
  const often = (n: number) => (n === 0 ? '' : String(n));
  const seen = [often(opens), firstOpenedAt, lastOpenedAt, often(clicks), links.join(' ')];
  return [recipientStateWords(o.state), o.reason, o.mailbox, ...sent, o.repliedAt, o.outcome, ...seen];
}

/**
 * A recipient's original row and what became of it as a line of JSON (JSON Lines: UTF-8, each line an object, ended by a line
 * feed). Apart, because both may have a column of the same name.
 */
export const outcomeLine = (
  header: readonly string[],
  { cells, outcome }: { cells: readonly string[]; outcome: RecipientOutcome },
): string =>
  `${JSON.stringify({ row: Object.fromEntries(header.map((name, i) => [name, cells[i] ?? ''])), outcome })}\n`;

/**
 * The original rows with outcome columns beside them, the header first.
 *
 * @param header names of the original columns
 * @param rows original cells and outcome of each recipient, in the order of the list
 * @param steps how many messages the campaign has: so many `sent` columns
 */
export const outcomeTable = (
  header: readonly string[],
  rows: readonly { cells: readonly string[]; outcome: RecipientOutcome }[],
  steps: number,
): string[][] => [
  [...header, ...outcomeHeader(steps)],
  ...rows.map(({ cells, outcome }) => [...cells, ...outcomeCells(outcome, steps)]),
];
