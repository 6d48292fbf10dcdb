import {
  blanksOf,
  chooseSender,
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
  type ListColumn,
  type MessageContent,
} from '@baton/core';
import type { ServerParts } from '../http/context';
import type { CompiledMessages } from '../messages/compiled-messages';
import { proofValues } from '../messages/sending-values';
import { isSharedDomain } from '../reading/shared-domains';
import {
  enrolledContacts,
  lastSenders,
  lastWrittenTo,
  peopleOfOthers,
  type CampaignRow,
} from '../store/campaigns/campaign-rows';
import type { Queryable } from '../store/database';
import { listMailboxes, type MailboxRow } from '../store/mailboxes/mailbox-rows';
import { readLines } from '../store/messages/line-rows';
import { readColumns, type ListPerson } from '../store/people/list/list-rows';
import { suppressionReasons } from '../store/people/person/people-rows';
import { readWorkspace } from '../store/workspace-rows';
import { listsOf, readChosen, readExcluded } from './audience-parts';

/** One person of the chosen lists and whether they will be written to. */
export interface AudienceMember extends Judgement {
  person: ListPerson;
  /** What the verifier said of an address that is in doubt; '' where none is. */
  doubt: string;
  /** Whether a verifier has said anything of the address. */
  isVerified: boolean;
  /** Fields of the messages that are blank for them and have no fallback; [] for somebody left out before that. */
  blanks: readonly string[];
  /** Envelope recipients of one message to them. */
  units: number;
  /** The mailbox from which they are written to, where it may not be any. */
  mailboxId: number | null;
  /** Other campaigns from which more is to come for them. */
  others: readonly string[];
}

/** What an audience is judged by beside the campaign itself. */
export interface AudienceParts {
  contents: readonly MessageContent[];
  /** The campaign's. */
  mailboxIds: readonly number[];
  compiled: CompiledMessages;
  nowMs: number;
}

/** What audiences of any campaign are judged by. */
export type Judging = Omit<AudienceParts, 'contents' | 'mailboxIds'>;

/** What drafts are judged by now. */
export async function judging({ compiled, clock }: Pick<ServerParts, 'compiled' | 'clock'>): Promise<Judging> {
  return { compiled, nowMs: await clock.now() };
}

/** Everyone on the lists, each with the reason if they will not be written to. */
export async function readAudience(
  db: Queryable,
  campaign: CampaignRow,
  { contents, mailboxIds, compiled, nowMs }: AudienceParts,
): Promise<AudienceMember[]> {
  const people = await readChosen(db, campaign, nowMs);
  const facts = await factsOf(db, campaign, nowMs);
  const own = await ownOfLists(db, listsOf(campaign), contents.some(usesLine));
  const messages: CompiledMessage[] = [];
  for (const content of contents) messages.push(await compiled.get(content));
  const mailboxes = await listMailboxes(db);
  const senders = mailboxes.filter((m) => mailboxIds.includes(m.id));
  const values = await anyValues(db, mailboxes[0], people.length, nowMs);
  const judged = people.map((person) => {
    const { checker, lines } = own.get(person.listId) as OwnOfList;
    const suppression = facts.suppressed.get(person.key) ?? facts.suppressed.get(person.domain) ?? null;
    const word = checker ? (person.fields[checker.key] ?? '') : '';
    const verdict = checker ? verdictOf(word, checker.verdicts) : 'use';
    const named = campaign.senderKey === null ? '' : (person.fields[campaign.senderKey] ?? '');
    const sender = chooseSender({ named, lastId: facts.senders.get(person.contactId) ?? null }, senders);
    let blanks: string[] = [];
    let units = 1;
    const judgement = judgePerson(
      {
        suppression,
        excludedBy: facts.excluded.get(person.contactId) ?? [],
        verifier: checker ? { column: checker.name, word, verdict } : null,
        otherCampaigns: facts.others.get(person.contactId) ?? [],
        writtenDaysAgo: facts.written.get(person.contactId) ?? null,
        unknownSender: sender.unknown,
      },
      campaign,
      () => {
        const filled = recipientValues(person.fields, values);
        blanks = [...new Set(messages.flatMap((m) => blanksOf(m, filled)))];
        units = 1 + Math.max(0, ...messages.map((m) => copiesOf(m, filled)));
        const line = lines && lineState(person.fields[PERSONAL_LINE_KEY] ?? '', lines.get(person.rowId) ?? null);
        return { blanks, line, faults: [] };
      },
    );
    return {
      leftOut: judgement.leftOut,
      questions: judgement.questions,
      person,
      doubt: verdict === 'ask' ? word : '',
      isVerified: word.trim() !== '',
      blanks,
      units,
      company: isSharedDomain(person.domain) ? '' : person.domain,
      isIn: facts.known.has(person.contactId),
      mailboxId: sender.mailboxId,
      others: facts.others.get(person.contactId) ?? [],
    };
  });
  return limitPerCompany(judged, campaign.mostPerCompany);
}

/** What a message may say beside a person's own values, as far as it decides whether they have all. */
async function anyValues(db: Queryable, mailbox: MailboxRow | undefined, recipients: number, nowMs: number) {
  const { publicAddress, postalAddress, zone } = await readWorkspace(db);
  return proofValues({
    mailbox,
    publicAddress,
    postalAddress,
    listName: '',
    position: 1,
    recipients,
    sendingMs: nowMs,
    zone,
  });
}

/** What is known of the people of a campaign's lists beside their rows, by contact; what suppresses them by address and domain. */
async function factsOf(db: Queryable, campaign: CampaignRow, nowMs: number) {
  const lists = listsOf(campaign);
  return {
    suppressed: await suppressionReasons(db),
    excluded: await readExcluded(db, campaign, nowMs),
    others: await peopleOfOthers(db, lists, campaign.id),
    written: await writtenDaysAgo(db, campaign, nowMs),
    /** From which mailbox they were written to before, where that counts. */
    senders: campaign.keepsSender ? await lastSenders(db, lists) : new Map<number, number>(),
    /** Who is in it already. */
    known: campaign.state === 'draft' ? new Set<number>() : await enrolledContacts(db, campaign.id),
  };
}

/** What a list has beside its people. */
interface OwnOfList {
  /** The column with what an address verifier said. */
  checker: ListColumn | undefined;
  /** Personal lines; null where the messages have no place for one. */
  lines: Awaited<ReturnType<typeof readLines>> | null;
}

async function ownOfLists(
  db: Queryable,
  lists: readonly number[],
  usesLines: boolean,
): Promise<ReadonlyMap<number, OwnOfList>> {
  const own = new Map<number, OwnOfList>();
  for (const id of lists)
    own.set(id, {
      checker: (await readColumns(db, id)).find((c) => c.role === 'verification'),
      lines: usesLines ? await readLines(db, id) : null,
    });
  return own;
}

/** How many days ago people of the lists were last written to by any campaign, as far back as it matters, by contact. */
async function writtenDaysAgo(db: Queryable, campaign: CampaignRow, nowMs: number): Promise<Map<number, number>> {
  const { notWithinDays } = campaign;
  if (notWithinDays === null) return new Map();
  const last = await lastWrittenTo(db, listsOf(campaign), nowMs - notWithinDays * DAY_MS);
  return new Map([...last].map(([contactId, at]) => [contactId, Math.floor((nowMs - at) / DAY_MS)]));
}
