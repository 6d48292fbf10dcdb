import { leftOutReason } from './left-out';
import { endedWords, isOpen, type CampaignState, type RecipientState } from './states';

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
export function whyNotWritten({ suppression, heldAll, campaigns }: PersonStanding): string {
  if (suppression !== null)
    return `Nothing is sent to them; they are ${leftOutReason('suppressed', suppression).words}.`;
  const open = campaigns.find((c) => isOpen(c.state));
  if (open) return sentenceOfOpen(open, heldAll);
  const last = campaigns[0];
  if (!last) return 'They are in no campaign yet.';
  return endedWords(last.state, last.campaign, last.reason) ?? `${last.campaign} has ended for them.`;
}

function sentenceOfOpen(c: PersonInCampaign, heldAll: boolean): string {
  if (heldAll) return 'Everything is held: nothing leaves from any mailbox until it is released.';
  if (c.campaignState === 'held') return `${c.campaign} is held: nothing leaves until it is released.`;
  const because = c.reason === '' ? '' : ` (${c.reason})`;
  if (c.next !== null) return `The next message of ${c.campaign} leaves ${c.next}${because}.`;
  return `Their next message of ${c.campaign} has no time yet${because === '' ? ': no mailbox has room for it' : because}.`;
}
