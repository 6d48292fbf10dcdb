import { listed } from '../listed';
import type { LeftOutCode } from './left-out';

/** What keeps a mailbox from sending now: in words for one, for several, and what would change it. */
const STOPS = {
  signed_out: ['cannot sign in', 'cannot sign in', 'sign in again'],
  held: ['is held', 'are held', 'release'],
  mailbox_rests: ['rests', 'rest', 'see why under Mailboxes, where a rest is ended'],
  day_off: ['has a day off', 'have a day off', ''],
  mailbox_hours: ['is outside its sending window', 'are outside their sending windows', 'wait for it, or widen it'],
  quota: ['has used up its quota for today', 'have used up their quotas for today', 'wait, or raise it'],
  provider_limit: [
    'has reached its provider’s limit in 24 hours',
    'have reached their provider’s limit in 24 hours',
    '',
  ],
} as const satisfies Partial<Record<LeftOutCode | 'signed_out' | 'held', readonly [string, string, string]>>;

export type MailboxStop = keyof typeof STOPS;

/** Whether a reason against sending is one of the mailbox's. */
export const isMailboxStop = (code: LeftOutCode): code is MailboxStop & LeftOutCode => code in STOPS;

/** What is known of a campaign that has been started, as far as it decides whether something leaves. */
export interface CampaignStanding {
  heldAll: boolean;
  isHeld: boolean;
  /** When the next message leaves, in words, and from where; null when none has a time. */
  next: { when: string; mailbox: string } | null;
  /** People to whom more is to come. */
  people: number;
  /** Why some mailboxes of the campaign do not send now; `until` in words, '' where that is not known. */
  stops: readonly { mailbox: string; why: MailboxStop; until: string }[];
  /** How many mailboxes it has. */
  mailboxes: number;
  /** Messages that a person holds. */
  heldMessages: number;
  /** Its limit for the day, where that is used up. */
  limit: number | null;
  /** Whether those after the first group wait until a person lets them go. */
  othersWait: boolean;
}

/** Why messages of a campaign leave or do not, and what would change it, in sentences; what weighs most comes first. */
export function campaignStands(of: CampaignStanding): string[] {
  if (of.heldAll) return ['Everything is held: nothing leaves from any mailbox until it is released.'];
  if (of.isHeld) return ['It is held: nothing leaves until it is released.'];
  const said: string[] = [];
  if (of.next) said.push(`The next message leaves ${of.next.when} from ${of.next.mailbox}.`);
  else if (of.people > 0)
    said.push(
      of.mailboxes === 0
        ? 'No message has a time: the campaign has no mailbox.'
        : of.heldMessages > 0
          ? 'No message leaves before somebody lets one go.'
          : 'No message has a time yet.',
    );
  for (const why of new Set(of.stops.map((s) => s.why))) {
    const own = of.stops.filter((s) => s.why === why);
    const untils = new Set(own.map((s) => s.until));
    const [until = ''] = untils.size === 1 ? untils : [];
    const [one, many, fix] = STOPS[why];
    const who = own.length > MOST_NAMED ? `${own.length} mailboxes` : listed(own.map((s) => s.mailbox));
    said.push(
      `${who} ${own.length === 1 ? one : many}${until === '' ? '' : ` until ${until}`}${fix === '' ? '' : ` (${fix})`}.`,
    );
  }
  if (of.limit !== null) said.push(`Its limit of ${of.limit} a day is used up for today (wait, or raise it).`);
  if (of.heldMessages > 0)
    said.push(
      `${of.heldMessages === 1 ? '1 message is' : `${of.heldMessages} messages are`} held with the day’s batch; let them go in the plan.`,
    );
  if (of.othersWait) said.push('Those after the first group wait until you let them go.');
  return said;
}

/** More mailboxes are counted instead of named. */
const MOST_NAMED = 3;
