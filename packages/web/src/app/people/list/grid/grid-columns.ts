import { ADDRESS_KEY, NOTES_KEY, noteWords, OUTCOME_COLUMNS, type ColumnKind, type OutcomeKey } from '@baton/core';
import type { ListHead, PersonRow } from '@baton/contract';
import { peopleListTexts } from '../texts';

const texts = peopleListTexts.gridColumns;

/** A column as the grid shows it. */
export interface GridColumn {
  key: string;
  name: string;
  kind: ColumnKind;
  /** Whether its cells can be written into. */
  writable: boolean;
  formula: string | null;
  /** Pixels. */
  width: number;
}

const WIDTHS: Record<ColumnKind, number> = { text: 146, number: 92, date: 108, tick: 78, tags: 150 };
/** No narrower, and no wider at first. */
export const LEAST_WIDTH = 56;

/** Wide enough for a day with its time, a state, a campaign's name. */
const OUTCOME_WIDTHS: Readonly<Record<OutcomeKey, number>> = {
  ...{ '@campaign': 196, '@state': 116, '@sent': 142, '@next': 142, '@replied': 142, '@outcome': 116 },
};

/** Address and notes first, then the list's own columns, then what became of each row; without those that are hidden. */
export function gridColumns(
  { columns, outcomes }: Pick<ListHead, 'columns' | 'outcomes'>,
  widths: Readonly<Record<string, number>>,
): GridColumn[] {
  const wide = (key: string, usual: number) => widths[key] ?? usual;
  return [
    {
      key: ADDRESS_KEY,
      name: texts.address,
      kind: 'text',
      writable: true,
      formula: null,
      width: wide(ADDRESS_KEY, 236),
    },
    { key: NOTES_KEY, name: texts.notes, kind: 'text', writable: false, formula: null, width: wide(NOTES_KEY, 132) },
    ...columns
      .filter((c) => !c.hidden && c.role !== 'address')
      .map(({ key, name, kind, formula }) => ({
        key,
        name,
        kind,
        formula,
        writable: formula === null,
        width: wide(key, Math.max(WIDTHS[kind], Math.min(220, name.length * 8 + 44))),
      })),
    ...OUTCOME_COLUMNS.filter(({ key }) => outcomes.some((o) => o.key === key && !o.hidden)).map(
      ({ key, name, kind }) => ({
        ...{ key, name, kind, formula: null, writable: false },
        width: wide(key, OUTCOME_WIDTHS[key]),
      }),
    ),
  ];
}

/** A cell as it is copied and edited. */
export function cellText(row: PersonRow, key: string): string {
  if (key === ADDRESS_KEY) return row.address;
  if (key === NOTES_KEY) return row.notes.map(noteWords).join(', ');
  return row.fields[key] ?? '';
}
