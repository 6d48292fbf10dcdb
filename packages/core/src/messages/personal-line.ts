import { fieldsOf } from './content-fields';
import type { MessageContent } from './message-content';

/** The column in which each person's own line of a message is kept, and its key. */
export const PERSONAL_LINE = 'personal line';
export const PERSONAL_LINE_KEY = 'personalline';

export type LineState = 'to_do' | 'written' | 'approved' | 'rejected';

/** What was decided of a line; it holds for that text only. */
export interface LineDecision {
  state: 'approved' | 'rejected';
  line: string;
}

/** How far a person's line is. */
export function lineState(line: string, decided: LineDecision | null): LineState {
  if (decided !== null && decided.line === line) return decided.state;
  return line.trim() === '' ? 'to_do' : 'written';
}

/** Whether a message has a place for personal lines. */
export const usesLine = (content: MessageContent): boolean =>
  fieldsOf(content).some((use) => use.key === PERSONAL_LINE_KEY);

/**
 * Why a person's line keeps their message back, in words; null where it does not.
 *
 * @param needsApproval whether nothing leaves before somebody has approved the line
 */
export function whyLineKeepsBack(state: LineState, needsApproval: boolean): string | null {
  if (state === 'rejected') return 'the personal line is not good enough to send';
  return needsApproval && state !== 'approved' ? 'the personal line has not been approved' : null;
}
