import { workingCalendar, type WorkingCalendar } from '../time/working-calendar';
import { createZones } from '../time/zone';
import { hash32 } from '../random/seeded';
import { assignInstants, type DayMessage } from './assign-instants';
import { createLedger, type Ledger } from './ledger';
import { Placer, type Placement } from './place-people';
import type { CampaignForecast, Plan, PlanInput, PlannedDelivery } from './plan-input';

/** A recipient whose day ran out of instants is tried again on a later day, this often over the whole plan. */
const MAX_ROUNDS = 40;

/**
 * Plans every message to come: mailbox, day and instant. Pure and deterministic: the same input gives the
 * same plan.
 *
 * Always true of the plan: no mailbox-day over its capacity; no 24 hours over the provider's limit; every
 * instant inside the mailbox's window and the recipient's, and at least the pace apart in one mailbox; all
 * messages of one recipient from one mailbox; follow-ups not before their delay; at most `domainCap` a day
 * to one domain; nobody before their date; nothing from held or resting mailboxes or for held campaigns. A
 * recipient has all remaining messages in the plan or none, then with the reason.
 *
 * @throws DomainError `invalid` for a zone, date or calendar that does not exist
 */
export function planSends(input: PlanInput): Plan {
  const zones = createZones();
  const calendar = workingCalendar(input.calendar.weekdays, input.calendar.holidays);
  const ledger = createLedger(input, calendar, zones);
  const placer = new Placer(ledger);
  const placed = new Map<number, Placement>();
  const notPlaced = new Map<number, string>();

  for (const recipient of orderOfPlacing(input)) tryPlace(recipient, -Infinity, placer, placed, notPlaced);
  const instants = timeAll(ledger, placer, placed, notPlaced);
  return {
    deliveries: instants.sort((a, b) => a.instant - b.instant || a.mailbox - b.mailbox || a.recipient - b.recipient),
    notPlaced: [...notPlaced]
      .map(([recipient, reason]) => ({ recipient, reason }))
      .sort((a, b) => a.recipient - b.recipient),
    campaigns: forecast(input, calendar, instants),
  };
}

function tryPlace(
  recipient: number,
  notBefore: number,
  placer: Placer,
  placed: Map<number, Placement>,
  notPlaced: Map<number, string>,
): void {
  const result = placer.place(recipient, notBefore);
  if (typeof result === 'string') notPlaced.set(recipient, result);
  else placed.set(recipient, result);
}

/** People in progress by due day first; then newcomers, campaigns taking turns by weight. */
function orderOfPlacing(input: PlanInput): number[] {
  const r = input.recipients;
  const inProgress: number[] = [];
  const queues: number[][] = input.campaigns.map(() => []);
  for (let i = 0; i < r.count; i++) {
    if ((r.nextStep[i] as number) > 0) inProgress.push(i);
    else queues[r.campaign[i] as number]?.push(i);
  }
  inProgress.sort((a, b) => (r.dueDay[a] as number) - (r.dueDay[b] as number) || a - b);
  const started = input.campaigns.map(() => 0);
  const next = queues.map(() => 0);
  const order = inProgress;
  for (;;) {
    let turn = -1;
    for (let c = 0; c < queues.length; c++) {
      if ((next[c] as number) >= (queues[c] as number[]).length) continue;
      if (turn < 0 || (started[c] as number) < (started[turn] as number)) turn = c;
    }
    if (turn < 0) return order;
    const recipient = (queues[turn] as number[])[next[turn] as number] as number;
    order.push(recipient);
    next[turn] = (next[turn] as number) + 1;
    started[turn] =
      (started[turn] as number) + (r.units[recipient] as number) / (input.campaigns[turn] as { weight: number }).weight;
  }
}

interface Slot {
  recipient: number;
  step: number;
}

/** Times every mailbox-day in order; recipients for whom a day has no instant left move to a later day. */
function timeAll(
  ledger: Ledger,
  placer: Placer,
  placed: Map<number, Placement>,
  notPlaced: Map<number, string>,
): PlannedDelivery[] {
  for (let round = 0; ; round++) {
    const { timed, spilled } = timeOnce(ledger, placed);
    if (spilled.size === 0) return timed;
    for (const [recipient, day] of spilled) {
      placer.remove(recipient, placed.get(recipient) as Placement);
      placed.delete(recipient);
      if (round >= MAX_ROUNDS)
        notPlaced.set(recipient, 'there are too few hours in which mailbox and recipient may both');
      else tryPlace(recipient, day + 1, placer, placed, notPlaced);
    }
  }
}

function timeOnce(
  ledger: Ledger,
  placed: Map<number, Placement>,
): { timed: PlannedDelivery[]; spilled: Map<number, number> } {
  const { input } = ledger;
  const timed: PlannedDelivery[] = [];
  const spilled = new Map<number, number>();
  const byMailboxDay = groupByMailboxDay(ledger, placed);
  input.mailboxes.forEach((mailbox, m) => {
    const earlier = mailbox.alreadyUsed.slice().sort((a, b) => a.instant - b.instant);
    for (const [day, slots] of [...(byMailboxDay[m] as Map<number, Slot[]>)].sort((a, b) => a[0] - b[0])) {
      const messages = slots.map((s, id): DayMessage => ({
        id,
        units: input.recipients.units[s.recipient] as number,
        open: ledger.openSpans(s.recipient, m, day),
      }));
      const seed = hash32(`${input.seed}/${m}/${day}`);
      const lastMs = earlier.at(-1)?.instant ?? -Infinity;
      const result = assignInstants(
        messages,
        { paceMs: mailbox.paceSeconds * 1000, lastMs, providerLimit24h: mailbox.providerLimit24h, earlier },
        seed,
      );
      for (const t of result.timed) {
        const slot = slots[t.id] as Slot;
        timed.push({ recipient: slot.recipient, step: slot.step, mailbox: m, day, instant: t.instant });
        earlier.push({ instant: t.instant, units: t.units });
      }
      for (const id of result.spilled) {
        const { recipient } = slots[id] as Slot;
        const first = (placed.get(recipient) as Placement).days[0] as number;
        spilled.set(recipient, Math.min(spilled.get(recipient) ?? Infinity, first));
      }
    }
  });
  return { timed, spilled };
}

function groupByMailboxDay(ledger: Ledger, placed: Map<number, Placement>): Map<number, Slot[]>[] {
  const days = ledger.input.mailboxes.map(() => new Map<number, Slot[]>());
  for (const [recipient, p] of [...placed].sort((a, b) => a[0] - b[0])) {
    const ofMailbox = days[p.mailbox] as Map<number, Slot[]>;
    p.days.forEach((day, i) => {
      const slot = { recipient, step: (ledger.input.recipients.nextStep[recipient] as number) + i };
      const slots = ofMailbox.get(day);
      if (slots) slots.push(slot);
      else ofMailbox.set(day, [slot]);
    });
  }
  return days;
}

function forecast(
  input: PlanInput,
  calendar: WorkingCalendar,
  deliveries: readonly PlannedDelivery[],
): CampaignForecast[] {
  const out = input.campaigns.map((): CampaignForecast => ({
    firstDay: null,
    lastStartDay: null,
    lastDay: null,
    late: 0,
  }));
  const previous = new Map<number, number>();
  const inOrder = [...deliveries].sort((a, b) => a.recipient - b.recipient || a.step - b.step);
  for (const d of inOrder) {
    const campaign = input.recipients.campaign[d.recipient] as number;
    const f = out[campaign] as CampaignForecast;
    f.firstDay = Math.min(f.firstDay ?? d.day, d.day);
    f.lastDay = Math.max(f.lastDay ?? d.day, d.day);
    if (d.step === 0) f.lastStartDay = Math.max(f.lastStartDay ?? d.day, d.day);
    else {
      const step = input.campaigns[campaign]?.steps[d.step] ?? { delay: 0, tolerance: 0 };
      const before = previous.get(d.recipient);
      const waited =
        before === undefined
          ? calendar.between(input.recipients.dueDay[d.recipient] as number, d.day)
          : calendar.between(before, d.day) - step.delay;
      if (waited > step.tolerance) f.late++;
    }
    previous.set(d.recipient, d.day);
  }
  return out;
}
