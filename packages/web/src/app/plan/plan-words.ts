import type { PlanBoard, PlanCampaignRow, PlanMailboxRow } from '@baton/contract';
import { changeWords, dayWords, type ChangeSubject, type DateForm, type PlanChange } from '@baton/core';
import { shortAddress } from '../look/short-address';
import type { WhatIfAnswer } from './what-if-answer';
import { planTexts } from './texts';

const texts = planTexts.planWords;

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
export function chipWords(change: PlanChange, board: PlanBoard, form: DateForm): ReturnType<typeof changeWords> {
  const mailbox = board.mailboxes.find((m) => 'mailbox' in change && m.id === change.mailbox);
  const campaign = board.campaigns.find((c) => 'campaign' in change && c.id === change.campaign);
  const names = {
    mailbox: mailbox ? shortAddress(mailbox.address) : texts.aMailboxThatIsGone,
    campaign: campaign?.name ?? texts.aCampaignThatIsGone,
  };
  return changeWords(change, names, subjectOf(board, change), form);
}

/**
 * What a what-if would do, in a sentence: who ends when, what else moves, what would be late.
 *
 * @param lateNow follow-ups that are late without any change
 */
export function differenceWords(board: PlanBoard, answer: WhatIfAnswer, lateNow: number, form: DateForm): Words[] {
  const out: Words[] = [];
  const rows = answer.campaigns.flatMap((a) => {
    const campaign = board.campaigns.find((c) => c.id === a.id);
    return campaign ? [{ campaign, a }] : [];
  });
  const moved = rows.filter(({ campaign, a }) => a.lastDay !== campaign.lastDay && a.lastDay !== null);
  moved.forEach(({ campaign, a }, i) => {
    out.push({ text: texts.wouldFinishOn(i === 0 ? '' : i === moved.length - 1 ? texts.and : ', ', campaign.name) });
    out.push({ text: dayWords(a.lastDay as string, 'long', form), strong: true });
    if (campaign.lastDay !== null) out.push({ text: texts.insteadOf(dayWords(campaign.lastDay, 'long', form)) });
  });
  const others = rows.length - moved.length;
  if (moved.length === 0) out.push({ text: texts.everyCampaignWouldFinishOn });
  else if (others > 0) out.push({ text: texts.othersEndAsBefore(others) });
  const late = rows.reduce((sum, { a }) => sum + a.late, 0);
  out.push({ text: '; ' });
  const followUps = texts.followUps(late);
  out.push(
    late === 0
      ? { text: texts.noFollowUpIsLate }
      : late === lateNow
        ? { text: texts.lateAsNow(followUps) }
        : { text: texts.wouldBeLate(followUps, lateNow === 0 ? '' : texts.insteadOfLate(lateNow)), strong: true },
  );
  for (const { campaign, a } of rows)
    for (const { reason, people } of a.notPlaced)
      out.push({
        text: texts.wouldGetNothing(people, campaign.name, reason),
      });
  return out;
}

/** What a campaign has on a day, to those who do not see it. */
export const lineWords = (
  { name }: PlanCampaignRow,
  period: string,
  load: { first: number; followUps: number } | undefined,
): string => texts.onDay(period, texts.firstAndFollowUps(name, load?.first ?? 0, load?.followUps ?? 0));

/** What a cell says to those who do not see it. */
export function cellWords(
  mailbox: PlanMailboxRow,
  period: string,
  loads: readonly { campaign: PlanCampaignRow | undefined; first: number; followUps: number; held: number }[],
  ceiling: number | null,
): string {
  const all = loads.reduce((sum, l) => sum + l.first + l.followUps, 0);
  const held = loads.reduce((sum, l) => sum + l.held, 0);
  const may = ceiling === null ? texts.closed : texts.of(all, ceiling);
  const parts = loads.map((l) => texts.firstAndFollowUps(l.campaign?.name ?? '', l.first, l.followUps));
  return [`${mailbox.address}, ${period}: ${may}`, ...parts, ...(held > 0 ? [texts.held(held)] : [])].join('; ');
}
