import { signal } from '@angular/core';
import type { CellEdit, PersonRow } from '@baton/contract';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { Notices } from '../../../live/notices';
import type { GridColumn } from './grid-columns';
import type { GridRows } from './grid-rows';
import { SheetCells } from './sheet-cells';

const column = (key: string, over: Partial<GridColumn> = {}): GridColumn => ({
  key,
  name: key,
  kind: 'text',
  writable: true,
  formula: null,
  width: 100,
  ...over,
});
const columns = [
  column('@address'),
  column('region'),
  column('call', { kind: 'tick' }),
  column('sum', { writable: false }),
];
const people = Array.from({ length: 4 }, (_, i): PersonRow => ({
  rowId: 10 + i,
  contactId: i,
  address: `p${i}@x.example`,
  zone: null,
  fields: { region: i === 0 ? 'North' : 'South', sum: '7' },
  notes: [],
}));

let edits: CellEdit[][];
let said: string[];
let readonly = false;
let cells: SheetCells;
const load = vi.fn((from: number, to: number) => Promise.resolve(people.slice(from, to)));
const range = (top: number, left: number, bottom: number, right: number) => ({ top, left, bottom, right });
const clipboard = (text: string): ClipboardEvent =>
  Object.assign(new Event('paste', { cancelable: true }), {
    clipboardData: { getData: () => text, setData: vi.fn() },
  }) as unknown as ClipboardEvent;

beforeEach(() => {
  edits = [];
  said = [];
  readonly = false;
  const rows = { ids: signal(Int32Array.from(people.map((p) => p.rowId))), row: (i: number) => people[i], load };
  cells = new SheetCells(
    {
      rows: () => rows as unknown as GridRows,
      columns: () => columns,
      size: () => ({ rows: 4, columns: 4, page: 10 }),
      readonly: () => readonly,
    },
    { say: (words: string) => said.push(words) } as unknown as Notices,
    (e) => edits.push(e),
  );
});

describe('SheetCells', () => {
  it('writes only what differs, and never what is computed', () => {
    cells.write([
      { row: 0, column: 1, value: 'North' },
      { row: 1, column: 1, value: 'East' },
      { row: 1, column: 3, value: '8' },
      { row: 99, column: 1, value: 'nobody' },
    ]);
    expect(edits).toEqual([[{ rowId: 11, key: 'region', value: 'East' }]]);
    cells.write([{ row: 0, column: 1, value: 'North' }]);
    readonly = true;
    cells.write([{ row: 1, column: 1, value: 'East' }]);
    expect(edits).toHaveLength(1);
  });

  it('empties and fills what is marked, but for addresses', async () => {
    await cells.clear(range(0, 0, 1, 1));
    expect(edits.pop()).toEqual([
      { rowId: 10, key: 'region', value: '' },
      { rowId: 11, key: 'region', value: '' },
    ]);
    await cells.fillDown(range(0, 0, 2, 1));
    expect(edits.pop()).toEqual([
      { rowId: 11, key: 'region', value: 'North' },
      { rowId: 12, key: 'region', value: 'North' },
    ]);
    await cells.fillDown(range(1, 1, 1, 1));
    expect(edits).toEqual([]);
  });

  it('pastes from the corner of the mark, and says what lay beyond the end', async () => {
    await cells.paste(range(3, 1, 3, 1), clipboard('West\tyes\r\nEast\t\r\n'));
    expect(edits).toEqual([
      [
        { rowId: 13, key: 'region', value: 'West' },
        { rowId: 13, key: 'call', value: 'yes' },
      ],
    ]);
    expect(said).toEqual(['1 pasted row is beyond the end of the list; use “Import people” to add it.']);
  });

  it('asks for rows it has not before it copies them, and refuses too many', async () => {
    expect(await cells.copy(range(0, 0, 399_999, 0), clipboard(''))).toBe(false);
    expect(said[0]).toBe('That is 400,000 cells; at most 200,000 can be pasted at once.');
    const event = clipboard('');
    expect(await cells.copy(range(0, 0, 1, 1), event)).toBe(true);
    expect(event.clipboardData?.setData).toHaveBeenCalledWith(
      'text/plain',
      'p0@x.example\tNorth\r\np1@x.example\tSouth',
    );
    expect(event.defaultPrevented).toBe(true);
  });

  it('turns a tick over', async () => {
    await cells.toggleTick({ row: 2, column: 2 });
    expect(edits).toEqual([[{ rowId: 12, key: 'call', value: 'yes' }]]);
  });
});
