import { randomBytes } from 'node:crypto';
import { isoDate, writeCalendar, type CalendarEntry } from '@baton/core';
import type { ServerParts } from '../http/context';
import { listCampaigns } from '../store/campaigns/campaign-rows';
import type { Queryable } from '../store/database';
import { listMailboxes } from '../store/mailboxes/mailbox-rows';
import { loadsFrom, type LoadRow } from '../store/planning/plan-rows';
import { readWorkspace, updateWorkspace } from '../store/workspace-rows';
import { localDay } from '../mailboxes/capacity';

/** Days back for which the calendar still says what was sent. */
const DAYS_BACK = 28;

export const calendarPath = (key: string | null): string | null => (key === null ? null : `/calendar/${key}.ics`);

/** The plan as a calendar: an entry for each day on which something leaves, and one for each campaign's end. */
export async function planCalendar(db: Queryable, nowMs: number): Promise<string> {
  const workspace = await readWorkspace(db);
  const mailboxes = await listMailboxes(db);
  const today = mailboxes.reduce((first, m) => Math.min(first, localDay(m, nowMs)), Math.floor(nowMs / 86_400_000));
  const loads = await loadsFrom(db, today - DAYS_BACK);
  const campaigns = new Map((await listCampaigns(db)).map((c) => [c.id, c.name]));
  const addresses = new Map(mailboxes.map((m) => [m.id, m.address]));
  const byDay = new Map<number, LoadRow[]>();
  for (const l of loads) byDay.set(l.day, [...(byDay.get(l.day) ?? []), l]);
  const entries = [...byDay]
    .sort(([a], [b]) => a - b)
    .map(([day, own]): CalendarEntry => {
      const sum = (of: (l: LoadRow) => number) => own.reduce((n, l) => n + of(l), 0);
      const all = sum((l) => l.messages);
      const held = sum((l) => l.held);
      const perMailbox = [...addresses].flatMap(([id, address]) => {
        const n = own.filter((l) => l.mailboxId === id).reduce((s, l) => s + l.messages, 0);
        return n === 0 ? [] : [`${address}: ${n}`];
      });
      return {
        uid: `day-${isoDate(day)}@baton.local`,
        day: isoDate(day),
        title: `${all === 1 ? '1 message' : `${all} messages`}${held > 0 ? `, ${held} held` : ''}`,
        text: [`${sum((l) => l.first)} first messages, ${sum((l) => l.followUps)} follow-ups`, ...perMailbox].join(
          '\n',
        ),
      };
    });
  const ends = [...campaigns].flatMap(([id, name]): CalendarEntry[] => {
    const last = loads.filter((l) => l.campaignId === id).reduce((most, l) => Math.max(most, l.day), -1);
    return last < today ? [] : [{ uid: `end-${id}@baton.local`, day: isoDate(last), title: `${name} ends`, text: '' }];
  });
  return writeCalendar(`${workspace.name}: plan`, [...entries, ...ends], nowMs);
}

/** Opens a subscription under an address nobody can guess, or ends it. @returns its path, or null */
export async function setSubscribed({ store }: ServerParts, subscribed: boolean): Promise<string | null> {
  const calendarKey = subscribed ? randomBytes(18).toString('base64url') : null;
  await updateWorkspace(store.db, { calendarKey });
  return calendarPath(calendarKey);
}
