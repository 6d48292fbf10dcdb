/**
 * Working days after which a message is sent again that came back from an address that may be good: mailboxes are emptied and
 * servers mended within days. The number of pauses is the bound.
 */
const PAUSES: readonly number[] = [2, 5];

/**
 * When a message that came back softly is sent again.
 *
 * @param before how often a message of the campaign to this person had come back softly before
 * @returns working days to wait; null where it is not sent again, and the campaign ends for the person
 */
export const softBouncePause = (before: number): number | null => PAUSES[before] ?? null;
