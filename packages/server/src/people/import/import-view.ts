import { addressCandidates, encodingNamed, sendOnReader, type ColumnKind, type ColumnRole } from '@baton/core';
import type { ImportInto, ImportView } from '@baton/contract';
import type { Queryable } from '../../store/database';
import { effectOfKeys, type ImportRow } from '../../store/people/import/import-rows';
import { datesOf, isLarge, kindsOf, type ReadImport } from './read-import';

const SAMPLE_ROWS = 200;
const ASIDE_SHOWN = 500;

/** An import as it is looked at. */
export async function viewOf(db: Queryable, row: ImportRow, read: ReadImport): Promise<ImportView> {
  const { file, cleaned, sorted, notes } = read;
  const asideAt = new Map(sorted.aside.map((a) => [a.line, a.reason]));
  const all = [...notes.values()].flat();
  const into = intoOf(row);
  return {
    id: row.id,
    name: row.name,
    kind: file.kind,
    sheets: file.sheets,
    sheet: file.sheet,
    hiddenRows: file.hiddenRows,
    withHidden: row.reading?.withHidden ?? false,
    encoding: file.encoding,
    otherLines: file.otherLines,
    addressCandidates: candidatesOf(read),
    encodingQuestion: encodingQuestionOf(read),
    delimiter: file.delimiter,
    headerLine: cleaned.headerLine,
    titleRows: cleaned.titleRows,
    rows: cleaned.rows.length + cleaned.aside.length,
    columns: columnsOf(row, read),
    sample: sampleOf(row, read).map(({ line, cells, before }) => ({
      ...{ line, cells, before },
      note: asideAt.get(line) ?? '',
      checks: notes.get(line) ?? [],
    })),
    aside: sorted.aside
      .slice(0, ASIDE_SHOWN)
      .map(({ line, cells, reason, fields }) => ({ line, cells, reason, fits: fields !== undefined })),
    counts: sorted.counts,
    cleanings: read.found,
    checks: {
      misspelt: all.filter((n) => n.kind === 'misspelt').length,
      shared: all.filter((n) => n.kind === 'shared').length,
    },
    dateQuestion: questionOf(row, read),
    obstacle: obstacleOf(row, read),
    into,
    effect: isLarge(row) ? row.effect : await effectOfWhole(db, into, read),
    share: isLarge(row) ? row.bytes.length / row.size : 1,
    state: row.state,
    progress: row.progress,
    problem: row.problem,
  };
}

/** The first rows as they will be taken: cleaned, and dates on which to send as they are read, once that is known. */
function sampleOf(
  row: ImportRow,
  { cleaned, mended, roles, question }: ReadImport,
): Omit<ImportView['sample'][number], 'note' | 'checks'>[] {
  const sendOn = asksWhenToSend(row, { question, roles }) ? -1 : roles.indexOf('send_on');
  const dates = cleaned.rows.map((r) => r.cells[sendOn] ?? '');
  const read = sendOn < 0 ? null : sendOnReader(dates, { ...datesOf(row), serials: true });
  return cleaned.rows.slice(0, SAMPLE_ROWS).map((r, i) => {
    const cells = r.cells.map((c, j) => (j === sendOn && read ? (read(c)?.replace('T', ' ') ?? c) : c));
    const written = mended.rows[i]?.cells ?? [];
    return { line: r.line, cells, before: cells.map((c, j) => (written[j] === c ? null : (written[j] ?? ''))) };
  });
}

/** Columns between which the addresses of the people could lie. */
function candidatesOf({ mended, roles }: ReadImport): ImportView['addressCandidates'] {
  const candidates = addressCandidates(mended, roles);
  return candidates.length > 1 ? candidates : [];
}

/** Where its people go: into a new list of the file’s name, unless something else is said. */
export const intoOf = (row: ImportRow): ImportInto =>
  row.into ?? { kind: 'new', name: row.name.replace(/\.[^.]+$/, '') };

async function effectOfWhole(db: Queryable, into: ImportInto, read: ReadImport): Promise<ImportView['effect']> {
  if (into.kind === 'new') return null;
  const keys = read.sorted.taken.map((p) => p.key);
  return effectOfKeys(db, keys, into.listId, into.how);
}

/** Where the columns come from that cleaning makes. */
const DERIVED: Partial<Record<ColumnRole, string>> = {
  full_name: 'was beside the address',
  given_name: 'split off the full name',
  family_name: 'split off the full name',
};

const KINDS_SEEN: Record<Exclude<ColumnKind, 'text'>, string> = {
  number: 'it holds numbers',
  date: 'it holds dates',
  tick: 'it holds yes and no',
  tags: 'its header says tags',
};

function columnsOf(row: ImportRow, { cleaned, guesses, roles, sorted }: ReadImport): ImportView['columns'] {
  const kindOf = kindsOf(row, sorted);
  const kinds = new Map(sorted.columns.map((c) => [c.position, kindOf(c)]));
  return cleaned.header.map((name, i) => {
    const guess = guesses[i];
    const role = roles[i] as ColumnRole;
    const column = { name, role, kind: kinds.get(i) ?? 'text' };
    if (!guess) return { ...column, sureness: 1, because: DERIVED[role] ?? '', derived: true };
    if (row.remembered) return { ...column, sureness: 1, because: 'as last time', derived: false };
    if (role !== guess.role || row.kinds?.[i])
      return { ...column, sureness: 1, because: 'as you said', derived: false };
    const because = role === 'field' && column.kind !== 'text' ? KINDS_SEEN[column.kind] : guess.because;
    return { ...column, sureness: guess.sureness, because, derived: false };
  });
}

/** Cells shown for an encoding to be judged by. */
const FOREIGN_SHOWN = 3;

function encodingQuestionOf({ file, mended }: ReadImport): ImportView['encodingQuestion'] {
  const encoding = encodingNamed(file.encoding);
  if (!encoding) return null;
  const cells = [...mended.rows.flatMap((r) => r.cells), ...mended.header];
  const foreign = new Set<string>();
  for (const cell of cells) {
    if (/[^\p{ASCII}]/u.test(cell)) foreign.add(cell.trim().slice(0, 40));
    if (foreign.size === FOREIGN_SHOWN) break;
  }
  return { encoding, foreign: [...foreign] };
}

function questionOf(row: ImportRow, { question, mended, roles }: ReadImport): ImportView['dateQuestion'] {
  if (!question) return null;
  const { column, ...ways } = question;
  // Of dates on which to send somebody has to say; of others the day comes first until then.
  const usual = roles[column] === 'send_on' ? null : false;
  return { ...ways, column: mended.header[column] ?? '', chosen: datesOf(row).monthFirst ?? usual };
}

/** Why an import cannot be taken as it is read; '' where it can. */
export function obstacleOf(row: ImportRow, { roles, sorted, cleaned, question }: ReadImport): string {
  if (!roles.includes('address'))
    return `No column holds email addresses; the columns are ${cleaned.header.slice(0, 8).join(', ')}. Say which one is the address.`;
  if (question && asksWhenToSend(row, { question, roles }))
    return `The dates on which to send could be read two ways: “${question.cell}”. Say which it is.`;
  return sorted.taken.length === 0 ? 'No row has an address that can be used.' : '';
}

/** Whether the dates on which to send could be read two ways, and nobody has said which. */
const asksWhenToSend = (row: ImportRow, { question, roles }: Pick<ReadImport, 'question' | 'roles'>): boolean =>
  question !== null && roles[question.column] === 'send_on' && row.reading?.monthFirst === undefined;
