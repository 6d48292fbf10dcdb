import { setImmediate } from 'node:timers/promises';
import {
  blanksOf,
  checkMessage,
  contentFault,
  DomainError,
  fieldsOf,
  fieldKey,
  listFields,
  recipientValues,
  renderProof,
  RiskRanking,
  WHOLE_LIST,
  type CheckedFacts,
  type CompiledMessage,
  type MessageContent,
  type Values,
  nameOf,
} from '@baton/core';
import type { Reading } from '@baton/contract';
import type { ServerParts } from '../http/context';
import { assetKey, listAssets, type AssetSummary } from '../store/messages/asset-rows';
import { findRowIds, readColumns, readList, readPeople, type ListPerson } from '../store/people/list/list-rows';
import { listMailboxes } from '../store/mailboxes/mailbox-rows';
import { readWorkspace } from '../store/workspace-rows';
import { picturesIn } from './message-files';
import { proofValues } from './sending-values';

/** How many of the riskiest are shown. */
const MOST_WORTH = 60;
/** Rows read and looked at before others have their turn. */
const PAGE = 1000;
/** Places named of those a check is about. */
const MOST_WHO = 20;
/** Base64 and its line breaks (RFC 2045 6.8). */
const AS_IT_TRAVELS = 4 / 3 + 0.03;

/**
 * Looks a message over for everybody on a list: who is worth reading first, and what is wrong with it. Others have
 * their turn in between, and it ends when nobody waits for it any more.
 */
export async function readThrough(
  parts: ServerParts,
  asked: { content: MessageContent; listId: number },
  isWanted: () => boolean,
): Promise<Reading> {
  const fault = contentFault(asked.content);
  if (fault) throw new DomainError('template_invalid', `Line ${fault.line}, column ${fault.column}: ${fault.message}`);
  const { db } = parts.store;
  const compiled = await parts.compiled.get(asked.content);
  const ids = await findRowIds(db, { listId: asked.listId, columns: [] }, WHOLE_LIST, 0);
  const library = await listAssets(db);
  const look = new Look(asked.content, compiled, library);
  const valuesOf = await valuesMaker(parts, asked.listId, ids.length);
  for (let from = 0; from < ids.length; from += PAGE) {
    const page = ids.slice(from, from + PAGE);
    const people = new Map((await readPeople(db, asked.listId, page)).map((p) => [p.rowId, p]));
    await setImmediate();
    if (!isWanted()) throw new DomainError('conflict', 'Nobody waits for this any more.');
    for (const [i, rowId] of page.entries()) {
      const person = people.get(rowId);
      if (person) look.at(from + i, person, valuesOf(person, from + i));
    }
  }
  const ranked = look.ranking.ranked().slice(0, MOST_WORTH);
  const worth = new Map(
    (
      await readPeople(
        db,
        asked.listId,
        ranked.map((r) => ids[r.index] as number),
      )
    ).map((p) => [p.rowId, p]),
  );
  const nameAt = (index: number): string => {
    const person = worth.get(ids[index] as number);
    return person ? nameOf(person.fields) || person.address : '';
  };
  const facts = look.facts(await readColumns(db, asked.listId), library);
  return {
    total: ids.length,
    worth: ranked.map((r) => ({ ...r, who: nameAt(r.index) })),
    counts: Object.fromEntries(look.ranking.counts),
    checks: checkMessage(asked.content, facts),
    bytes: facts.htmlBytes + facts.fileBytes,
  };
}

async function valuesMaker(
  { store: { db }, clock }: ServerParts,
  listId: number,
  recipients: number,
): Promise<(person: ListPerson, index: number) => Values> {
  const workspace = await readWorkspace(db);
  const mailbox = (await listMailboxes(db))[0];
  const listName = (await readList(db, listId))?.name ?? '';
  const { publicAddress, postalAddress } = workspace;
  const common = { mailbox, publicAddress, postalAddress, listName, recipients };
  const sendingMs = await clock.now();
  return (person, index) =>
    recipientValues(
      person.fields,
      proofValues({ ...common, sendingMs, position: index + 1, zone: person.zone ?? workspace.zone }),
    );
}

interface Who {
  people: number;
  who: number[];
}

/** What is gathered while going through a list. */
class Look {
  readonly ranking: RiskRanking;
  private readonly blanks = new Map<string, Who>();
  private readonly missing = new Map<string, Who>();
  private readonly subjectKeys: { key: string; fallback: number }[];
  private longest: { letters: number; who: number; values: Values } | null = null;
  private first: Values | null = null;
  private readonly files: ReadonlySet<string>;

  constructor(
    content: MessageContent,
    private readonly compiled: CompiledMessage,
    library: readonly AssetSummary[],
  ) {
    this.ranking = new RiskRanking(fieldsOf(content), MOST_WORTH);
    this.subjectKeys = listFields(content.subject).map((u) => ({ key: u.key, fallback: (u.fallback ?? '').length }));
    this.files = new Set(library.map((a) => assetKey(a.name)));
  }

  at(index: number, person: ListPerson, values: Values): void {
    this.first ??= values;
    this.ranking.take(index, values);
    for (const blank of blanksOf(this.compiled, values)) note(this.blanks, fieldKey(blank), index);
    for (const name of this.compiled.attachmentNames)
      for (const file of name.render(values).text.split(/[;\n]+/))
        if (file.trim() !== '' && !this.files.has(assetKey(file))) note(this.missing, file.trim(), index);
    const letters = this.subjectKeys.reduce((n, k) => n + (person.fields[k.key]?.length ?? k.fallback), 0);
    if (!this.longest || letters > this.longest.letters) this.longest = { letters, who: index, values };
  }

  facts(columns: CheckedFacts['columns'], library: readonly AssetSummary[]): CheckedFacts {
    const html = this.first ? renderProof(this.compiled, this.first).html : '';
    const used = new Set([
      ...this.compiled.attachmentIds,
      ...picturesIn(html).flatMap((p) => p.id ?? library.find((a) => assetKey(a.name) === assetKey(p.name))?.id ?? []),
    ]);
    const sizes = library.filter((a) => used.has(a.id)).map((a) => a.size);
    const subject = this.longest && renderProof(this.compiled, this.longest.values).subject;
    return {
      columns,
      blanks: this.blanks,
      longestSubject: this.longest && { letters: subject?.length ?? 0, who: this.longest.who },
      htmlBytes: Buffer.byteLength(html),
      fileBytes: Math.round(sizes.reduce((a, b) => a + b, 0) * AS_IT_TRAVELS),
      missingFiles: [...this.missing].map(([name, who]) => ({ name, ...who })),
    };
  }
}

function note(map: Map<string, Who>, key: string, index: number): void {
  const there = map.get(key);
  if (!there) map.set(key, { people: 1, who: [index] });
  else {
    there.people++;
    if (there.who.length < MOST_WHO) there.who.push(index);
  }
}
