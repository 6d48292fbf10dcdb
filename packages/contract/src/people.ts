import type {
  AddressCandidate,
  Encoding,
  AddressNote,
  CleaningFound,
  ColumnKind,
  ColumnRole,
  ListColumn,
  ListQuery,
  OutcomeKey,
  PeopleFileKind,
  ReadingChoices,
  Sheet,
  RowNote,
} from '@baton/core';

export interface ListView {
  id: number;
  name: string;
  source: string;
  createdAt: number;
  people: number;
  aside: number;
}

export interface PersonRow {
  rowId: number;
  contactId: number;
  address: string;
  zone: string | null;
  /** By the key of a field, or of an outcome column. */
  fields: Record<string, string>;
  notes: RowNote[];
}

/** What a page shows of a list beside its rows. */
export interface ListHead {
  list: ListView;
  columns: ListColumn[];
  /** Columns that tell what became of each row; none before a campaign has been started to the list. */
  outcomes: { key: OutcomeKey; hidden: boolean }[];
  segments: SegmentView[];
  feed: FeedView | null;
  /** Domains whose mail servers are being asked for. */
  domainsToAsk: number;
  /** Rows taken off that can still come back. */
  removed: number;
  /** What the next undo and redo would be, in words; null for nothing. */
  undo: string | null;
  redo: string | null;
  /** Counts the list's changes. */
  revision: number;
}

/** Where a list is fed from by itself. */
export interface FeedChoices {
  kind: 'folder' | 'url';
  /** A folder of the machine that Baton runs on, or the address of a file. */
  place: string;
  how: 'add' | 'update';
  everyMinutes: number;
  /** Whether addresses of this machine and its network may be fetched. */
  allowPrivate: boolean;
}

export interface FeedView extends FeedChoices {
  lookedAt: number | null;
  /** What the last look found, in a sentence. */
  found: string;
}

/** A named choice of rows, live. */
export interface SegmentView {
  id: number;
  listId: number;
  name: string;
  query: ListQuery;
  people: number;
}

/** The rows meant by an action: those picked, or all that a query finds, of which the page showed how many. */
export type RowChoice = { rows: number[] } | { query: ListQuery; count: number };

/** What is asked of a list's rows: those on it, or those taken off. */
export interface RowsAsked {
  query: ListQuery;
  removed: boolean;
}

export interface CellEdit {
  rowId: number;
  key: string;
  value: string;
}

export interface RefusedCell {
  rowId: number;
  key: string;
  reason: string;
}

export interface CellsChanged {
  /** Rows. */
  changed: number;
  revision: number;
  refused: RefusedCell[];
}

export interface FillWith {
  kind: 'set' | 'tag' | 'untag';
  value: string;
}

/** All columns in their order. */
export type ColumnsArranged = { key: string; hidden: boolean }[];

export interface NewColumn {
  name: string;
  kind: ColumnKind;
  /** Liquid; null for a column to type into. */
  formula: string | null;
  /** The column it comes after; null for the end. */
  after: string | null;
}

/** A deleted list that can still come back. */
export interface RemovedList {
  id: number;
  name: string;
  people: number;
  removedAt: number;
}

export const FILE_FORMATS = ['csv', 'tsv', 'xlsx', 'ods', 'vcard'] as const;
export type FileFormat = (typeof FILE_FORMATS)[number];

export const SET_OPERATIONS = ['union', 'intersection', 'difference'] as const;
/** The people on any, on all, or on the first but none of the others. */
export type SetOperation = (typeof SET_OPERATIONS)[number];

export interface AsideRow {
  line: number;
  cells: string[];
  reason: string;
}

/** A row that can be mended, or not. */
export interface MendableRow extends AsideRow {
  /** Whether it fits the columns, so that another address is all it needs. */
  fits: boolean;
}

/** A row that a list's file had and the list has not. */
export interface KeptAside extends MendableRow {
  id: number;
}

/** Where the people of an import go; into a list they are added, bring it up to date, or become all of it. */
export type ImportInto =
  { kind: 'new'; name: string } | { kind: 'list'; listId: number; how: 'add' | 'update' | 'replace' };

/** How far a large import is. */
export interface ImportProgress {
  step: 'reading' | 'storing';
  rows: number;
  /** Of the file, 0 to 1. */
  share: number;
}

/** What an import does to the list it goes into. */
export interface ImportEffect {
  added: number;
  /** Stand on the list already; they are brought up to date, or with `add` left as they are. */
  there: number;
  /** Taken off, with `replace`. */
  off: number;
}

/** A column of a file, as it would be taken. */
export interface ImportColumn {
  name: string;
  role: ColumnRole;
  /** How a field is read; `text` for all else. */
  kind: ColumnKind;
  sureness: number;
  because: string;
  /** Made by a cleaning, not in the file. */
  derived: boolean;
}

/** What was said about how a file is read, beside the sheet. */
export interface ImportReading extends Omit<ReadingChoices, 'sheet'> {
  /** Whether `3/4/2026` is in March, where no cell of the column tells. */
  monthFirst?: boolean;
}

/** How a file would be taken, before anything is. */
export interface ImportView {
  id: number;
  name: string;
  kind: PeopleFileKind;
  /** Of a workbook: its sheets, and which one is shown. */
  sheets: readonly Sheet[];
  sheet: number;
  /** Rows that the sheet hides, and whether they come too. */
  hiddenRows: number;
  withHidden: boolean;
  /** A date that could be read two ways, by the name of its column, and what was said of it; null where none could. */
  dateQuestion: { column: string; cell: string; dayFirst: string; monthFirst: string; chosen: boolean | null } | null;
  /** Columns that all hold addresses, where there are several; [] otherwise. */
  addressCandidates: readonly AddressCandidate[];
  /** Of a text, in words; '' for a workbook. */
  encoding: string;
  otherLines: number;
  /** Of a text that is not Unicode: its encoding, and the first cells with letters beyond ASCII, by which it is judged. */
  encodingQuestion: { encoding: Encoding; foreign: string[] } | null;
  delimiter: string;
  /** null where there is no header row. */
  headerLine: number | null;
  /** Rows above the header that were skipped. */
  titleRows: number;
  rows: number;
  columns: ImportColumn[];
  /** The first rows, for the eye: cleaned, with what a cell was before (null where it is as it was). */
  sample: { line: number; cells: string[]; before: (string | null)[]; note: string; checks: readonly AddressNote[] }[];
  aside: MendableRow[];
  counts: { new: number; known: number; doubled: number; invalid: number; suppressed: number };
  /** What the cleanings change, or would change. */
  cleanings: CleaningFound[];
  /** Addresses worth a look, by kind. */
  checks: { misspelt: number; shared: number };
  /** What keeps it from being taken, in a sentence; '' when nothing does. */
  obstacle: string;
  into: ImportInto;
  /** Known once every row has been looked at, for a list that is there already. */
  effect: ImportEffect | null;
  /** Of a large file only the head is shown: what share of its bytes that is; 1 for a file shown whole. */
  share: number;
  state: 'open' | 'taking' | 'counted' | 'failed';
  progress: ImportProgress | null;
  problem: string | null;
}

/** How far an import is. */
export type ImportState = Pick<ImportView, 'name' | 'state' | 'progress' | 'problem'> & { into: ImportInto | null };

/** What became of the wish to take an import. */
export interface ImportTaken {
  /** null while a large one is being taken. */
  listId: number | null;
}

/** What an import of suppressions did. */
export interface SuppressionImport {
  added: number;
  /** Were there already, or twice in the file. */
  known: number;
  aside: AsideRow[];
  /** How many entries could not be read; `aside` has the first of them. */
  asideTotal: number;
}

/** Entries that a search finds. */
export interface SuppressionList {
  total: number;
  found: number;
  /** The newest of those found. */
  entries: SuppressionView[];
}

export interface SuppressionView {
  id: number;
  kind: 'address' | 'domain';
  key: string;
  reason: string;
  source: string;
  createdAt: number;
}
