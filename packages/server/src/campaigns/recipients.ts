import {
  enrolledState,
  nameOf,
  outcomeLine,
  outcomeTable,
  RECIPIENT_STATES,
  writeCsv,
  type ListColumn,
} from '@baton/core';
import type { RecipientPage, RecipientQuery, RowsFormat } from '@baton/contract';
import type { ServerParts } from '../http/context';
import { readSteps } from '../store/campaigns/campaign-rows';
import { NOTHING_SEEN, seenAt, seenByRecipients } from '../store/campaigns/outcome-rows';
import { campaignRecipients, countRecipients } from '../store/campaigns/recipient-rows';
import type { Queryable } from '../store/database';
import { separatedType } from '../people/list/list-file';
import { sheetType, writeSheet } from '../people/list/write-sheet';
import { readColumns, readList } from '../store/people/list/list-rows';
import { readWorkspace } from '../store/workspace-rows';
import { localTime } from '../time/local-time';
import { judging, type AudienceMember } from './audience';
import { listsOf } from './audience-parts';
import { requireCampaign } from './require-campaign';
import { planDraft, type DraftedMessages, type DraftPlan } from './forecast';

/** Recipients and their state; for a draft, as they would be if it were started now. */
export async function viewRecipients(parts: ServerParts, id: number, query: RecipientQuery): Promise<RecipientPage> {
  const { db } = parts.store;
  const campaign = await requireCampaign(db, id);
  if (campaign.state === 'draft') return draftRecipients(await planDraft(db, campaign, await judging(parts)), query);
  const people = (await campaignRecipients(db, id, query, query, query)).map((r) => ({
    enrolmentId: r.enrolmentId,
    contactId: r.contactId,
    address: r.address,
    name: nameOf(r.fields),
    state: r.state,
    reason: r.reason,
    mailbox: r.mailbox ?? r.plannedMailbox,
    // The first message of theirs, the second, and so on, whatever was put into the sequence or taken out since.
    messages: (r.deliveries ?? []).map((d, step) => ({
      deliveryId: d.id,
      step,
      state: d.state,
      at: d.sentAt ?? d.instant,
      reason: d.reason,
    })),
    outcome: r.outcome,
  }));
  return { people, total: await countRecipients(db, id, query) };
}

/** People of a draft in the order asked for, those without anything there last. */
function sorted(
  people: readonly AudienceMember[],
  drafted: ReadonlyMap<number, DraftedMessages>,
  { sort, descending }: Pick<RecipientQuery, 'sort' | 'descending'>,
): readonly AudienceMember[] {
  const key = ({ person, leftOut }: AudienceMember): string | number | null => {
    const own = drafted.get(person.rowId);
    if (sort === 'who') return person.address;
    if (sort === 'state') return RECIPIENT_STATES.indexOf(enrolledState(leftOut));
    if (sort === 'from') return own?.mailbox ?? null;
    return own?.messages[Number(sort.slice('step_'.length))]?.instant ?? null;
  };
  if (sort === '' || sort === 'outcome') return people;
  const way = descending ? -1 : 1;
  return people
    .map((p) => [key(p), p] as const)
    .sort(([a], [b]) => (a === b ? 0 : a === null ? 1 : b === null ? -1 : a < b ? -way : way))
    .map(([, p]) => p);
}

function draftRecipients({ audience, drafted: allDrafted }: DraftPlan, query: RecipientQuery): RecipientPage {
  const wanted = query.search.toLowerCase();
  const drafted = allDrafted();
  const found = sorted(
    audience.filter(
      ({ person, leftOut }) =>
        (query.state === '' || query.state === enrolledState(leftOut)) &&
        (wanted === '' ||
          [person.address, ...Object.values(person.fields)].some((v) => v.toLowerCase().includes(wanted))),
    ),
    drafted,
    query,
  );
  return {
    total: found.length,
    people: found.slice(query.offset, query.offset + query.limit).map(({ person, leftOut }) => ({
      enrolmentId: -person.rowId,
      contactId: person.contactId,
      address: person.address,
      name: nameOf(person.fields),
      state: enrolledState(leftOut),
      reason: leftOut?.words ?? '',
      mailbox: drafted.get(person.rowId)?.mailbox ?? null,
      messages: (drafted.get(person.rowId)?.messages ?? []).map(({ step, instant }) => ({
        deliveryId: 0,
        step,
        state: 'planned',
        at: instant,
        reason: '',
      })),
      outcome: null,
    })),
  };
}

const EVERYONE = { state: '', search: '' } as const;
const WHOLE = { offset: 0, limit: 10_000_000 };

const sequenceLengths = (rows: readonly { outcome: { sentAt: readonly string[] } }[]): number[] => [
  ...new Set(rows.map((r) => r.outcome.sentAt.length)),
];

const FORMAT_OF_EXTENSION: Readonly<Record<string, RowsFormat>> = {
  tsv: 'tsv',
  tab: 'tsv',
  xlsx: 'xlsx',
  xlsm: 'xlsx',
  ods: 'ods',
};

/** The kind of file that a list came in; CSV where it came otherwise. */
async function formatOfList(db: Queryable, listId: number | null): Promise<RowsFormat> {
  const source = listId === null ? '' : ((await readList(db, listId))?.source ?? '');
  return FORMAT_OF_EXTENSION[/\.(\w+)$/.exec(source)?.[1]?.toLowerCase() ?? ''] ?? 'csv';
}

/**
 * The original rows with what became of each: the columns of the first list, then what the others have beside.
 *
 * @param asked the kind of file; that in which the list came without
 */
export async function outcomeFile(
  db: Queryable,
  id: number,
  asked?: RowsFormat,
): Promise<{ name: string; type: string; body: string | Buffer }> {
  const campaign = await requireCampaign(db, id);
  const format = asked ?? (await formatOfList(db, campaign.listId));
  const { zone } = await readWorkspace(db);
  const columns = new Map<string, ListColumn>();
  for (const listId of listsOf(campaign))
    for (const column of await readColumns(db, listId)) if (!columns.has(column.key)) columns.set(column.key, column);
  const ofRows = [...columns.values()];
  const steps = await readSteps(db, [id]);
  const local = (ms: number | null | undefined) => (ms == null ? '' : localTime(ms, zone));
  const seen = await seenByRecipients(db, id);
  const rows = (await campaignRecipients(db, id, EVERYONE, WHOLE)).map((r) => ({
    cells: ofRows.map((c) => r.fields[c.key] ?? ''),
    outcome: {
      state: r.state,
      reason: r.reason,
      mailbox: r.mailbox ?? '',
      sentAt: (r.deliveries ?? []).filter((d) => d.sentAt !== null).map((d) => local(d.sentAt)),
      repliedAt: local(r.repliedAt === null ? null : Number(r.repliedAt)),
      outcome: r.outcome ?? '',
      seen: seenAt(seen.get(r.enrolmentId) ?? NOTHING_SEEN, local),
    },
  }));
  const name = `${campaign.name.replace(/[^\p{L}\p{N}]+/gu, '-').toLowerCase()}-outcomes.${format}`;
  const names = ofRows.map((c) => c.name);
  if (format === 'jsonl')
    return { name, type: 'application/jsonl; charset=utf-8', body: rows.map((r) => outcomeLine(names, r)).join('') };
  // What was taken out of the sequence has left to some.
  const [header = [], ...body] = outcomeTable(names, rows, Math.max(steps.length, ...sequenceLengths(rows)));
  if (format === 'xlsx' || format === 'ods')
    return { name, type: sheetType(format), body: await writeSheet(format, header, [body], ofRows) };
  const separated = writeCsv([header, ...body], format === 'csv' ? ',' : '\t');
  return { name, type: separatedType(format), body: `\ufeff${separated}` };
}
