import type { DateForm } from '../../time/day-words';
import type { PlanInput } from '../workspace/plan-input';
import {
  WHAT_IF_KINDS,
  type CampaignSettings,
  type ChangeEntry,
  type ChangeSubject,
  type ChangeTarget,
  type MailboxSettings,
  type PlanChange,
  type PlanChangeKind,
  type SubjectNames,
} from './kinds';

/** Which mailboxes and campaigns the indices of a planning input stand for. */
export interface PlanIds {
  mailboxes: number[];
  campaigns: number[];
}

/** Kinds of what-if in the order of the menu. */
export const PLAN_CHANGE_KINDS = Object.keys(WHAT_IF_KINDS) as PlanChangeKind[];

/** A kind typed to accept any change; safe as long as the change is of that kind. */
interface AnyKind {
  menu: string;
  targets: readonly ChangeTarget[];
  entry: ChangeEntry;
  now(subject: ChangeSubject): PlanChange['to'];
  fault(to: PlanChange['to'], today: string): string | null;
  label(change: PlanChange, names: SubjectNames): string;
  show(to: PlanChange['to'], form: DateForm): string;
  plan(part: { input: PlanInput; mailboxAt: number; campaignAt: number }, change: PlanChange): void;
  setMailbox?(to: PlanChange['to'], before: MailboxSettings): Partial<MailboxSettings>;
  setCampaign?(change: PlanChange, before: CampaignSettings): Partial<CampaignSettings>;
}
const kindOf = (kind: PlanChangeKind): AnyKind => WHAT_IF_KINDS[kind] as unknown as AnyKind;

/** The menu's words for a kind, what it is about, and how its value is set. */
export const whatIfKind = (kind: PlanChangeKind): Pick<AnyKind, 'menu' | 'targets' | 'entry'> => kindOf(kind);

/** Whether a change can be applied, or only explored. */
export function canApply(kind: PlanChangeKind): boolean {
  const { setMailbox, setCampaign } = kindOf(kind);
  return setMailbox !== undefined || setCampaign !== undefined;
}

const idOf = (change: PlanChange, target: ChangeTarget): number | undefined =>
  (change as Partial<Record<ChangeTarget, number>>)[target];

/** The subject of a change: a later change of the same subject replaces it. */
export const changeKey = (change: PlanChange): string =>
  [change.kind, ...kindOf(change.kind).targets.map((target) => `${target} ${idOf(change, target)}`)].join(' ');

/** Adds a change, replacing one of the same subject. */
export function withChange(changes: readonly PlanChange[], change: PlanChange): PlanChange[] {
  const key = changeKey(change);
  return changes.some((c) => changeKey(c) === key)
    ? changes.map((c) => (changeKey(c) === key ? change : c))
    : [...changes, change];
}

/** Whether everything that a kind of change is about is there. */
const isWhole = (kind: AnyKind, subject: Partial<ChangeSubject>): subject is ChangeSubject =>
  kind.targets.every((target) => subject[target] !== undefined);

/**
 * A new change of a kind, with the current value.
 *
 * @param ids of its subject
 * @returns null if that does not exist
 */
export function newChange(
  kind: PlanChangeKind,
  ids: Readonly<Record<ChangeTarget, number>>,
  subject: Partial<ChangeSubject>,
): PlanChange | null {
  const own = kindOf(kind);
  if (!isWhole(own, subject)) return null;
  const targets = Object.fromEntries(own.targets.map((target) => [target, ids[target]]));
  return { kind, ...targets, to: own.now(subject) } as PlanChange;
}

/**
 * A change in words: its subject, the current value and the new one.
 *
 * @param names as they are shown; '' leaves out whose it is
 * @param subject without what is gone
 * @param form how the workspace writes dates
 */
export function changeWords(
  change: PlanChange,
  names: SubjectNames,
  subject: Partial<ChangeSubject>,
  form: DateForm,
): { what: string; from: string; to: string } {
  const kind = kindOf(change.kind);
  const whose = kind.targets.includes('campaign') ? names.campaign : kind.targets.length > 0 ? names.mailbox : '';
  const label = kind.label(change, names);
  return {
    what: whose === '' ? label : `${whose}, ${label}`,
    from: kind.targets.length > 0 && isWhole(kind, subject) ? kind.show(kind.now(subject), form) : 'none',
    to: kind.show(change.to, form),
  };
}

/** What is wrong with a change, in a sentence, or null. @param today ISO date */
export const faultOfChange = (change: PlanChange, today: string): string | null =>
  kindOf(change.kind).fault(change.to, today);

/** What a mailbox is set to once a change is applied; {} for a change that is not of mailboxes. */
export const mailboxAfter = (change: PlanChange, before: MailboxSettings): Partial<MailboxSettings> =>
  kindOf(change.kind).setMailbox?.(change.to, before) ?? {};

/** What a campaign is set to once a change is applied; {} for a change that is not of campaigns. */
export const campaignAfter = (change: PlanChange, before: CampaignSettings): Partial<CampaignSettings> =>
  kindOf(change.kind).setCampaign?.(change, before) ?? {};

/**
 * The input as it would be with some changes; it stays as it is itself. Mailboxes and campaigns that are not in it
 * (any more) change nothing. Expected replies are not of the input: see {@link expectReplies}.
 */
export function applyChanges(input: PlanInput, ids: PlanIds, changes: readonly PlanChange[]): PlanInput {
  const out: PlanInput = {
    ...input,
    mailboxes: input.mailboxes.map((m) => ({ ...m })),
    campaigns: input.campaigns.map((c) => ({ ...c, steps: c.steps.map((s) => ({ ...s })) })),
    recipients: { ...input.recipients },
  };
  for (const change of changes) {
    const mailboxAt = ids.mailboxes.indexOf(idOf(change, 'mailbox') ?? NaN);
    const campaignAt = ids.campaigns.indexOf(idOf(change, 'campaign') ?? NaN);
    kindOf(change.kind).plan({ input: out, mailboxAt, campaignAt }, change);
  }
  return out;
}

/** The replies for each message that some changes expect, or null where they say nothing of it. */
export function expectedReplies(changes: readonly PlanChange[]): number | null {
  for (const change of changes) if (change.kind === 'replies') return change.to;
  return null;
}
