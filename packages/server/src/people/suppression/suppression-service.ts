import { boundedReader } from '../../bounded/bounded-reader';
import { DomainError, readSuppression, readSuppressions, type SuppressionEntry } from '@baton/core';
import type { SuppressionImport } from '@baton/contract';
import { applyEvent } from '../../campaigns/apply-event';
import { announce } from '../../store/changes';
import type { Database, Queryable } from '../../store/database';
import { openContactsCovered } from '../../store/campaigns/campaign-rows';
import { addSuppressions, removeSuppression } from '../../store/people/person/people-rows';

/**
 * Puts an address or a domain on the suppression list; everyone it covers gets nothing more, at once.
 *
 * @param what `ana@vines.example` or `vines.example`
 * @throws DomainError `invalid` when it is neither
 */
export async function suppress(
  db: Database,
  { what, reason }: { what: string; reason: string },
  nowMs: number,
): Promise<void> {
  const entry = readSuppression(what);
  if (!entry)
    throw new DomainError(
      'invalid',
      `“${what}” is neither an address nor a domain. Expected ana@vines.example or vines.example.`,
    );
  await db.transaction((tx) => putOn(tx, [{ ...entry, reason }], 'by hand', nowMs));
}

/**
 * Puts every address and domain of a file on the list.
 *
 * @throws DomainError when the file cannot be read
 */
export async function importSuppressions(
  db: Database,
  name: string,
  bytes: Uint8Array,
  nowMs: number,
): Promise<SuppressionImport> {
  const { entries, aside } = readSuppressions(await boundedReader.read('people', bytes));
  const added = await db.transaction((tx) => putOn(tx, entries, name, nowMs));
  return { added, known: entries.length - added, aside: aside.slice(0, MOST_ASIDE), asideTotal: aside.length };
}

const MOST_ASIDE = 500;

/** @returns how many were not there before */
async function putOn(tx: Queryable, entries: SuppressionEntry[], source: string, nowMs: number): Promise<number> {
  const rows = entries.map(({ kind, key, reason }) => ({
    ...{ kind, key, source, createdAt: nowMs },
    reason: reason || (source === 'by hand' ? 'added by hand' : `from ${source}`),
  }));
  const added = await addSuppressions(tx, rows);
  for (const contactId of await openContactsCovered(
    tx,
    entries.map((e) => e.key),
  ))
    await applyEvent(tx, { kind: 'suppressed', contactId, cause: null, nowMs });
  await announce(tx, 'people');
  return added;
}

/** Takes an entry off; what it had stopped stays stopped. @throws DomainError `not_found` when it is not there */
export async function unsuppress(db: Database, id: number): Promise<void> {
  if (!(await removeSuppression(db, id))) throw new DomainError('not_found', 'This entry is no longer on the list.');
  await announce(db, 'people');
}
