/** A rising quota: so many at first, so many more after every so many days on which it sent. */
export interface RampSteps {
  first: number;
  add: number;
  every: number;
}

/** Days on which it sent that a ramp goes back after trouble: a working week. */
export const STEP_BACK_DAYS = 5;

/** A ramp for a mailbox of an age and history, and why. */
export interface RampSuggestion {
  ramp: RampSteps | null;
  /** In words, a clause. */
  because: string;
}

/**
 * What to begin with: young mailboxes low and slowly, those that have long sent as much as is wanted not at all.
 *
 * @param ageDays since the mailbox was made; null if unknown, which counts as young
 * @param sentPerDay the most it has sent on one of the last thirty days, 0 or more
 * @param quota what it is to send a day in the end
 */
export function suggestRamp(ageDays: number | null, sentPerDay: number, quota: number): RampSuggestion {
  if (sentPerDay >= 0.8 * quota)
    return { ramp: null, because: `it has already sent ${sentPerDay} on a day without trouble` };
  const young = ageDays === null || ageDays < 30;
  const settled = ageDays !== null && ageDays >= 180;
  const first = Math.min(quota, Math.max(sentPerDay, settled ? 20 : young ? 5 : 10));
  if (first >= quota) return { ramp: null, because: `${quota} a day is little for a mailbox of any age` };
  // Over four weeks for the young, three or two for others, of five days each.
  const days = settled ? 10 : young ? 20 : 15;
  const add = Math.max(1, Math.ceil((quota - first) / days));
  const because =
    ageDays === null
      ? 'nothing is known of its age'
      : `it is ${ageDays} ${ageDays === 1 ? 'day' : 'days'} old${sentPerDay > 0 ? ` and has sent at most ${sentPerDay} on a day` : ''}`;
  return { ramp: { first, add, every: 1 }, because };
}
