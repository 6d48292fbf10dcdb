import {
  blindFollowUps,
  contentFault,
  dayWords,
  type DateForm,
  ENDS_BEFORE,
  faultsOfTerms,
  fieldKey,
  fieldsOf,
  isLoopback,
  isoDate,
  linksOf,
  liquidTexts,
  momentWords,
  type LeftOutCode,
  type RecordFinding,
  whyNoHours,
  type Zone,
} from '@baton/core';
import type { Forecast, Obstacle } from '@baton/contract';
import type { CampaignRow, StepRow } from '../store/campaigns/campaign-rows';
import type { MailboxRow } from '../store/mailboxes/mailbox-rows';
import type { MessageRow } from '../store/messages/message-rows';
import type { WorkspacePlan } from '../planning/plan-workspace';
import type { AudienceMember } from './audience';
import { NO_SENDER_COLUMN } from './brief-names';
import { messagesOf } from './step-texts';
import type { ListToCheck } from './lists-to-check';
import { crowdedOut, domainsToMend, mailboxesToCheck, neverChecked, oldList, withoutMail } from './worth-checking';
import { unknownFieldObstacles } from './unknown-field-obstacles';

/** What is looked at for obstacles. */
export interface Looked {
  campaign: CampaignRow;
  /** The lists that it is for. */
  lists: readonly ListToCheck[];
  /** Names of lists that it is for, or leaves out, and that have been deleted. */
  deleted: readonly string[];
  /** Whether the column is gone that names its mailboxes. */
  senderIsGone: boolean;
  planned: WorkspacePlan | null;
  /** The last day of each running campaign as it is planned now, by number. */
  ends: ReadonlyMap<number, number>;
  steps: StepRow[];
  messages: Map<number, MessageRow>;
  audience: AudienceMember[];
  mailboxes: MailboxRow[];
  /** What is known of the records of mailboxes' domains. */
  records: ReadonlyMap<string, readonly RecordFinding[]>;
  forecast: Forecast;
  nowMs: number;
  /** The workspace's. */
  zone: Zone;
  hasPostalAddress: boolean;
  /** How the workspace writes dates. */
  dateForm: DateForm;
  /** What links to Baton's own pages begin with; '' for none. */
  publicAddress: string;
  /** Whether the people written to live on this machine, as the demo's do. */
  isSimulated: boolean;
}

/** Obstacles to starting that are in the messages themselves. */
function messageObstacles(messages: ReadonlyMap<number, MessageRow>): Obstacle[] {
  const out: Obstacle[] = [];
  for (const m of messages.values()) {
    const open = (label: string): Obstacle['remedy'] => ({ label, act: 'open_message', messageId: m.id });
    const fault = contentFault(m.content);
    if (fault)
      out.push({
        kind: 'fix',
        text: `“${m.name}” has an error: ${fault.place === 'body' ? 'text' : fault.place}, line ${fault.line}`,
        remedy: open('Fix it'),
      });
    else if (!liquidTexts(m.content).some(({ text }) => /unsubscribe[ _-]?link/i.test(text)))
      out.push({
        kind: 'look',
        text: `“${m.name}” has no unsubscribe link in its text; mail programs will still show an unsubscribe button`,
        remedy: open('Open'),
      });
    if (!fault && (m.proofsReadAt === null || m.changedSinceRead))
      out.push({
        kind: 'look',
        text:
          m.proofsReadAt === null
            ? `Nobody has read “${m.name}” as its recipients will get it`
            : `“${m.name}” has been changed since somebody last read it as its recipients will get it`,
        remedy: open('Read proofs'),
      });
  }
  return out;
}

/** People to whom another campaign is still writing: they would get messages from both. */
function claimedTwice({ audience }: Looked): Obstacle[] {
  const twice = audience.filter((a) => a.leftOut === null && a.others.length > 0);
  if (twice.length === 0) return [];
  const names = [...new Set(twice.flatMap((a) => a.others))];
  const text = `${twice.length === 1 ? '1 person is' : `${twice.length} people are`} also being written to by ${names.slice(0, 3).join(', ')}, and would get both`;
  return [{ kind: 'look', text, remedy: { label: 'Show the audience', act: 'audience' } }];
}

/** Fields that the workspace's settings fill in, and what is said of a message where they do not. */
const FROM_SETTINGS: Readonly<Record<string, string>> = {
  postaladdress: 'shows your postal address, which has not been entered',
  browserlink: 'links to itself in the browser, for which there is no public address',
};
const isFromSettings = (field: string): boolean => fieldKey(field) in FROM_SETTINGS;

/** What the settings lack for a message that has no fallback for it. */
function settingsObstacles({ messages, hasPostalAddress, publicAddress }: Looked): Obstacle[] {
  const lacking = (key: string) => (key === 'postaladdress' ? !hasPostalAddress : publicAddress === '');
  return [...messages.values()].flatMap((m) => {
    const bare = fieldsOf(m.content).filter((use) => use.fallback === null && !use.guarded);
    const keys = new Set(bare.map((use) => fieldKey(use.key)).filter((key) => isFromSettings(key) && lacking(key)));
    return [...keys].map((key): Obstacle => ({
      kind: 'fix',
      text: `“${m.name}” ${FROM_SETTINGS[key]}`,
      remedy: { label: 'Enter it', act: 'settings' },
    }));
  });
}

/** Links that only this machine can open, in messages for people who sit at others. */
function loopbackObstacles({ messages, publicAddress, isSimulated }: Looked): Obstacle[] {
  if (isSimulated) return [];
  const own: Obstacle[] = isLoopback(publicAddress)
    ? [
        {
          kind: 'fix',
          text: `Nobody else can open ${publicAddress}, with which links for leaving would begin`,
          remedy: { label: 'Change the public address', act: 'settings' },
        },
      ]
    : [];
  const leading = [...messages.values()].flatMap((m): Obstacle[] => {
    const found = linksOf(m.content).find(isLoopback);
    const remedy = { label: 'Open', act: 'open_message', messageId: m.id } as const;
    return found ? [{ kind: 'fix', text: `“${m.name}” links to ${found}, which nobody else can open`, remedy }] : [];
  });
  return [...own, ...leading];
}

/**
 * Fields that people lack; what everybody lacks is not settled by leaving everybody out.
 *
 * @param unknown keys of fields that no list has
 */
function blankObstacles(blank: readonly AudienceMember[], unknown: ReadonlySet<string>): Obstacle[] {
  const isTheirs = (name: string) => !isFromSettings(name) && !unknown.has(fieldKey(name));
  const lack = blank.filter((a) => a.blanks.some(isTheirs));
  if (lack.length === 0) return [];
  const fields = [...new Set(lack.flatMap((a) => a.blanks))].filter(isTheirs);
  const people = lack.length === 1 ? '1 person has' : `${lack.length} people have`;
  return [
    {
      kind: 'fix',
      text: `${people} no ${fields.join(', ')}, and there is no fallback`,
      remedy: { label: 'Leave them out', act: 'leave_out_blank' },
    },
  ];
}

/** Whether there is anybody to write to. @param isUnset whether the settings lack something, which leaves everybody out */
function audienceObstacles({ campaign, forecast, deleted }: Looked, isUnset: boolean): Obstacle[] {
  if (campaign.listId === null)
    return [{ kind: 'fix', text: 'No list is chosen', remedy: { label: 'Choose a list', act: 'audience' } }];
  if (deleted.length > 0)
    return deleted.map((name) => ({
      ...{ kind: 'fix', text: `The list ${name} has been deleted` },
      remedy: { label: 'Choose another', act: 'audience' },
    }));
  if (forecast.people > 0 || isUnset) return [];
  const remedy = { label: 'Show who is left out', act: 'audience' } as const;
  return campaign.enrolNew
    ? [{ kind: 'look', text: 'Nobody can be written to yet; whoever joins later is', remedy }]
    : [{ kind: 'fix', text: 'Nobody on the list can be written to', remedy }];
}

/** Follow-ups that depend on opens or clicks which nobody counts. */
function blindObstacles({ campaign, steps, messages, publicAddress }: Looked): Obstacle[] {
  const looked = steps.map((step) => ({
    ...{ condition: step.condition, tellsClicked: step.ifClicked !== null },
    formats: messagesOf([step]).flatMap((id) => messages.get(id)?.content.format ?? []),
  }));
  const remedy: Obstacle['remedy'] =
    publicAddress === '' ? { label: 'Enter it', act: 'settings' } : { label: 'Count them', act: 'watching' };
  return blindFollowUps(looked, campaign, publicAddress !== '').map((text) => ({ kind: 'fix', text, remedy }));
}

/** Messages that would never leave by their own hours or last day. */
function termObstacles({ steps, campaign, nowMs, zone }: Looked): Obstacle[] {
  const remedy = { label: 'Change it', act: 'messages' } as const;
  const today = isoDate(zone.toLocal(nowMs).day);
  return faultsOfTerms(steps, campaign.window, today).map((text) => ({ kind: 'fix', text, remedy }));
}

/** Follow-ups that would leave after the campaign's last day, or after their own. */
function cutObstacles({ campaign, steps, forecast: { cut }, dateForm }: Looked): Obstacle[] {
  if (cut === 0) return [];
  const { endDate, endMinute } = campaign;
  const hasOwn = steps.some((s) => s.lastDay !== null);
  const own = hasOwn ? 'their own last day' : '';
  const ends = endDate === null ? '' : momentWords(endDate, endMinute, dateForm);
  const after = [ends, own].filter((words) => words !== '').join(' or ');
  const text = `${cut === 1 ? '1 follow-up' : `${cut} follow-ups`} would leave after ${after} and ${cut === 1 ? 'is' : 'are'} not sent`;
  const remedy: Obstacle['remedy'] = hasOwn
    ? { label: 'Change it', act: 'messages' }
    : { label: 'Change the time', act: 'time' };
  return [{ kind: 'look', text, remedy }];
}

/** What the campaign's first and last hour, and people's own minutes, do not allow. */
function hourObstacles(looked: Looked): Obstacle[] {
  const { campaign, forecast, nowMs, zone } = looked;
  const remedy = { label: 'Change the time', act: 'time' } as const;
  const out: Obstacle[] = [];
  const why = whyNoHours(campaign, zone, nowMs);
  if (why !== null) out.push({ kind: 'fix', text: why, remedy });
  out.push(...cutObstacles(looked));
  const { later } = forecast.ownTimes;
  if (later > 0)
    out.push({
      kind: 'look',
      text: `${later} of the people with a time of their own ${later === 1 ? 'is' : 'are'} written to later, because no mailbox may send then`,
      remedy: { label: 'Show who', act: 'time' },
    });
  return out;
}

/** Obstacles to starting a draft, those that have to be settled first. */
export function obstaclesOf(looked: Looked): Obstacle[] {
  const { campaign, steps, messages, audience, mailboxes, forecast, nowMs, zone } = looked;
  const out: Obstacle[] = [];
  const fix = (text: string, remedy: Obstacle['remedy']) => out.push({ kind: 'fix', text, remedy });
  const look = (text: string, remedy: Obstacle['remedy']) => out.push({ kind: 'look', text, remedy });
  const unset = settingsObstacles(looked);
  out.push(...unset, ...loopbackObstacles(looked));
  out.push(...audienceObstacles(looked, unset.length > 0));
  if (steps.length === 0 || steps.some((s) => s.messageId === null))
    fix(steps.length === 0 ? 'There is no message' : 'A step has no message', {
      label: 'Choose a message',
      act: 'messages',
    });
  out.push(...messageObstacles(messages), ...claimedTwice(looked));
  const asking = audience.filter((a) => a.questions.length > 0);
  const asked = (code: LeftOutCode) => asking.filter((a) => a.questions.some((q) => q.code === code));
  const unknown = unknownFieldObstacles(looked.lists, messages);
  out.push(...unknown.obstacles, ...blankObstacles(asked('blank'), unknown.keys));
  const kept = asked('line');
  const [first] = kept;
  if (first)
    fix(`${kept.length} personal ${kept.length === 1 ? 'line has' : 'lines have'} not been approved`, {
      label: 'Write them',
      act: 'write_lines',
      listId: first.person.listId,
    });
  const doubted = asked('verifier');
  if (doubted.length > 0)
    fix(
      `A verifier is unsure about ${doubted.length === 1 ? '1 address' : `${doubted.length} addresses`} (${[...new Set(doubted.map((a) => a.doubt))].slice(0, 3).join(', ')})`,
      { label: 'Leave them out', act: 'leave_out_doubtful' },
    );
  if (looked.senderIsGone) fix(NO_SENDER_COLUMN, { label: 'Choose another', act: 'mailboxes' });
  if (mailboxes.length === 0) fix('No mailbox is chosen', { label: 'Choose mailboxes', act: 'mailboxes' });
  for (const n of forecast.notPlaced)
    (n.reason === ENDS_BEFORE ? look : fix)(
      `${n.people} ${n.people === 1 ? 'person' : 'people'} cannot be planned: ${n.reason}`,
      { label: 'Change the time', act: 'time' },
    );
  out.push(
    ...blindObstacles(looked),
    ...termObstacles(looked),
    ...hourObstacles(looked),
    ...looked.lists.flatMap((list) => [...oldList(list, looked), ...neverChecked(list)]),
    ...withoutMail(looked.lists),
    ...mailboxesToCheck(mailboxes, looked),
    ...domainsToMend(mailboxes, looked.records),
    ...crowdedOut(looked.planned, campaign.id, looked.ends, looked.dateForm),
  );
  if (campaign.startDate < isoDate(zone.toLocal(nowMs).day))
    look(
      `The start date, ${dayWords(campaign.startDate, 'short', looked.dateForm)}, has passed; it would start today`,
      {
        label: 'Change the date',
        act: 'time',
      },
    );
  return out.sort((a, b) => (a.kind === b.kind ? 0 : a.kind === 'fix' ? -1 : 1));
}
