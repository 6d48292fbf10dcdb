import { dayNumber, isoDate } from '@baton/core';
import type { MailboxRules } from '@baton/contract';
import { boundedReader } from '../bounded/bounded-reader';
import type { ServerParts } from '../http/context';
import { wantFreshPlan } from '../planning/want-plan';
import { announce } from '../store/changes';
import { readWorkspace, updateWorkspace } from '../store/workspace-rows';
import { zones } from '../time/zones';

/** Years ahead for which yearly days of a calendar are taken. */
const YEARS_AHEAD = 3;

export async function viewRules({ store }: ServerParts): Promise<MailboxRules> {
  const { restBounds, domainCap, holidays } = await readWorkspace(store.db);
  return { rest: restBounds, domainCap, holidays };
}

/** @throws DomainError `invalid` for a day that does not exist */
export async function changeRules({ store, clock }: ServerParts, rules: MailboxRules): Promise<void> {
  const nowMs = await clock.now();
  for (const { day } of rules.holidays) dayNumber(day);
  await store.db.transaction(async (tx) => {
    const before = await readWorkspace(tx);
    const holidays = [...new Map(rules.holidays.map((h) => [h.day, h])).values()].sort((a, b) =>
      a.day < b.day ? -1 : 1,
    );
    await updateWorkspace(tx, { restBounds: rules.rest, domainCap: rules.domainCap, holidays });
    const plans = JSON.stringify([before.domainCap, before.holidays]) !== JSON.stringify([rules.domainCap, holidays]);
    if (plans) await wantFreshPlan(tx, nowMs);
    await announce(tx, 'mailboxes', 'progress');
  });
}

/** Adds the days of a calendar file from today on. @returns how many are new */
export async function takeHolidays(parts: ServerParts, calendar: string): Promise<number> {
  const rules = await viewRules(parts);
  const { zone } = await readWorkspace(parts.store.db);
  const today = isoDate(zones.get(zone).toLocal(await parts.clock.now()).day);
  const year = Number(today.slice(0, 4));
  const known = new Set(rules.holidays.map((h) => h.day));
  const fresh = (await boundedReader.read('calendar', calendar, [year, year + YEARS_AHEAD]))
    .filter((d) => d.day >= today && !known.has(d.day))
    .map(({ day, name }) => ({ day, name: name.slice(0, 200) }));
  if (fresh.length > 0) await changeRules(parts, { ...rules, holidays: [...rules.holidays, ...fresh] });
  return fresh.length;
}
