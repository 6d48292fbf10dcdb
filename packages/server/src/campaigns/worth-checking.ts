import {
  DAY_MS,
  dayWords,
  isoDate,
  listed,
  recordFaults,
  workingCalendar,
  type DateForm,
  type RecordFinding,
  type Zone,
} from '@baton/core';
import type { Obstacle } from '@baton/contract';
import { restsOn } from '../mailboxes/capacity';
import type { ListToCheck } from './lists-to-check';
import type { WorkspacePlan } from '../planning/plan-workspace';
import type { MailboxRow } from '../store/mailboxes/mailbox-rows';

/** After so many days addresses have changed hands or are gone: some two in a hundred a month. */
const OLD_LIST_DAYS = 180;

/** So many addresses of which nothing is known are worth asking about; fewer are quicker sent to than asked about. */
const MANY_UNCHECKED = 50;

/** Domains that are named in a sentence. */
const DOMAINS_NAMED = 3;

/** More than a new mailbox should send on a day, without a ramp towards it. */
const MANY_FOR_A_NEW_ONE = 30;

/** So many working days later another campaign has to end before it is worth a word: less is what any new plan may bring. */
const PLAINLY_LATER = 2;

interface Moment {
  nowMs: number;
  /** The workspace's. */
  zone: Zone;
  dateForm: DateForm;
}

/** A list whose addresses may no longer be what they were. */
export function oldList(list: { createdAt: number; id: number; name: string }, { nowMs }: Moment): Obstacle[] {
  const days = Math.floor((nowMs - list.createdAt) / DAY_MS);
  if (days < OLD_LIST_DAYS) return [];
  return [
    {
      kind: 'look',
      text: `The list ${list.name} is ${Math.floor(days / 30)} months old: more of its addresses will bounce than of a new one`,
      remedy: { label: 'Look at the list', act: 'open_list', listId: list.id },
    },
  ];
}

/** A list with many addresses of which nobody has ever said whether they exist. */
export function neverChecked({ id, name, unchecked }: ListToCheck): Obstacle[] {
  if (unchecked < MANY_UNCHECKED) return [];
  return [
    {
      kind: 'look',
      text: `${unchecked} addresses of the list ${name} have never been checked: some of them will bounce`,
      remedy: { label: 'Check their domains', act: 'ask_domains', listId: id },
    },
  ];
}

/** People whose messages would come back for certain. */
export function withoutMail(lists: readonly ListToCheck[]): Obstacle[] {
  return lists.flatMap(({ id, name, withoutMail: { people, domains } }): Obstacle[] => {
    if (people === 0) return [];
    const more = domains.length - DOMAINS_NAMED;
    const named = listed([...domains.slice(0, DOMAINS_NAMED), ...(more > 0 ? [`${more} more`] : [])]);
    const text =
      people === 1
        ? `1 address of the list ${name} is at a domain that accepts no mail, ${named}, and will bounce`
        : `${people} addresses of the list ${name} are at domains that accept no mail, ${named}, and will bounce`;
    return [{ kind: 'look', text, remedy: { label: 'Look at the list', act: 'open_list', listId: id } }];
  });
}

/** Mailboxes that cannot send, that rest, or have never sent and would begin at once with many. */
export function mailboxesToCheck(mailboxes: readonly MailboxRow[], { nowMs, zone, dateForm }: Moment): Obstacle[] {
  const today = zone.toLocal(nowMs).day;
  const remedy = { label: 'Mailboxes', act: 'mailboxes' } as const;
  return mailboxes.flatMap((m): Obstacle[] => {
    if (m.problem !== null || m.held) {
      const why = m.problem !== null ? `cannot sign in: ${m.problem}` : 'is held';
      return [{ kind: 'look', text: `${m.address} ${why}; nothing will be sent from it`, remedy }];
    }
    if (m.restUntil !== null && restsOn(m, today))
      return [{ kind: 'look', text: `${m.address} rests until ${dayWords(m.restUntil, 'short', dateForm)}`, remedy }];
    if (m.lastSentAt === null && m.ramp === null && m.dailyQuota > MANY_FOR_A_NEW_ONE)
      return [
        {
          kind: 'look',
          text: `Baton has never sent from ${m.address} and would begin with ${m.dailyQuota} a day; for a new mailbox a ramp is safer`,
          remedy,
        },
      ];
    return [];
  });
}

/** What receivers hold against the domains of mailboxes. @param records what is known of each domain */
export function domainsToMend(
  mailboxes: readonly MailboxRow[],
  records: ReadonlyMap<string, readonly RecordFinding[]>,
): Obstacle[] {
  const firstOf = new Map<string, number>();
  for (const { address, id } of mailboxes) {
    const domain = address.slice(address.lastIndexOf('@') + 1);
    if (!firstOf.has(domain)) firstOf.set(domain, id);
  }
  return [...firstOf].flatMap(([domain, mailboxId]) =>
    recordFaults(domain, records.get(domain) ?? []).map((text): Obstacle => ({
      ...{ kind: 'look', text },
      remedy: { label: 'Show its records', act: 'open_mailbox', mailboxId },
    })),
  );
}

/** Campaigns that would end plainly later beside this one. @param ends the last day of each as it is planned now, by number */
export function crowdedOut(
  planned: WorkspacePlan | null,
  own: number,
  ends: ReadonlyMap<number, number>,
  dateForm: DateForm,
): Obstacle[] {
  if (!planned) return [];
  const { weekdays, holidays } = planned.input.calendar;
  const calendar = workingCalendar(weekdays, holidays);
  return planned.campaigns.flatMap((c, i): Obstacle[] => {
    const [before, after] = [ends.get(c.id), planned.plan.campaigns[i]?.lastDay ?? null];
    if (c.id === own || before === undefined || after === null) return [];
    if (after <= before || calendar.between(before, after) < PLAINLY_LATER) return [];
    const day = (n: number) => dayWords(isoDate(n), 'short', dateForm);
    return [
      {
        kind: 'look',
        text: `${c.name} would end on ${day(after)} instead of ${day(before)}`,
        remedy: { label: 'Compare the shares', act: 'mailboxes' },
      },
    ];
  });
}
