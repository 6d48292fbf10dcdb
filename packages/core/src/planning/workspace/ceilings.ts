import { MailboxDays } from './mailbox-days';
import { PlanDays } from './plan-days';
import type { PlanInput } from './plan-input';

/** What each mailbox may send on each day, before anything is planned. */
export interface Ceilings {
  /** Day number of the first day. */
  base: number;
  /** By mailbox and day: units, or -1 on a day on which it is closed. Today's are what is left of it. */
  units: Int32Array[];
}

/** @throws DomainError `invalid` for a zone, date or calendar that does not exist */
export function ceilingsOf(input: PlanInput): Ceilings {
  const days = new PlanDays(input);
  const open = new MailboxDays(input, days, [null]);
  return {
    base: days.base,
    units: input.mailboxes.map((_, m) => {
      const own = open.capacity.slice(m * days.count, (m + 1) * days.count);
      return own.map((units, i) => (open.open(m, i, 0).length === 0 ? -1 : units));
    }),
  };
}
