import type { CampaignState, RecipientState } from '../campaigns/states';

/** What is known of one person in one campaign. */
export interface PersonInCampaign {
  campaign: string;
  campaignState: CampaignState;
  state: RecipientState;
  reason: string;
  /** When the next message leaves, in words; null when none is planned. */
  next: string | null;
}

export interface PersonStanding {
  /** Why nothing may go to them; null when it may. */
  suppression: string | null;
  /** Whether everything in the workspace is held. */
  heldAll: boolean;
  /** Newest first. */
  campaigns: readonly PersonInCampaign[];
}

/**
 * Says in a sentence why somebody is not being written to, or when they will be. What is said first weighs most: the
 * suppression list wins over everything, then what is still to come, then what ended it.
 */
export function whyNotWritten(person: PersonStanding): string {
  if (person.suppression !== null)
    return `Nothing goes to them: they are on the suppression list (${person.suppression}).`;
  const open = person.campaigns.find((c) => c.state === 'waiting' || c.state === 'in_progress');
  if (open) return sentenceOfOpen(open, person.heldAll);
  const last = person.campaigns[0];
  return last ? sentenceOfEnded(last) : 'No campaign has taken them in yet.';
}

function sentenceOfOpen(c: PersonInCampaign, heldAll: boolean): string {
  if (heldAll) return 'Everything is held: nothing leaves from any mailbox until it is released.';
  if (c.campaignState === 'held') return `${c.campaign} is held: nothing leaves until it is released.`;
  const because = c.reason === '' ? '' : ` (${c.reason})`;
  if (c.next !== null) return `The next message of ${c.campaign} leaves ${c.next}${because}.`;
  return `${c.campaign} has no time for their next message yet${because === '' ? ': no mailbox has room for it' : because}.`;
}

const ENDED: Partial<Record<RecipientState, (campaign: string, reason: string) => string>> = {
  replied: (c) => `They answered ${c}, so nothing more follows.`,
  bounced: (c, reason) => `The message of ${c} came back: ${reason}.`,
  unsubscribed: (c, reason) => `They left ${c}: ${reason}.`,
  done: (c) => `They have had every message of ${c}.`,
  left_out: (c, reason) => `They were left out of ${c}: ${reason}.`,
  stopped: (c, reason) => `${c} was stopped for them: ${reason}.`,
};

function sentenceOfEnded(c: PersonInCampaign): string {
  return ENDED[c.state]?.(c.campaign, c.reason || 'no reason is noted') ?? `${c.campaign} has ended for them.`;
}
