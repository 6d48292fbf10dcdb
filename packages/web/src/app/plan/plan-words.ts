import type { PlanBoard, PlanCampaignRow, PlanMailboxRow } from '@baton/contract';
import { changeWords, dayWords, type ChangeSubject, type PlanChange } from '@baton/core';
import { shortAddress } from '../look/short-address';
import type { WhatIfAnswer } from './what-if-answer';

/** A part of a sentence; `strong` is what it is about. */
export interface Words {
  text: string;
  strong?: boolean;
}

/** What a change is about, as the board has it. */
export function subjectOf(board: PlanBoard, change: PlanChange): Partial<ChangeSubject> {
  const mailbox = board.mailboxes.find((m) => 'mailbox' in change && m.id === change.mailbox);
  const campaign = board.campaigns.find((c) => 'campaign' in change && c.id === change.campaign);
  return {
    today: board.today,
    ...(mailbox ? { mailbox } : {}),
    ...(campaign ? { campaign } : {}),
    ...('step' in change ? { step: change.step } : {}),
  };
}

/** A change as its chip says it: what, as it is, as it would be. */
export function chipWords(change: PlanChange, board: PlanBoard): ReturnType<typeof changeWords> {
  const mailbox = board.mailboxes.find((m) => 'mailbox' in change && m.id === change.mailbox);
  const campaign = board.campaigns.find((c) => 'campaign' in change && c.id === change.campaign);
  const names = {
    mailbox: mailbox ? shortAddress(mailbox.address) : 'a mailbox that is gone',
    campaign: campaign?.name ?? 'a campaign that is gone',
  };
  return changeWords(change, names, subjectOf(board, change));
}

/**
 * What a what-if would do, in a sentence: who ends when, what else moves, what would be late.
 *
 * @param lateNow follow-ups that are late without any change
 */
export function differenceWords(board: PlanBoard, answer: WhatIfAnswer, lateNow: number): Words[] {
  const out: Words[] = [];
  const rows = answer.campaigns.flatMap((a) => {
    const campaign = board.campaigns.find((c) => c.id === a.id);
    return campaign ? [{ campaign, a }] : [];
  });
  const moved = rows.filter(({ campaign, a }) => a.lastDay !== campaign.lastDay && a.lastDay !== null);
  moved.forEach(({ campaign, a }, i) => {
    out.push({ text: `${i === 0 ? '' : i === moved.length - 1 ? ' and ' : ', '}${campaign.name} would finish on ` });
    out.push({ text: dayWords(a.lastDay as string, 'long'), strong: true });
    if (campaign.lastDay !== null) out.push({ text: ` instead of ${dayWords(campaign.lastDay, 'long')}` });
  });
  const others = rows.length - moved.length;
  if (moved.length === 0) out.push({ text: 'Every campaign would finish on the same day as now' });
  else if (others > 0)
    out.push({ text: others === 1 ? '; the other one ends as before' : '; the others end as before' });
  const late = rows.reduce((sum, { a }) => sum + a.late, 0);
  out.push({ text: '; ' });
  const followUps = late === 1 ? '1 follow-up' : `${late} follow-ups`;
  out.push(
    late === 0
      ? { text: 'no follow-up is late.' }
      : late === lateNow
        ? { text: `${followUps} late, as now.` }
        : { text: `${followUps} would be late${lateNow === 0 ? '' : ` instead of ${lateNow}`}.`, strong: true },
  );
  for (const { campaign, a } of rows)
    for (const { reason, people } of a.notPlaced)
      out.push({
        text: ` ${people === 1 ? '1 person' : `${people} people`} of ${campaign.name} would get nothing: ${reason}.`,
      });
  return out;
}

/** What a cell says to those who do not see it. */
export function cellWords(
  mailbox: PlanMailboxRow,
  period: string,
  loads: readonly { campaign: PlanCampaignRow | undefined; first: number; followUps: number; held: number }[],
  ceiling: number | null,
): string {
  const all = loads.reduce((sum, l) => sum + l.first + l.followUps, 0);
  const held = loads.reduce((sum, l) => sum + l.held, 0);
  const may = ceiling === null ? 'closed' : `${all} of ${ceiling}`;
  const parts = loads.map((l) => `${l.campaign?.name ?? ''}: ${l.first} first, ${l.followUps} follow-ups`);
  return [`${mailbox.address}, ${period}: ${may}`, ...parts, ...(held > 0 ? [`${held} held`] : [])].join('; ');
}
