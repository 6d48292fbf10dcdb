import { DAY_MS } from '../time/clock';
import { dayNumber, isoWeekday } from '../time/days';
import { isInside, spansOfDay } from '../time/window';
import { workingCalendar } from '../time/working-calendar';
import { createZones } from '../time/zone';
import { rampQuota } from '../planning/workspace/mailbox-days';
import type { Plan, PlanInput, PlanMailbox, PlannedDelivery, PlanStep } from '../planning/workspace/plan-input';

/** Every promise of a plan that does not hold, in words; [] when all do. Written apart from the planner. */
export function brokenPromises(input: PlanInput, plan: Plan): string[] {
  return [...perMailbox(input, plan), ...perRecipient(input, plan), ...perCampaign(input, plan)];
}

function perMailbox(input: PlanInput, plan: Plan): string[] {
  const out: string[] = [];
  const zones = createZones();
  const calendar = workingCalendar(input.calendar.weekdays, input.calendar.holidays);
  const units = (d: PlannedDelivery) => input.recipients.units[d.recipient] as number;
  input.mailboxes.forEach((m, index) => {
    const zone = zones.get(m.zone);
    const own = plan.deliveries.filter((d) => d.mailbox === index).sort((a, b) => a.instant - b.instant);
    if (m.held && own.length > 0) out.push(`mailbox ${index} is held and sends`);
    const all = [...m.alreadyUsed, ...own.map((d) => ({ instant: d.instant, units: units(d) }))].sort(
      (a, b) => a.instant - b.instant,
    );
    const perDay = new Map<number, number>();
    const perDomain = new Map<string, number>();
    for (const d of own) {
      if (d.instant < input.now) out.push(`mailbox ${index} sends before now`);
      if (zone.toLocal(d.instant).day !== d.day) out.push(`mailbox ${index}: day does not fit instant`);
      if (!isInside(spansOfDay(m.windows, d.day, zone), d.instant))
        out.push(`mailbox ${index} sends outside its window`);
      if (m.daysOff.some((off) => dayNumber(off) === d.day)) out.push(`mailbox ${index} sends on a day off`);
      if (m.restUntil !== null && d.day < dayNumber(m.restUntil)) out.push(`mailbox ${index} sends while it rests`);
      perDay.set(d.day, (perDay.get(d.day) ?? 0) + units(d));
      const domain = `${d.day}/${input.recipients.domain[d.recipient]}`;
      perDomain.set(domain, (perDomain.get(domain) ?? 0) + 1);
    }
    const today = zone.toLocal(input.now).day;
    const usedToday = m.alreadyUsed
      .filter((u) => zone.toLocal(u.instant).day === today)
      .reduce((s, u) => s + u.units, 0);
    for (const [day, n] of perDay)
      if (n + (day === today ? usedToday : 0) > capacityOf(m, day, today, calendar))
        out.push(`mailbox ${index} is over quota on day ${day}`);
    for (const [key, n] of perDomain)
      if (input.domainCap !== null && n > input.domainCap) out.push(`mailbox ${index} is over the domain cap: ${key}`);
    for (let i = 1; i < all.length; i++) {
      const gap = (all[i] as { instant: number }).instant - (all[i - 1] as { instant: number }).instant;
      if ((all[i] as { instant: number }).instant >= input.now && gap < m.paceSeconds * 1000)
        out.push(`mailbox ${index} goes faster than its pace`);
    }
    if (m.providerLimit24h !== null) {
      for (const e of all.filter((a) => a.instant >= input.now)) {
        const sum = all
          .filter((o) => o.instant > e.instant - DAY_MS && o.instant <= e.instant)
          .reduce((s, o) => s + o.units, 0);
        if (sum > m.providerLimit24h) out.push(`mailbox ${index} is over its provider's limit`);
      }
    }
  });
  return out;
}

function capacityOf(m: PlanMailbox, day: number, today: number, calendar: ReturnType<typeof workingCalendar>): number {
  if ('days' in m.capacity) return m.capacity.days[Math.min(day - today, m.capacity.days.length - 1)] ?? 0;
  return m.capacity.ramp
    ? rampQuota(m.capacity.quota, m.capacity.ramp, Math.max(0, calendar.between(m.capacity.ramp.day, day)))
    : m.capacity.quota;
}

function perRecipient(input: PlanInput, plan: Plan): string[] {
  const out: string[] = [];
  const zones = createZones();
  const calendar = workingCalendar(input.calendar.weekdays, input.calendar.holidays);
  const r = input.recipients;
  const notPlaced = new Set(plan.notPlaced.map((n) => n.recipient));
  const byRecipient = new Map<number, PlannedDelivery[]>();
  for (const d of plan.deliveries) byRecipient.set(d.recipient, [...(byRecipient.get(d.recipient) ?? []), d]);
  for (let i = 0; i < r.count; i++) {
    const campaign = input.campaigns[r.campaign[i] as number] as PlanInput['campaigns'][number];
    const own = (byRecipient.get(i) ?? []).sort((a, b) => a.step - b.step);
    if (own.length === 0 && !notPlaced.has(i)) out.push(`recipient ${i} is forgotten`);
    if (own.length === 0) continue;
    const first = r.nextStep[i] as number;
    const remaining = campaign.steps.map((_, s) => s).slice(first);
    const has = new Set(own.map((d) => d.step));
    const mayLack = (s: number) => campaign.endInstant != null || campaign.steps[s]?.endInstant != null;
    if (has.size !== own.length || remaining.some((s) => !has.has(s) && !mayLack(s)) || own.some((d) => d.step < first))
      out.push(`recipient ${i} has steps ${own.map((d) => d.step)}`);
    if (new Set(own.map((d) => d.mailbox)).size > 1) out.push(`recipient ${i} gets mail from two mailboxes`);
    const bound = r.boundMailbox[i] as number;
    if (bound >= 0 ? own[0]?.mailbox !== bound : !campaign.mailboxes.includes(own[0]?.mailbox as number))
      out.push(`recipient ${i} gets mail from the wrong mailbox`);
    own.forEach((d, k) => {
      const step = campaign.steps[d.step] as PlanStep;
      const before = own[k - 1];
      const waits = campaign.steps.slice((before?.step ?? 0) + 1, d.step + 1).reduce((sum, s) => sum + s.delay, 0);
      if (before && calendar.between(before.day, d.day) < waits)
        out.push(`recipient ${i} gets step ${d.step} too early`);
      if (k === 0 && d.step === first && first > 0 && d.day < (r.dueDay[i] as number))
        out.push(`recipient ${i} gets a due follow-up too early`);
      if (d.day < (r.notBefore[i] as number)) out.push(`recipient ${i} gets mail before their date`);
      if (d.step === 0 && d.day < dayNumber(campaign.startDate)) out.push(`recipient ${i} starts before the campaign`);
      if (d.step === 0 && d.instant < (campaign.startInstant ?? -Infinity))
        out.push(`recipient ${i} starts before the campaign’s hour`);
      if (d.step === 0 && d.instant < (r.at?.[i] ?? -1)) out.push(`recipient ${i} starts before their own instant`);
      if (d.instant >= (campaign.endInstant ?? Infinity)) out.push(`recipient ${i} gets mail after the campaign’s end`);
      if (d.instant >= (step.endInstant ?? Infinity)) out.push(`recipient ${i} gets step ${d.step} after its end`);
      const local = zones.get(input.zones[r.zone[i] as number] as string).toLocal(d.instant);
      const { hours } = step;
      if (hours && (local.minute < hours.from || local.minute >= hours.to))
        out.push(`recipient ${i} gets step ${d.step} outside its hours`);
      if (campaign.recipientWindow) {
        const w = campaign.recipientWindow;
        if (!w.weekdays.includes(isoWeekday(local.day)) || local.minute < w.from || local.minute >= w.to)
          out.push(`recipient ${i} gets mail outside their hours`);
      }
    });
  }
  return out;
}

function perCampaign(input: PlanInput, plan: Plan): string[] {
  return input.campaigns.flatMap((campaign, c) => {
    const own = plan.deliveries.filter((d) => input.recipients.campaign[d.recipient] === c);
    if (campaign.held && own.length > 0) return [`campaign ${c} is held and sends`];
    const days = new Map<number, number>((campaign.alreadySent ?? []).map((a) => [a.day, a.messages]));
    for (const d of own) days.set(d.day, (days.get(d.day) ?? 0) + 1);
    return [...days]
      .filter(([day]) => own.some((d) => d.day === day))
      .filter(([, n]) => campaign.dailyLimit !== null && n > campaign.dailyLimit)
      .map(([day]) => `campaign ${c} is over its daily limit on ${day}`);
  });
}
