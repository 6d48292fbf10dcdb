import type { AddressNote, CleaningFound, ColumnRole, KeptColumn, PeopleFileKind } from '@baton/core';

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
  fields: Record<string, string>;
  suppressed: boolean;
}

export interface ListPage {
  list: ListView;
  columns: Pick<KeptColumn, 'name' | 'key' | 'role'>[];
  people: PersonRow[];
  total: number;
}

export interface AsideRow {
  line: number;
  cells: string[];
  reason: string;
}

/** How a file would be taken, before anything is. */
export interface ImportView {
  id: number;
  name: string;
  kind: PeopleFileKind;
  /** Of a workbook: its sheets by name, and which one is shown. */
  sheets: string[];
  sheet: number;
  /** Of a text, in words; '' for a workbook. */
  encoding: string;
  otherLines: number;
  delimiter: string;
  /** null where there is no header row. */
  headerLine: number | null;
  /** Rows above the header that were passed over. */
  titleRows: number;
  rows: number;
  /** `derived`: made by a cleaning, not in the file. */
  columns: { name: string; role: ColumnRole; sureness: number; because: string; derived: boolean }[];
  /** The first rows, for the eye: cleaned, with what a cell was before (null where it is as it was). */
  sample: { line: number; cells: string[]; before: (string | null)[]; note: string; checks: AddressNote[] }[];
  aside: AsideRow[];
  counts: { new: number; known: number; doubled: number; invalid: number; suppressed: number };
  /** What the cleanings change, or would change. */
  cleanings: CleaningFound[];
  /** Addresses worth a look, by kind. */
  checks: { misspelt: number; shared: number };
  /** What keeps it from being taken, in a sentence; '' when nothing does. */
  obstacle: string;
}

/** What an import of suppressions did. */
export interface SuppressionImport {
  added: number;
  /** Were there already, or twice in the file. */
  known: number;
  aside: AsideRow[];
}

export interface SuppressionView {
  id: number;
  kind: 'address' | 'domain';
  key: string;
  reason: string;
  source: string;
  createdAt: number;
}
