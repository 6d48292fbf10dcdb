import {
  DomainError,
  encodingNamed,
  isReadWhole,
  HEAD_BYTES,
  isMendable,
  readHead,
  WHOLE_FILE_BYTES,
  type Cleaning,
  type ColumnKind,
  type ColumnRole,
} from '@baton/core';
import type { ImportInto, ImportReading, ImportTaken, ImportView } from '@baton/contract';
import { boundedReader } from '../../bounded/bounded-reader';
import { announce } from '../../store/changes';
import type { Database, Queryable, Store } from '../../store/database';
import {
  addImport,
  addPiece,
  lockImport,
  readImport,
  recall,
  removeImport,
  updateImport,
  type ImportRow,
} from '../../store/people/import/import-rows';
import { readList } from '../../store/people/list/list-rows';
import { noList } from '../list/change-list';
import { headerOf, over, rememberRoles, stageImport, storeImport } from './take-import';
import { isLarge, readImportColumns, readImportRow, readToTake } from './read-import';
import { intoOf, obstacleOf, viewOf } from './import-view';
import { MAX_WHOLE_BYTES, tooLargeWhole } from './read-upload';

/**
 * Takes in a file to be looked at. One larger than {@link WHOLE_FILE_BYTES} that is text is kept in pieces and read
 * piece by piece; memory holds its head and one piece.
 *
 * @throws DomainError when the file cannot be read as people; nothing is kept then
 */
export async function beginImport(
  db: Database,
  name: string,
  pieces: AsyncIterable<Buffer>,
  nowMs: number,
): Promise<ImportView> {
  const called = name.slice(0, 200) || 'pasted rows';
  const id = await db.transaction(async (tx) => {
    const held: Buffer[] = [];
    let [size, n, importId] = [0, 0, 0];
    for await (const piece of pieces) {
      size += piece.length;
      if (importId > 0) {
        await addPiece(tx, importId, n++, piece);
        continue;
      }
      held.push(piece);
      if (size <= WHOLE_FILE_BYTES || isReadWhole(held[0] as Buffer)) {
        if (size > MAX_WHOLE_BYTES) throw tooLargeWhole(size);
        continue;
      }
      const head = Buffer.concat(held).subarray(0, HEAD_BYTES);
      readHead(head);
      importId = await addImport(tx, { name: called, bytes: head, createdAt: nowMs });
      for (const h of held.splice(0)) await addPiece(tx, importId, n++, h);
    }
    if (importId === 0) {
      const bytes = Buffer.concat(held);
      // Reads before it keeps, so that a file that is no list leaves nothing behind.
      await boundedReader.read('people', bytes);
      return addImport(tx, { name: called, bytes, size, createdAt: nowMs });
    }
    await updateImport(tx, importId, { size });
    return importId;
  });
  await recallRoles(db, id);
  return viewImport(db, id);
}

/** What was said of the last file with the same header holds for this one, until something else is said. */
async function recallRoles(db: Database, id: number): Promise<void> {
  const row = await requireImport(db, id);
  const { file, mended } = await readImportColumns(row);
  const said = await recall(db, headerOf(mended));
  if (!said) return;
  const { reading, ...columns } = said;
  // An encoding is asked about only where the file is none of Unicode.
  const { encoding, ...read } = reading ?? {};
  const isAsked = encodingNamed(file.encoding) !== null;
  await updateImport(db, id, {
    ...columns,
    reading: encoding && isAsked ? { ...read, encoding } : read,
    remembered: true,
  });
}

async function requireImport(db: Queryable, id: number): Promise<ImportRow> {
  const row = await readImport(db, id);
  if (!row) throw over();
  return row;
}

export async function viewImport(db: Queryable, id: number): Promise<ImportView> {
  const row = await requireImport(db, id);
  return viewOf(db, row, await readImportRow(db, row));
}

/** Changes the choices of an import and shows it anew. @throws DomainError `conflict` while it is being taken */
async function change(
  db: Database,
  id: number,
  make: (row: ImportRow) => Partial<ImportRow> | Promise<Partial<ImportRow>>,
): Promise<ImportView> {
  for (let tries = 0; ; tries++) {
    const row = await requireImport(db, id);
    if (row.state === 'taking') throw new DomainError('conflict', 'This import is being taken; cancel it first.');
    // What was counted is no longer so.
    const said = { ...(await make(row)), state: 'open', effect: null, problem: null } as const;
    const changed = { ...row, ...said };
    // Reading may take long, so nothing is locked meanwhile; somebody else's choice is not written over.
    const read = await readImportRow(db, changed);
    const isKept = await db.transaction(async (tx) => {
      const now = await lockImport(tx, id);
      if (!now) throw over();
      if (choicesOf(now) !== choicesOf(row)) return false;
      await updateImport(tx, id, said);
      return true;
    });
    if (isKept) return viewOf(db, changed, read);
    if (tries === MOST_TRIES) throw new DomainError('conflict', 'Somebody else is changing this import. Try again.');
  }
}

/** How often a change is made anew because another came between. */
const MOST_TRIES = 5;

const choicesOf = ({ sheet, reading, roles, kinds, cleanings, edits, into, state }: ImportRow): string =>
  JSON.stringify({ sheet, reading, roles, kinds, cleanings, edits, into, state });

/**
 * @param kinds how fields are read, by column, where it is said anew
 * @throws DomainError `invalid` unless there is one role per column and at most one of each but `field` and `ignore`
 */
export async function chooseRoles(
  db: Database,
  id: number,
  roles: ColumnRole[],
  kinds: Readonly<Record<number, ColumnKind>>,
): Promise<ImportView> {
  return change(db, id, async (row) => {
    const { header } = (await readImportColumns(row)).mended;
    if (roles.length !== header.length)
      throw new DomainError('invalid', `Expected ${header.length} columns, got ${roles.length}.`);
    const twice = roles.find((r, i) => r !== 'field' && r !== 'ignore' && roles.indexOf(r) !== i);
    if (twice) throw new DomainError('invalid', `Two columns are set to ${twice.replace('_', ' ')}; expected one.`);
    const said = roles.map((role, i) => (role === 'field' ? (kinds[i] ?? row.kinds?.[i] ?? null) : null));
    return { roles, kinds: said, remembered: false };
  });
}

/** Another sheet of the workbook; the choices made for the first do not apply to it. */
export function chooseSheet(db: Database, id: number, sheet: number): Promise<ImportView> {
  return change(db, id, () => ({ sheet, reading: null, roles: null, kinds: null, edits: null, remembered: false }));
}

/** How the file is read; what was said of its columns and cells holds as long as they are the same. */
export function chooseReading(db: Database, id: number, reading: ImportReading): Promise<ImportView> {
  return change(db, id, (row) => ({
    reading: { ...row.reading, ...reading },
    // Rows that come too may have columns of their own.
    ...(reading.withHidden === undefined ? {} : { roles: null, kinds: null, edits: null }),
  }));
}

export function chooseCleanings(db: Database, id: number, cleanings: Cleaning[]): Promise<ImportView> {
  return change(db, id, () => ({ cleanings }));
}

/** Where its people go. @throws DomainError `not_found` for a list that is not there */
export function chooseInto(db: Database, id: number, into: ImportInto): Promise<ImportView> {
  return change(db, id, async () => {
    const list = into.kind === 'list' ? await readList(db, into.listId) : null;
    if (into.kind === 'list' && (list === null || list.removedAt !== null)) throw noList();
    return { into };
  });
}

/** Corrects one cell. @throws DomainError `not_found` for a row or column that the file has not */
export function mendCell(
  db: Database,
  id: number,
  cell: { line: number; column: number; value: string },
): Promise<ImportView> {
  return change(db, id, async (row) => {
    const { header, rows, aside } = (await readImportColumns(row)).mended;
    const mendable = [...rows, ...aside.filter((r) => isMendable(r, header))];
    const isThere = mendable.some((r) => r.line === cell.line);
    const known = isThere && cell.column < header.length;
    if (!known)
      throw new DomainError('not_found', `There is no cell ${cell.column + 1} in line ${cell.line} of this file.`);
    return { edits: { ...row.edits, [cell.line]: { ...row.edits?.[cell.line], [cell.column]: cell.value } } };
  });
}

/** Takes every proposal for a misspelt domain. */
export async function mendDomains(db: Database, id: number): Promise<ImportView> {
  return change(db, id, async (row) => {
    const { notes, roles } = await readImportRow(db, row);
    const column = roles.indexOf('address');
    const edits = { ...row.edits };
    for (const [line, own] of notes) {
      const mend = own.find((n) => n.mend !== null)?.mend;
      if (mend != null) edits[line] = { ...edits[line], [column]: mend };
    }
    return { edits };
  });
}

/**
 * Takes an import: a small one at once, whole or not at all; a large one is left to a worker, which first counts what it
 * would do where it goes into a list that is there.
 *
 * @param name of a new list; null keeps the earlier choice
 */
export async function keepImport(store: Store, id: number, name: string | null, nowMs: number): Promise<ImportTaken> {
  const row = await requireImport(store.db, id);
  if (row.state === 'taking') throw new DomainError('conflict', 'This import is already running.');
  const said = intoOf(row);
  const into = said.kind === 'new' && name !== null ? { ...said, name } : said;
  const read = await readToTake(store.db, row);
  const obstacle = obstacleOf(row, read);
  if (obstacle !== '') throw new DomainError('no_address_column', obstacle);
  if (isLarge(row)) {
    await updateImport(store.db, id, { into, state: 'taking', cancelled: false, problem: null, progress: null });
    await announce(store.db, 'imports');
    return { listId: null };
  }
  await rememberRoles(store.db, row, nowMs);
  const nobody = { progress: () => Promise.resolve(), check: () => Promise.resolve() };
  const staged = await stageImport(store, row, read, into, nobody);
  return { listId: await storeImport(store, row, staged, into, nowMs) };
}

/** Stops a large import, or drops one that is looked at. */
export async function dropImport(db: Database, id: number): Promise<void> {
  const row = await readImport(db, id);
  if (row?.state === 'taking') await updateImport(db, id, { cancelled: true });
  else if (row) await db.transaction((tx) => removeImport(tx, id));
  await announce(db, 'imports');
}
