import {
  blanksOf,
  copiesOf,
  DAY_MS,
  judgePerson,
  limitPerCompany,
  lineState,
  PERSONAL_LINE_KEY,
  recipientValues,
  usesLine,
  verdictOf,
  type CompiledMessage,
  type Judgement,
  type MessageContent,
} from '@baton/core';
import type { ServerParts } from '../http/context';
import type { CompiledMessages } from '../messages/compiled-messages';
import { proofValues } from '../messages/sending-values';
import { isSharedDomain } from '../reading/shared-domains';
import { enrolledContacts, lastWrittenTo, peopleOfOthers, type CampaignRow } from '../store/campaigns/campaign-rows';
import type { Queryable } from '../store/database';
import { listMailboxes } from '../store/mailboxes/mailbox-rows';
import { readLines } from '../store/messages/line-rows';
import { everyRow, findRows, MAX_ROWS, readColumns, readList, type ListPerson } from '../store/people/list/list-rows';
import { readSegment } from '../store/people/list/segment-rows';
import { suppressionReasons } from '../store/people/person/people-rows';
import { readWorkspace } from '../store/workspace-rows';

/** One person of the chosen list and whether they will be written to. */
export interface AudienceMember extends Judgement {
  person: ListPerson;
  /** What the verifier said of an address that is in doubt; '' where none is. */
  doubt: string;
  /** Fields of the messages that are blank for them and have no fallback; [] for somebody left out before that. */
  blanks: readonly string[];
  /** Envelope recipients of one message to them. */
  units: number;
  /** Other campaigns from which more is to come for them. */
  others: readonly string[];
}

/** The list's people; of a segment, those it finds now. */
async function readChosen(
  db: Queryable,
  { picked, ...of }: Pick<CampaignRow, 'listId' | 'segmentId' | 'picked'>,
  nowMs: number,
): Promise<ListPerson[]> {
  const people = await readListed(db, of, nowMs);
  if (picked === null) return people;
  const rows = new Set(picked.rowIds);
  return people.filter((p) => rows.has(p.rowId));
}

async function readListed(
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
  nowMs: number;
}

/** What drafts are judged by now. */
export async function judging({
  compiled,
  clock,
}: Pick<ServerParts, 'compiled' | 'clock'>): Promise<Omit<AudienceParts, 'contents'>> {
  return { compiled, nowMs: await clock.now() };
}

/** Everyone on the list, each with the reason if they will not be written to. */
export async function readAudience(
  db: Queryable,
  campaign: CampaignRow,
  { contents, compiled, nowMs }: AudienceParts,
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
    publicAddress: workspace.publicAddress,
    postalAddress: workspace.postalAddress,
    listName: '',
    position: 1,
    recipients: people.length,
    sendingMs: nowMs,
    zone: workspace.zone,
  });
  const others =
    campaign.listId === null ? new Map<number, string[]>() : await peopleOfOthers(db, campaign.listId, campaign.id);
  const written = await writtenDaysAgo(db, campaign, nowMs);
  const known = campaign.state === 'draft' ? new Set<number>() : await enrolledContacts(db, campaign.id);
  const judged = people.map((person) => {
    const suppression = suppressed.get(person.key) ?? suppressed.get(person.domain) ?? null;
    const word = checker ? (person.fields[checker.key] ?? '') : '';
    const verdict = checker ? verdictOf(word, checker.verdicts) : 'use';
    let blanks: string[] = [];
    let units = 1;
    const judgement = judgePerson(
      {
        suppression,
        verifier: checker ? { column: checker.name, word, verdict } : null,
        otherCampaigns: others.get(person.contactId) ?? [],
        writtenDaysAgo: written.get(person.contactId) ?? null,
      },
      campaign,
      () => {
        const own = recipientValues(person.fields, values);
        blanks = [...new Set(messages.flatMap((m) => blanksOf(m, own)))];
        units = 1 + Math.max(0, ...messages.map((m) => copiesOf(m, own)));
        const line = lines && lineState(person.fields[PERSONAL_LINE_KEY] ?? '', lines.get(person.rowId) ?? null);
        return { blanks, line, faults: [] };
      },
    );
    const doubt = verdict === 'ask' ? word : '';
    const company = isSharedDomain(person.domain) ? '' : person.domain;
    const isIn = known.has(person.contactId);
    return { ...judgement, person, doubt, blanks, units, company, isIn, others: others.get(person.contactId) ?? [] };
  });
  return limitPerCompany(judged, campaign.mostPerCompany);
}

/** How many days ago people of the list were last written to by any campaign, as far back as it matters, by contact. */
async function writtenDaysAgo(
  db: Queryable,
  { listId, notWithinDays }: CampaignRow,
  nowMs: number,
): Promise<Map<number, number>> {
  if (listId === null || notWithinDays === null) return new Map();
  const last = await lastWrittenTo(db, listId, nowMs - notWithinDays * DAY_MS);
  return new Map([...last].map(([contactId, at]) => [contactId, Math.floor((nowMs - at) / DAY_MS)]));
}
