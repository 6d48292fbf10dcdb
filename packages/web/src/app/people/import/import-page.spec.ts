import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { Router } from '@angular/router';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { ImportView } from '@baton/contract';
import { LiveServer, settle, textOf } from '../../testing/live-server';
import { ImportPage } from './import-page';

const view = (over: Partial<ImportView> = {}): ImportView => ({
  id: 3,
  name: 'vines.csv',
  encoding: 'UTF-8',
  otherLines: 0,
  delimiter: ';',
  kind: 'delimited',
  sheets: [],
  sheet: 0,
  hiddenRows: 0,
  withHidden: false,
  dateQuestion: null,
  encodingQuestion: null,
  addressCandidates: [],
  headerLine: 1,
  titleRows: 0,
  rows: 3,
  columns: [
    {
      name: 'Courriel',
      role: 'address',
      kind: 'text',
      sureness: 1,
      because: '100 % are addresses',
      derived: false,
    },
    { name: 'Domaine', role: 'company', kind: 'text', sureness: 0.9, because: 'from its header', derived: false },
    { name: 'Extra', role: 'field', kind: 'number', sureness: 0.5, because: 'kept as a field', derived: false },
  ],
  sample: [{ line: 2, cells: ['ana@x.example', 'Cedar', ''], before: [null, 'CEDAR', null], note: '', checks: [] }],
  cleanings: [{ cleaning: 'name_case', on: true, cells: 6, examples: [{ line: 3, before: 'SALT', after: 'Salt' }] }],
  checks: { misspelt: 2, shared: 0 },
  aside: [{ line: 4, cells: ['bad', '', ''], reason: '“bad” has no @ sign', fits: true }],
  counts: { new: 1, known: 1, doubled: 0, invalid: 1, suppressed: 0 },
  obstacle: '',
  into: { kind: 'new', name: 'vines' },
  effect: null,
  share: 1,
  state: 'open',
  progress: null,
  problem: null,
  ...over,
});

let server: LiveServer;
let fixture: ComponentFixture<ImportPage>;
const host = () => fixture.nativeElement as HTMLElement;
beforeEach(async () => {
  TestBed.configureTestingModule({ providers: LiveServer.providers() });
  server = new LiveServer();
  fixture = TestBed.createComponent(ImportPage);
  await settle(fixture);
});

const button = (words: string | RegExp) =>
  [...host().querySelectorAll('button')].find((b) => (b.textContent ?? '').trim().match(words)) as HTMLButtonElement;

async function paste(text: string): Promise<void> {
  const area = host().querySelector('textarea') as HTMLTextAreaElement;
  area.value = text;
  area.dispatchEvent(new Event('input'));
  await settle(fixture);
  button(/Preview/).click();
  await settle(fixture);
}

describe('ImportPage', () => {
  it('shows the sheet with a guess over each column, the counts, and what it will do', async () => {
    await paste('Courriel;Domaine\nana@x.example;Cedar');
    server.answer('/api/imports', view());
    await settle(fixture);
    const guesses = [...host().querySelectorAll('thead select')].map((s) => (s as HTMLSelectElement).value);
    expect(guesses).toEqual(['address', 'company', 'field:number']);
    expect(textOf(fixture)).toContain('1 new');
    expect(textOf(fixture)).toContain('guess: kept as a field');
    expect(button(/^Import 2 people/)).toBeTruthy();
  });

  it('asks which way a date is read, showing one both ways', async () => {
    await paste('x');
    const question = { column: 'send on', cell: '3/4/2026', dayFirst: '2026-04-03', monthFirst: '2026-03-04' };
    const obstacle = 'The dates on which to send could be read two ways: “3/4/2026”. Say which it is.';
    server.answer('/api/imports', view({ dateQuestion: { ...question, chosen: null }, obstacle }));
    await settle(fixture);
    expect(textOf(fixture)).toContain('3/4/2026 in “send on” is');
    const ways = [...host().querySelectorAll<HTMLInputElement>('input[type=radio]')];
    expect(ways.map((w) => w.closest('label')?.textContent?.trim())).toEqual(['Fri 3 Apr 2026', 'Wed 4 Mar 2026']);
    expect(ways.some((w) => w.checked)).toBe(false);
    ways[1]?.click();
    const asked = server.http.expectOne({ method: 'PUT', url: '/api/imports/3/reading' });
    expect(asked.request.body).toEqual({ monthFirst: true });
    asked.flush(view({ dateQuestion: { ...question, chosen: true } }));
    await settle(fixture);
    expect([...host().querySelectorAll<HTMLInputElement>('input[type=radio]')].map((w) => w.checked)).toEqual([
      false,
      true,
    ]);
  });

  it('asks which of several columns of addresses is the people’s', async () => {
    const columns = [
      { name: 'Owner', role: 'field', kind: 'text', sureness: 0.5, because: '', derived: false },
      { name: 'Mail', role: 'address', kind: 'text', sureness: 1, because: '', derived: false },
    ] as ImportView['columns'];
    const addressCandidates = [
      { column: 0, rows: 1200, different: 3 },
      { column: 1, rows: 1198, different: 1198 },
    ];
    await paste('x');
    server.answer('/api/imports', view({ columns, addressCandidates }));
    await settle(fixture);
    const labels = [...host().querySelectorAll('bt-import-questions label')];
    expect(labels.map((l) => l.textContent?.replace(/\s+/g, ' ').trim())).toEqual([
      'Owner 1,200 rows, 3 different',
      'Mail 1,198 rows',
    ]);
    const [owner, mail] = labels.map((l) => l.querySelector('input'));
    expect([owner?.checked, mail?.checked]).toEqual([false, true]);
    owner?.click();
    const asked = server.http.expectOne('/api/imports/3/columns');
    expect(asked.request.body).toEqual({ roles: ['address', 'field'], kinds: {} });
    asked.flush(view({ columns, addressCandidates }));
  });

  it('shows the first foreign letters of a text that is not Unicode, and lets its encoding be chosen', async () => {
    await paste('x');
    const foreign = ['Jiøí', 'Šárka'];
    server.answer('/api/imports', view({ encodingQuestion: { encoding: 'windows-1252', foreign } }));
    await settle(fixture);
    expect(textOf(fixture)).toContain('Jiøí · Šárka');
    const select = [...host().querySelectorAll('select')].find((s) => s.closest('.questions')) as HTMLSelectElement;
    expect([...select.options].map((o) => o.textContent?.trim())).toContain('Windows-1250');
    select.value = 'windows-1250';
    select.dispatchEvent(new Event('change'));
    const asked = server.http.expectOne({ method: 'PUT', url: '/api/imports/3/reading' });
    expect(asked.request.body).toEqual({ encoding: 'windows-1250' });
    asked.flush(view({ encodingQuestion: { encoding: 'windows-1250', foreign: ['Jiří', 'Šárka'] } }));
    await settle(fixture);
    expect(textOf(fixture)).toContain('Jiří · Šárka');
  });

  it('says what the workbook hides, and asks whether it comes too', async () => {
    await paste('x');
    const sheets = [
      { name: 'Old', isHidden: true },
      { name: 'New', isHidden: false },
    ];
    server.answer(
      '/api/imports',
      view({ kind: 'xlsx', sheets, sheet: 1, hiddenRows: 12, delimiter: '', encoding: '' }),
    );
    await settle(fixture);
    expect(textOf(fixture)).toContain('12 rows hidden in the sheet are left out');
    expect([...host().querySelectorAll('option')].map((o) => o.textContent?.trim())).toContain('Old (1 of 2, hidden)');
    const box = host().querySelector<HTMLInputElement>('.questions input[type=checkbox]');
    expect(box?.closest('mat-checkbox')?.textContent?.trim()).toBe('Import the 12 hidden rows too');
    box?.click();
    const asked = server.http.expectOne({ method: 'PUT', url: '/api/imports/3/reading' });
    expect(asked.request.body).toEqual({ withHidden: true });
    asked.flush(view({ kind: 'xlsx', sheets, sheet: 1, hiddenRows: 12, withHidden: true }));
    await settle(fixture);
    expect(textOf(fixture)).not.toContain('left out');
  });

  it('goes on at the sheet for the keyboard', async () => {
    document.body.append(host());
    await paste('x');
    server.answer('/api/imports', view());
    await settle(fixture);
    expect(document.activeElement?.textContent).toBe('vines.csv');
    host().remove();
  });

  it('lets it be said how a field is read', async () => {
    await paste('x');
    server.answer('/api/imports', view());
    await settle(fixture);
    const third = host().querySelectorAll('thead select')[2] as HTMLSelectElement;
    expect(third.selectedOptions[0]?.textContent?.trim()).toBe('numbers: Extra');
    third.value = 'field:tick';
    third.dispatchEvent(new Event('change'));
    await settle(fixture);
    const put = server.http.expectOne('/api/imports/3/columns');
    expect(put.request.body).toEqual({ roles: ['address', 'company', 'field'], kinds: { 2: 'tick' } });
  });

  it('gives a role to one column at a time', async () => {
    await paste('x');
    server.answer('/api/imports', view());
    await settle(fixture);
    const third = host().querySelectorAll('thead select')[2] as HTMLSelectElement;
    third.value = 'address';
    third.dispatchEvent(new Event('change'));
    await settle(fixture);
    const put = server.http.expectOne('/api/imports/3/columns');
    expect(put.request.body).toEqual({ roles: ['field', 'company', 'address'], kinds: {} });
    put.flush(
      view({
        obstacle: 'No row has an address that can be used.',
        counts: { new: 0, known: 0, doubled: 0, invalid: 3, suppressed: 0 },
      }),
    );
    await settle(fixture);
    expect(textOf(fixture)).toContain('No row has an address that can be used.');
    expect(button(/^Import (all|\d)/).disabled).toBe(true);
  });

  it('keeps the list and opens it', async () => {
    await paste('x');
    server.answer('/api/imports', view());
    await settle(fixture);
    const go = vi.spyOn(TestBed.inject(Router), 'navigate').mockResolvedValue(true);
    button(/^Import 2 people/).click();
    await settle(fixture);
    server.answer('/api/imports/3/keep', { listId: 9 });
    await settle(fixture);
    expect(go).toHaveBeenCalledWith(['/people', 9]);
  });

  it('shows each cleaning before and after, and leaves it when it is switched off', async () => {
    await paste('x');
    server.answer('/api/imports', view());
    await settle(fixture);
    expect(textOf(fixture)).toContain('Fix capitals in names 6 · SALT → Salt');
    (host().querySelector('mat-checkbox input') as HTMLInputElement).click();
    await settle(fixture);
    const put = server.http.expectOne('/api/imports/3/cleanings');
    expect(put.request.body).toEqual({ cleanings: [] });
    put.flush(view({ cleanings: [] }));
    await settle(fixture);
    button(/^Correct 2 misspelt domains/).click();
    await settle(fixture);
    expect(server.answer('/api/imports/3/mend-domains', view({ checks: { misspelt: 0, shared: 0 } }))).toBe(1);
  });

  it('mends a cell where it stands', async () => {
    await paste('x');
    server.answer('/api/imports', view());
    await settle(fixture);
    const cell = host().querySelector('tbody td:nth-child(4)') as HTMLElement;
    cell.dispatchEvent(new Event('dblclick'));
    await settle(fixture);
    const box = cell.querySelector('input') as HTMLInputElement;
    box.value = 'Cedar Ridge';
    box.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter' }));
    await settle(fixture);
    const put = server.http.expectOne('/api/imports/3/cells');
    expect(put.request.body).toEqual({ line: 2, column: 1, value: 'Cedar Ridge' });
    put.flush(view());
  });

  it('says where the person looks what is wrong with a file', async () => {
    await paste('x');
    server.refuse('/api/imports', 400, 'A quotation mark opened on line 2 is never closed.');
    await settle(fixture);
    expect(host().querySelector('[role=alert]')?.textContent).toContain('line 2');
  });

  it('goes into a list that is there, and says beforehand what that does', async () => {
    await paste('x');
    server.answer('/api/lists', [{ id: 7, name: 'Growers', source: '', createdAt: 0, people: 9, aside: 0 }]);
    server.answer('/api/imports', view());
    await settle(fixture);
    const select = [...host().querySelectorAll('select')].find((s) => s.textContent?.includes('Growers'));
    (select as HTMLSelectElement).value = '7';
    select?.dispatchEvent(new Event('change'));
    await settle(fixture);
    const put = server.http.expectOne('/api/imports/3/into');
    expect(put.request.body).toEqual({ into: { kind: 'list', listId: 7, how: 'update' } });
    put.flush(view({ into: { kind: 'list', listId: 7, how: 'replace' }, effect: { added: 1, there: 1, off: 8 } }));
    await settle(fixture);
    expect(textOf(fixture)).toContain(
      '1 is new to the list, 1 is on the list and will be updated, 8 are not in the file and will be removed.',
    );
    expect(button('Import 2 people')).toBeTruthy();
  });

  it('shows the head of a large file, and how far it is while it is taken', async () => {
    await paste('x');
    server.answer('/api/imports', view({ share: 0.1, rows: 8000 }));
    await settle(fixture);
    expect(textOf(fixture)).toContain('first 8,000 rows of a large file');
    const navigate = vi.spyOn(TestBed.inject(Router), 'navigate').mockResolvedValue(true);
    button('Import all').click();
    await settle(fixture);
    server.answer('/api/imports/3/keep', { listId: null });
    await settle(fixture);
    expect(navigate).toHaveBeenCalledWith([], { queryParams: { importId: 3 } });
    fixture.componentRef.setInput('importId', '3');
    await settle(fixture);
    const progress = { step: 'reading' as const, rows: 123_456, share: 0.42 };
    server.answer('/api/imports/3/state', { name: 'x', state: 'taking', progress, problem: null, into: null });
    await settle(fixture);
    expect(textOf(fixture)).toContain('123,456 rows read, 42 % of the file');
    expect(button('Cancel')).toBeTruthy();
    expect(button('Importing').disabled).toBe(true);
    server.tell('imports');
    server.refuse('/api/imports/3/state', 404, 'This import is finished or was discarded.');
    await settle(fixture);
    expect(navigate).toHaveBeenLastCalledWith(['/people']);
  });
});
