import type { Ledger } from './ledger';

/** How many units of first messages one mailbox may have begun by the end of each day. */
export interface StartBudget {
  allows(day: number, units: number): boolean;
  spend(units: number): void;
}

/**
 * The start curve: with m messages a person at a mean offset of o working days, cumulative starts follow
 * C(d + o) / m, C the cumulative capacity left over by people already in progress. Filling each day with
 * first messages instead would leave no room for their follow-ups.
 *
 * @param steps of the campaign that competes for the mailbox; delays in working days
 */
export function startBudget(
  ledger: Ledger,
  mailbox: number,
  steps: readonly { delay: number; tolerance: number }[],
): StartBudget {
  const first = ledger.firstDay(mailbox);
  const last = ledger.lastDay(mailbox);
  const offsets = steps.map((_, i) => steps.slice(0, i + 1).reduce((sum, s) => sum + s.delay, 0));
  const mean = Math.round(offsets.reduce((a, b) => a + b, 0) / Math.max(1, steps.length));
  const cumulative: number[] = [];
  let sum = 0;
  for (let day = first; day <= last; day++)
    cumulative.push((sum += Math.max(0, ledger.capacity(mailbox, day) - ledger.used(mailbox, day))));
  let spent = 0;
  return {
    allows(day, units) {
      const ahead = Math.min(ledger.calendar.add(day, mean), last) - first;
      const room = cumulative[ahead] ?? sum;
      return spent + units <= Math.ceil(room / Math.max(1, steps.length)) + units - 1;
    },
    spend(units) {
      spent += units;
    },
  };
}
