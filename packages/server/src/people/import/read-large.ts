import {
  dateColumns,
  fieldKey,
  FULL_NAME_HEADER,
  leavesPlainCells,
  PeopleStream,
  plainRowCleaner,
  rowCleaner,
  rowExtender,
  rowSorter,
  USUAL_CLEANINGS,
  type ColumnRole,
  type FirstLines,
  type KeptColumn,
  type PieceRead,
  type PieceRow,
  type RowAside,
  type RowOwner,
} from '@baton/core';
import type { Store } from '../../store/database';
import { readPieces, type ImportRow } from '../../store/people/import/import-rows';
import { datesOf, isMended, withEdit, type ReadImport } from './read-import';

/**
 * What is read of a large file at once: a few hundred rows. They are gone before the next ones come (with a whole
 * piece, collecting what is left of its rows takes longer than reading them), and what is ready goes out in between.
 */
const MORSEL_BYTES = 64 * 1024;

/** A person of a large file: either their fields, or their cells as bytes. */
export interface LargeRow extends Pick<PieceRow, 'plain' | 'at'> {
  person: RowOwner;
  fields: Readonly<Record<string, string>>;
}

/** A batch of a large file's rows. */
export interface SortedPiece {
  taken: LargeRow[];
  aside: RowAside[];
  /** Rows read so far, and the share of the file that they are. */
  rows: number;
  share: number;
}

export interface LargeFile {
  /** Field keys of a row's cells; null for a column that is not taken. */
  keys: (string | null)[];
  /** Where each address that was read occurred first. */
  lines: FirstLines;
  /**
   * Rows that had a name beside their address, for which the header has no column: it is kept under {@link NAMES_BESIDE}.
   */
  lateNames(): number;
  pieces(): AsyncGenerator<SortedPiece>;
}

/** The column of names beside addresses, which a file gets when they come after its head. */
export const NAMES_BESIDE: KeptColumn = {
  ...{ position: -1, name: FULL_NAME_HEADER, key: fieldKey(FULL_NAME_HEADER), role: 'full_name' },
};

/** Columns whose values tell more than themselves. */
const READ: readonly ColumnRole[] = ['address', 'time_zone', 'send_on'];
const NO_FIELDS: Readonly<Record<string, string>> = {};

async function* morsels(store: Store, importId: number): AsyncGenerator<Buffer> {
  for await (const part of readPieces(store, importId))
    for (let i = 0; i < part.length; i += MORSEL_BYTES) yield part.subarray(i, i + MORSEL_BYTES);
}

/** Reads a large file to its end, piece by piece, cleaned and sorted as its head was shown. */
export function readLarge(store: Store, row: ImportRow, read: ReadImport): LargeFile {
  const { file, mended, cleaned, roles: shown } = read;
  const chosen = shown.slice(0, mended.header.length);
  const on = row.cleanings ?? USUAL_CLEANINGS;
  const dates = dateColumns(mended, chosen, datesOf(row));
  const clean = rowCleaner(chosen, on, dates);
  const cleanPlain = plainRowCleaner(chosen, on, dates);
  const extender = rowExtender(chosen, shown, on);
  const addressAt = chosen.indexOf('address');
  const { columns, lines, ownerOf, fieldsOf } = rowSorter(cleaned, shown, datesOf(row));
  const stream = new PeopleStream(row.bytes, file, (i) => {
    const role = chosen[i] as ColumnRole;
    return READ.includes(role) || !leavesPlainCells(role, on, dates.has(i));
  });
  const edits = row.edits ?? {};
  const hasEdits = Object.keys(edits).length > 0;
  const isAsItIs = (read: PieceRow): boolean =>
    read.plain !== null &&
    !extender.extendsAll &&
    !(hasEdits && edits[read.line]) &&
    extender.leaves(read.cells[addressAt] as string) &&
    cleanPlain(read) === read;
  let lateNames = 0;
  const inText = (read: PieceRow) => extender.extend(clean(withEdit(stream.whole(read), edits)));
  const take = (read: PieceRow, piece: SortedPiece) => {
    const text = isAsItIs(read) ? null : inText(read);
    const person = ownerOf(text?.row ?? read);
    if ('reason' in person) {
      const whole = (text ?? inText(read)).row;
      piece.aside.push({ ...whole, reason: person.reason, fields: fieldsOf(whole) });
    } else if (text === null) piece.taken.push({ person, fields: NO_FIELDS, plain: read.plain, at: read.at });
    else {
      const fields = fieldsOf(text.row);
      if (text.name !== '') {
        fields[NAMES_BESIDE.key] = text.name;
        lateNames++;
      }
      piece.taken.push({ person, fields, plain: null, at: 0 });
    }
  };
  async function* pieces(): AsyncGenerator<SortedPiece> {
    let [bytes, rows] = [0, 0];
    const sorted = (read: PieceRead): SortedPiece => {
      rows += read.rows.length + read.aside.length;
      const piece: SortedPiece = { taken: [], aside: [], rows, share: Math.min(1, bytes / row.size) };
      for (const one of read.rows) take(one, piece);
      for (const one of read.aside)
        if (isMended(one, mended.header, edits)) take({ line: one.line, cells: one.cells, plain: null, at: 0 }, piece);
        else piece.aside.push(one);
      return piece;
    };
    for await (const morsel of morsels(store, row.id)) {
      bytes += morsel.length;
      yield sorted(stream.push(morsel));
    }
    yield sorted(stream.end());
  }
  const keyOf = new Map(columns.map((c) => [c.position, c.key]));
  return { keys: chosen.map((_, i) => keyOf.get(i) ?? null), lines, lateNames: () => lateNames, pieces };
}
