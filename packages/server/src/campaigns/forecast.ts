import {
  blanksOf,
  contentFault,
  copiesOf,
  dayNumber,
  dayWords,
  fieldKey,
  fieldsOf,
  isoDate,
  judgePerson,
  LEFT_OUT,
  lineState,
  liquidTexts,
  PERSONAL_LINE_KEY,
  recipientValues,
  usesLine,
  verdictOf,
  type CompiledMessage,
  type Judgement,
  type LeftOutCode,
  type MessageContent,
  type RecipientState,
} from '@baton/core';
import type { Forecast, Obstacle } from '@baton/contract';
import type { ServerParts } from '../http/context';
import type { Queryable } from '../store/database';
import {
  peopleOfOthers,
  readCampaignMailboxes,
  readSteps,
  type CampaignRow,
  type StepRow,
} from '../store/campaigns/campaign-rows';
import { planByDay } from '../store/sending/delivery-rows';
import { listMailboxes, type MailboxRow } from '../store/mailboxes/mailbox-rows';
import { readMessagesById, type MessageRow } from '../store/messages/message-rows';
import { everyRow, findRows, MAX_ROWS, readColumns, readList, type ListPerson } from '../store/people/list/list-rows';
import { suppressionReasons } from '../store/people/person/people-rows';
import { readSegment } from '../store/people/list/segment-rows';
import { readWorkspace } from '../store/workspace-rows';
import type { CompiledMessages } from '../messages/compiled-messages';
import { proofValues } from '../messages/sending-values';
import { readLines } from '../store/messages/line-rows';
import { planWorkspace, type Candidate, type PlanningCampaign, type WorkspacePlan } from '../planning/plan-workspace';
import { zones } from '../time/zones';

/** One person of the chosen list and whether they will be written to. */
export interface AudienceMember extends Judgement {
  person: ListPerson;
  /** What the verifier said of an address that is in doubt; '' where none is. */
  doubt: string;
  /** Fields of the messages that are blank for them and have no fallback; [] for somebody left out before that. */
  blanks: readonly string[];
  /** Envelope recipients of one message to them. */
  units: number;
}

/** What one person of a draft would get, and when. */
export interface DraftedMessages {
  mailbox: string;
  messages: { step: number; instant: number }[];
}

export interface DraftPlan {
  forecast: Forecast;
  audience: AudienceMember[];
  /** By list row, for everybody who could be planned. */
  drafted: Map<number, DraftedMessages>;
  steps: StepRow[];
  messages: Map<number, MessageRow>;
}

const WHO_SHOWN = 50;

/** Day number before which nothing is sent to a person of a list; null without one. */
export const firstDayFor = (person: Pick<ListPerson, 'sendOn'>): number | null =>
  person.sendOn === null ? null : dayNumber(person.sendOn);

/** The list's people; of a segment, those it finds now. */
async function readChosen(
  db: Queryable,
  { listId, segmentId }: Pick<CampaignRow, 'listId' | 'segmentId'>,
  nowMs: number,
): Promise<ListPerson[]> {
  if (listId === null || (await readList(db, listId))?.removedAt != null) return [];
  const segment = segmentId === null ? null : await readSegment(db, segmentId);
  if (segment?.listId !== listId) return everyRow(db, listId);
  const columns = await readColumns(db, listId);
  return findRows(db, { listId, columns }, { ...segment.query, sort: [] }, nowMs, { offset: 0, limit: MAX_ROWS });
}

/** What an audience is judged by beside the campaign itself. */
export interface AudienceParts {
  contents: readonly MessageContent[];
  compiled: CompiledMessages;
  publicUrl: string;
  nowMs: number;
}

/** What drafts are judged by now. */
export async function judging({
  compiled,
  config,
  clock,
}: Pick<ServerParts, 'compiled' | 'config' | 'clock'>): Promise<Omit<AudienceParts, 'contents'>> {
  return { compiled, publicUrl: config.publicUrl, nowMs: await clock.now() };
}

/** Everyone on the list, each with the reason if they will not be written to. */
export async function readAudience(
  db: Queryable,
  campaign: CampaignRow,
  { contents, compiled, publicUrl, nowMs }: AudienceParts,
): Promise<AudienceMember[]> {
  const people = await readChosen(db, campaign, nowMs);
  const suppressed = await suppressionReasons(db);
  const columns = campaign.listId === null ? [] : await readColumns(db, campaign.listId);
  const checker = columns.find((c) => c.role === 'verification');
  const messages: CompiledMessage[] = [];
  for (const content of contents) messages.push(await compiled.get(content));
  const lines = campaign.listId !== null && contents.some(usesLine) ? await readLines(db, campaign.listId) : null;
  const workspace = await readWorkspace(db);
  const values = proofValues({
    mailbox: (await listMailboxes(db))[0],
    publicUrl,
    postalAddress: workspace.postalAddress,
    listName: '',
    position: 1,
    recipients: people.length,
    sendingMs: nowMs,
    zone: workspace.zone,
  });
  return people.map((person): AudienceMember => {
    const suppression = suppressed.get(person.key) ?? suppressed.get(person.domain) ?? null;
    const word = checker ? (person.fields[checker.key] ?? '') : '';
    const verdict = checker ? verdictOf(word, checker.verdicts) : 'use';
    let blanks: string[] = [];
    let units = 1;
    const judgement = judgePerson(
      { suppression, verifier: checker ? { column: checker.name, word, verdict } : null },
      campaign,
      () => {
        const own = recipientValues(person.fields, values);
        blanks = [...new Set(messages.flatMap((m) => blanksOf(m, own)))];
        units = 1 + Math.max(0, ...messages.map((m) => copiesOf(m, own)));
        const line = lines && lineState(person.fields[PERSONAL_LINE_KEY] ?? '', lines.get(person.rowId) ?? null);
        return { blanks, line, faults: [] };
      },
    );
    return { ...judgement, person, doubt: verdict === 'ask' ? word : '', blanks, units };
  });
}

/** What a draft would do if it were started now, and the obstacles to starting it. */
export async function planDraft(
  db: Queryable,
  campaign: CampaignRow,
  parts: Omit<AudienceParts, 'contents'>,
): Promise<DraftPlan> {
  const { nowMs } = parts;
  const steps = await readSteps(db, [campaign.id]);
  const mailboxIds = (await readCampaignMailboxes(db, [campaign.id])).map((m) => m.mailboxId);
  const messages = await readMessagesById(db, messagesOf(steps));
  const contents = [...messages.values()].map((m) => m.content).filter((c) => contentFault(c) === null);
  const audience = await readAudience(db, campaign, { ...parts, contents });
  const people = audience.filter((a) => a.leftOut === null);
  const candidates = people.map((a, i): Candidate => ({
    id: -1 - i,
    campaignId: campaign.id,
    mailboxId: null,
    nextStep: 0,
    dueDay: null,
    notBefore: firstDayFor(a.person),
    domain: a.person.domain,
    zone: a.person.zone,
    units: a.units,
  }));
  const planning: PlanningCampaign = { ...campaign, held: false, steps, mailboxIds };
  const planned =
    steps.length > 0 && mailboxIds.length > 0
      ? await planWorkspace(db, nowMs, { campaign: planning, people: candidates })
      : null;
  const mailboxes = (await listMailboxes(db)).filter((m) => mailboxIds.includes(m.id));
  const { zone, postalAddress } = await readWorkspace(db);
  const forecast = forecastOf(campaign, people.length, planned, audience);
  forecast.obstacles = obstacles({
    campaign,
    steps,
    messages,
    audience,
    mailboxes,
    forecast,
    others: campaign.listId === null ? new Map() : await peopleOfOthers(db, campaign.listId),
    today: isoDate(zones.get(zone).toLocal(nowMs).day),
    hasPostalAddress: postalAddress !== '',
  });
  return { forecast, audience, drafted: draftedOf(people, planned), steps, messages };
}

/** Every message that the steps use. */
export const messagesOf = (steps: readonly StepRow[]): number[] =>
  steps.flatMap((s) => [s.messageId, ...s.others.map((o) => o.messageId)].filter((id) => id !== null));

function draftedOf(people: AudienceMember[], planned: WorkspacePlan | null): Map<number, DraftedMessages> {
  const out = new Map<number, DraftedMessages>();
  for (const d of planned?.plan.deliveries ?? []) {
    // Drafts have negative numbers for enrolments; the plan is in order of time, so each person's messages are too.
    const person = people[-1 - (planned?.candidates[d.recipient]?.id ?? 0)]?.person;
    if (!person) continue;
    const mailbox = planned?.mailboxes[d.mailbox]?.address ?? '';
    const drafted = out.get(person.rowId) ?? { mailbox, messages: [] };
    drafted.messages.push({ step: d.step, instant: d.instant });
    out.set(person.rowId, drafted);
  }
  return out;
}

function forecastOf(
  campaign: CampaignRow,
  people: number,
  planned: WorkspacePlan | null,
  audience: AudienceMember[],
): Forecast {
  const index = planned?.campaigns.findIndex((c) => c.id === campaign.id) ?? -1;
  const own = planned?.plan.campaigns[index];
  const deliveries =
    planned?.plan.deliveries.filter((d) => planned.input.recipients.campaign[d.recipient] === index) ?? [];
  const day = (n: number | null | undefined) => (n == null ? null : isoDate(n));
  const loads = new Map<string, Forecast['loads'][number]>();
  for (const d of deliveries) {
    const mailboxId = (planned?.mailboxes[d.mailbox] as MailboxRow).id;
    const load = loads.get(`${d.day}/${mailboxId}`) ?? { mailboxId, day: isoDate(d.day), first: 0, followUps: 0 };
    load[d.step === 0 ? 'first' : 'followUps']++;
    loads.set(`${d.day}/${mailboxId}`, load);
  }
  const unplaced =
    planned?.plan.notPlaced.filter((n) => planned.input.recipients.campaign[n.recipient] === index) ?? [];
  return {
    people,
    leftOut: groupLeftOut(audience),
    messages: deliveries.length,
    firstDay: day(own?.firstDay),
    lastStartDay: day(own?.lastStartDay),
    lastDay: day(own?.lastDay),
    late: own?.late ?? 0,
    notPlaced: tally(unplaced.map((n) => n.reason)),
    obstacles: [],
    loads: [...loads.values()].sort((a, b) => (a.day < b.day ? -1 : a.day > b.day ? 1 : a.mailboxId - b.mailboxId)),
  };
}

function groupLeftOut(audience: AudienceMember[]): Forecast['leftOut'] {
  const groups = new Map<string, { code: LeftOutCode; who: string[] }>();
  for (const { leftOut, person } of audience) {
    if (leftOut === null) continue;
    const group = groups.get(leftOut.group) ?? { code: leftOut.code, who: [] };
    group.who.push(person.address);
    groups.set(leftOut.group, group);
  }
  return [...groups]
    .map(([reason, { code, who }]) => ({
      ...{ code, reason, settledBy: LEFT_OUT[code].settledBy },
      people: who.length,
      who: who.slice(0, WHO_SHOWN),
    }))
    .sort((a, b) => b.people - a.people);
}

function tally(reasons: string[]): { reason: string; people: number }[] {
  const counts = new Map<string, number>();
  for (const r of reasons) counts.set(r, (counts.get(r) ?? 0) + 1);
  return [...counts].map(([reason, people]) => ({ reason, people })).sort((a, b) => b.people - a.people);
}

interface Looked {
  campaign: CampaignRow;
  steps: StepRow[];
  messages: Map<number, MessageRow>;
  audience: AudienceMember[];
  mailboxes: MailboxRow[];
  forecast: Forecast;
  /** By contact, the other campaigns that have something for them. */
  others: ReadonlyMap<number, string[]>;
  today: string;
  hasPostalAddress: boolean;
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
  }
  return out;
}

/** People to whom another campaign is still writing: they would get messages from both. */
function claimedTwice({ audience, others }: Looked): Obstacle[] {
  const twice = audience.filter((a) => a.leftOut === null && others.has(a.person.contactId));
  if (twice.length === 0) return [];
  const names = [...new Set(twice.flatMap((a) => others.get(a.person.contactId) ?? []))];
  const text = `${twice.length === 1 ? '1 person is' : `${twice.length} people are`} also being written to by ${names.slice(0, 3).join(', ')}, and would get both`;
  return [{ kind: 'look', text, remedy: { label: 'Show the audience', act: 'audience' } }];
}

const isPostalAddress = (field: string): boolean => fieldKey(field) === 'postaladdress';

/** Whether a message shows the workspace's postal address, without a fallback for it. */
const showsPostalAddress = ({ content }: MessageRow): boolean =>
  fieldsOf(content).some((use) => isPostalAddress(use.key) && use.fallback === null && !use.guarded);

/** Fields that people lack; what everybody lacks is not settled by leaving everybody out. */
function blankObstacles(blank: readonly AudienceMember[]): Obstacle[] {
  const lack = blank.filter((a) => a.blanks.some((name) => !isPostalAddress(name)));
  if (lack.length === 0) return [];
  const fields = [...new Set(lack.flatMap((a) => a.blanks))].filter((name) => !isPostalAddress(name));
  const people = lack.length === 1 ? '1 person has' : `${lack.length} people have`;
  return [
    {
      kind: 'fix',
      text: `${people} no ${fields.join(', ')}, and there is no fallback`,
      remedy: { label: 'Leave them out', act: 'leave_out_blank' },
    },
  ];
}

function obstacles(looked: Looked): Obstacle[] {
  const { campaign, steps, messages, audience, mailboxes, forecast, today } = looked;
  const out: Obstacle[] = [];
  const fix = (text: string, remedy: Obstacle['remedy']) => out.push({ kind: 'fix', text, remedy });
  const look = (text: string, remedy: Obstacle['remedy']) => out.push({ kind: 'look', text, remedy });
  const addressless = looked.hasPostalAddress ? [] : [...messages.values()].filter(showsPostalAddress);
  for (const m of addressless)
    fix(`“${m.name}” shows your postal address, which has not been entered`, { label: 'Enter it', act: 'settings' });
  if (campaign.listId === null) fix('No list is chosen', { label: 'Choose a list', act: 'audience' });
  else if (forecast.people === 0 && addressless.length === 0)
    fix('Nobody on the list can be written to', { label: 'Show who is left out', act: 'audience' });
  if (steps.length === 0 || steps.some((s) => s.messageId === null))
    fix(steps.length === 0 ? 'There is no message' : 'A step has no message', {
      label: 'Choose a message',
      act: 'messages',
    });
  out.push(...messageObstacles(messages), ...claimedTwice(looked));
  const asked = (code: LeftOutCode) => audience.filter((a) => a.questions.some((q) => q.code === code));
  out.push(...blankObstacles(asked('blank')));
  const kept = asked('line');
  if (kept.length > 0)
    fix(`${kept.length} personal ${kept.length === 1 ? 'line has' : 'lines have'} not been approved`, {
      label: 'Write them',
      act: 'write_lines',
      ...(campaign.listId === null ? {} : { listId: campaign.listId }),
    });
  const doubted = asked('verifier');
  if (doubted.length > 0)
    fix(
      `A verifier is unsure about ${doubted.length === 1 ? '1 address' : `${doubted.length} addresses`} (${[...new Set(doubted.map((a) => a.doubt))].slice(0, 3).join(', ')})`,
      { label: 'Leave them out', act: 'leave_out_doubtful' },
    );
  if (mailboxes.length === 0) fix('No mailbox is chosen', { label: 'Choose mailboxes', act: 'mailboxes' });
  for (const m of mailboxes)
    if (m.problem !== null || m.held)
      look(
        `${m.address} ${m.problem !== null ? `cannot sign in: ${m.problem}` : 'is held'}; nothing will be sent from it`,
        {
          label: 'Mailboxes',
          act: 'mailboxes',
        },
      );
  for (const n of forecast.notPlaced)
    fix(`${n.people} ${n.people === 1 ? 'person' : 'people'} cannot be planned: ${n.reason}`, {
      label: 'Change the time',
      act: 'time',
    });
  if (campaign.startDate < today)
    look(`The start date, ${dayWords(campaign.startDate)}, has passed; it would start today`, {
      label: 'Change the date',
      act: 'time',
    });
  return out.sort((a, b) => (a.kind === b.kind ? 0 : a.kind === 'fix' ? -1 : 1));
}

/** What a started campaign has done and will do, from what is stored. */
export async function forecastOfStarted(
  db: Queryable,
  campaign: CampaignRow,
  states: Partial<Record<RecipientState, number>>,
): Promise<Forecast> {
  const rows = await planByDay(db, campaign.id);
  const days = rows.map((r) => r.day);
  const starts = rows.filter((r) => r.first > 0).map((r) => r.day);
  const all = Object.values(states).reduce((a, b) => a + b, 0);
  return {
    people: all - (states.left_out ?? 0),
    leftOut: [],
    messages: rows.reduce((sum, r) => sum + r.first + r.followUps, 0),
    firstDay: days.length === 0 ? null : isoDate(Math.min(...days)),
    lastStartDay: starts.length === 0 ? null : isoDate(Math.max(...starts)),
    lastDay: days.length === 0 ? null : isoDate(Math.max(...days)),
    late: 0,
    notPlaced: [],
    obstacles: [],
    loads: rows.map((r) => ({ mailboxId: r.mailboxId, day: isoDate(r.day), first: r.first, followUps: r.followUps })),
  };
}
