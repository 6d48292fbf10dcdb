import type { Forecast } from '@baton/contract';
import { MINUTE_MS, type Zone } from '@baton/core';
import type { WorkspacePlan } from '../planning/plan-workspace';
import type { CampaignRow } from '../store/campaigns/campaign-rows';
import type { Queryable } from '../store/database';
import { ownTimesPlanned } from '../store/campaigns/own-time-rows';
import { readWorkspace } from '../store/workspace-rows';
import { localTime } from '../time/local-time';
import type { AudienceMember } from './audience';
import { clockOf } from './first-message-time';

type OwnTimes = Forecast['ownTimes'];

const WHO_SHOWN = 50;

export const NO_OWN_TIMES: OwnTimes = { people: 0, later: 0, who: [] };

interface OwnTime {
  address: string;
  wanted: number;
  gets: number;
  paceMs: number;
  clock: Zone;
}

/** Who has a minute of their own in a draft, and who would get the first message plainly later. */
export function ownTimesOf(
  { plan, input, candidates, mailboxes, campaigns, workspace }: WorkspacePlan,
  index: number,
  audience: readonly AudienceMember[],
): OwnTimes {
  const { at, campaign: campaignOf } = input.recipients;
  const campaign = campaigns[index];
  if (!campaign || !at?.some((instant, p) => instant >= 0 && campaignOf[p] === index)) return NO_OWN_TIMES;
  const people = audience.filter((a) => a.leftOut === null);
  const { recipient, step, instant, mailbox } = plan.columns;
  const all: OwnTime[] = [];
  recipient.forEach((p, k) => {
    const wanted = at[p] as number;
    if (campaignOf[p] !== index || step[k] !== 0 || wanted < 0) return;
    // A draft's people have negative numbers.
    const person = people[-1 - (candidates[p]?.id ?? 0)]?.person;
    if (!person) return;
    all.push({
      ...{ address: person.address, wanted, gets: instant[k] as number },
      paceMs: (mailboxes[mailbox[k] as number]?.paceSeconds ?? 0) * 1000,
      clock: clockOf(campaign, person, workspace.zone),
    });
  });
  return tell(all);
}

/** The same of people of a running campaign who have not been written to yet. */
export async function ownTimesOfStarted(db: Queryable, campaign: CampaignRow): Promise<OwnTimes> {
  const planned = await ownTimesPlanned(db, campaign.id);
  if (planned.length === 0) return NO_OWN_TIMES;
  const { zone } = await readWorkspace(db);
  return tell(
    planned.map(({ address, zone: own, notBefore, sendMinute, gets, paceSeconds }) => {
      const clock = clockOf(campaign, { zone: own }, zone);
      return { address, wanted: clock.toInstant(notBefore, sendMinute), gets, paceMs: paceSeconds * 1000, clock };
    }),
  );
}

/** Within the minute, or the mailbox's pace if that is more, is on time. */
function tell(all: readonly OwnTime[]): OwnTimes {
  const late = all.filter(({ wanted, gets, paceMs }) => gets - wanted > Math.max(MINUTE_MS, paceMs));
  late.sort((a, b) => a.wanted - b.wanted);
  const who = late.slice(0, WHO_SHOWN).map(({ address, wanted, gets, clock }) => ({
    address,
    wanted: localTime(wanted, clock.name),
    gets: localTime(gets, clock.name),
  }));
  return { people: all.length, later: late.length, who };
}
