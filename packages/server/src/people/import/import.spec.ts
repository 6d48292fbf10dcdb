import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { AsideRow, ImportView, KeptAside, ListHead, ListView } from '@baton/contract';
import { xlsx } from '../../../../core/src/testing/workbooks';
import { TestWorld } from '../../testing/test-world';

let world: TestWorld;
beforeAll(async () => {
  world = await TestWorld.start();
});
afterAll(() => world.close());

const upload = (content: string | Uint8Array, name = 'people.csv') =>
  fetch(`${world.url}/api/imports`, {
    method: 'POST',
    headers: { 'x-baton': '1', 'x-file-name': encodeURIComponent(name) },
    body: content as BodyInit,
  });
const take = async (content: string | Uint8Array) => (await (await upload(content)).json()) as ImportView;
const lists = () => world.api.get<ListView[]>('/lists');

describe('an import', () => {
  it('shows guesses and counts before anything is kept, and keeps the whole of it at once', async () => {
    const before = (await lists()).length;
    const view = await take(
      'Courriel;Prénom;Région\nodile@cedres.example;Odile;Nord\nbad;Bo;Sud\nODILE@cedres.example;O;Nord',
    );
    expect(view).toMatchObject({ rows: 3, delimiter: ';', counts: { new: 1, doubled: 1, invalid: 1 }, obstacle: '' });
    expect(view.columns.map((c) => c.role)).toEqual(['address', 'given_name', 'field']);
    expect(await lists()).toHaveLength(before);
    const { listId } = await world.api.post<{ listId: number }>(`/imports/${view.id}/keep`, { name: 'Vines' });
    expect(await world.rows(listId)).toMatchObject([
      { address: 'odile@cedres.example', fields: { givenname: 'Odile', région: 'Nord' } },
    ]);
    const aside = await world.api.get<AsideRow[]>(`/lists/${listId}/aside`);
    expect(aside.map((a) => a.line)).toEqual([3, 4]);
  });

  it('counts anew when a guess is corrected', async () => {
    const view = await take('mail,second\nana@x.example,ana@y.example\nbo@x.example,none');
    const roles = ['field', 'address'];
    const changed = await world.api.put<ImportView>(`/imports/${view.id}/columns`, { roles });
    expect(changed.counts).toMatchObject({ new: 1, invalid: 1 });
    await expect(world.api.put(`/imports/${view.id}/columns`, { roles: ['address', 'address'] })).rejects.toThrow(
      'Two columns',
    );
    await expect(world.api.put(`/imports/${view.id}/columns`, { roles: ['address'] })).rejects.toThrow(
      'Expected 2 columns',
    );
  });

  it('asks how dates are read that could be read two ways, before anybody gets one', async () => {
    const csv = 'email;send on\nana@d.example;3/4/2026\nbo@d.example;5/6/2026';
    const view = await take(csv);
    expect(view.columns[1]).toMatchObject({ role: 'send_on' });
    expect(view.dateQuestion).toEqual({
      ...{ column: 'send on', cell: '3/4/2026', chosen: null },
      ...{ dayFirst: '2026-04-03', monthFirst: '2026-03-04' },
    });
    expect(view.obstacle).toContain('could be read two ways: “3/4/2026”');
    await expect(world.api.post(`/imports/${view.id}/keep`, { name: 'Dates' })).rejects.toThrow('two ways');
    const said = await world.api.put<ImportView>(`/imports/${view.id}/reading`, { monthFirst: true });
    expect(said).toMatchObject({ obstacle: '', dateQuestion: { chosen: true } });
    const { listId } = await world.api.post<{ listId: number }>(`/imports/${view.id}/keep`, { name: 'Dates' });
    const { rows } = await world.store.pool.query<{ send_on: string }>(
      'select send_on::text from list_rows where list_id = $1 order by position',
      [listId],
    );
    expect(rows.map((r) => r.send_on)).toEqual(['2026-03-04', '2026-05-06']);
    expect((await take('email;send on\nana@d.example;3/4/2026\nbo@d.example;25/6/2026')).dateQuestion).toBeNull();
  });

  it('shows dates on which to send as they are read, keeps corrections, and remembers the answer for the next file', async () => {
    const csv = 'email;send on;note\nana@m.example;3/4/2026;a\nbo@m.example;5/6/2026;b';
    const view = await take(csv);
    await world.api.put(`/imports/${view.id}/cells`, { line: 3, column: 2, value: 'mended' });
    expect(view.sample[0]?.cells[1]).toBe('3/4/2026');
    const said = await world.api.put<ImportView>(`/imports/${view.id}/reading`, { monthFirst: true });
    expect(said.sample.map((s) => s.cells)).toEqual([
      ['ana@m.example', '2026-03-04', 'a'],
      ['bo@m.example', '2026-05-06', 'mended'],
    ]);
    expect(said.sample[0]?.before).toEqual([null, '3/4/2026', null]);
    await world.api.post(`/imports/${view.id}/keep`, { name: 'Sent on' });
    const next = await take(csv);
    expect(next).toMatchObject({ obstacle: '', dateQuestion: { chosen: true } });
    // What a file shows by itself is not asked of the memory.
    const own = await take('email;send on;note\nana@m.example;25/4/2026;a\nbo@m.example;5/6/2026;b');
    expect(own.sample.map((s) => s.cells[1])).toEqual(['2026-04-25', '2026-06-05']);
  });

  it('remembers an encoding for files that are none of Unicode', async () => {
    const file = (name: Buffer) =>
      Buffer.concat([Buffer.from('given name,e-mail\n'), name, Buffer.from(',x@n.example\n')]);
    const latin = file(Buffer.from([0x4a, 0x69, 0xf8, 0xed]));
    const view = await take(latin);
    await world.api.put(`/imports/${view.id}/reading`, { encoding: 'windows-1250' });
    await world.api.post(`/imports/${view.id}/keep`, { name: 'Czech' });
    expect((await take(latin)).sample[0]?.cells[0]).toBe('Jiří');
    expect((await take(file(Buffer.from('Zoë')))).sample[0]?.cells[0]).toBe('Zoë');
  });

  it('says which columns hold addresses, and how many', async () => {
    const view = await take('owner,email,name\nines@t.example,ana@o.example,Ana\nines@t.example,bo@o.example,Bo');
    expect(view.columns.map((c) => c.role)).toEqual(['field', 'address', 'full_name']);
    expect(view.addressCandidates).toEqual([
      { column: 0, rows: 2, different: 1 },
      { column: 1, rows: 2, different: 2 },
    ]);
    expect((await take('email,name\nana@o.example,Ana')).addressCandidates).toEqual([]);
  });

  it('makes both of two changes that are asked for at once', async () => {
    const view = await take('email,a,b\nana@p.example,1,2');
    const cell = (column: number) =>
      world.api.put<ImportView>(`/imports/${view.id}/cells`, { line: 2, column, value: `own ${column}` });
    await Promise.all([cell(1), cell(2)]);
    const { sample } = await world.api.get<ImportView>(`/imports/${view.id}`);
    expect(sample[0]?.cells).toEqual(['ana@p.example', 'own 1', 'own 2']);
  });

  it('guesses an encoding by its letters, and is told another one', async () => {
    const latin2 = Buffer.concat([
      Buffer.from('name,email\n'),
      Buffer.from([0x4a, 0x69, 0xf8, 0xed]),
      Buffer.from(',jiri@e.example\n'),
    ]);
    const view = await take(latin2);
    const asked = (v: ImportView) => [v.encodingQuestion?.encoding, v.encodingQuestion?.foreign];
    expect(view.encodingQuestion).not.toBeNull();
    const said = await world.api.put<ImportView>(`/imports/${view.id}/reading`, { encoding: 'windows-1250' });
    expect(asked(said)).toEqual(['windows-1250', ['Jiří']]);
    expect(said.sample[0]?.cells[0]).toBe('Jiří');
    await expect(world.api.put(`/imports/${view.id}/reading`, { encoding: 'utf-7' })).rejects.toThrow('encoding');
    expect((await take('name,email\nJiří,jiri@e.example')).encodingQuestion).toBeNull();
  });

  it('leaves out rows that a workbook hides, unless it is told otherwise', async () => {
    const row = (line: number, email: string, hidden = false) => ({ line, cells: [email], hidden });
    const file = xlsx({ A: [row(1, 'email'), row(2, 'ana@h.example'), row(3, 'bo@h.example', true)] });
    const view = await take(file);
    expect(view).toMatchObject({ kind: 'xlsx', rows: 1, hiddenRows: 1, withHidden: false });
    const said = await world.api.put<ImportView>(`/imports/${view.id}/reading`, { withHidden: true });
    expect(said).toMatchObject({ rows: 2, hiddenRows: 1, withHidden: true, counts: { new: 2 } });
  });

  it('says how fields are read, is told otherwise, and remembers it for the next such file', async () => {
    const csv = 'mail,Bestellt,Kisten,Plz\nana@k.example,ja,3,10\nbo@k.example,nein,4,20';
    const kinds = (v: ImportView) => v.columns.map((c) => c.kind);
    const view = await take(csv);
    expect(kinds(view)).toEqual(['text', 'tick', 'number', 'number']);
    expect(view.columns[1]).toMatchObject({ role: 'field', because: 'it holds yes and no' });
    const roles = view.columns.map((c) => c.role);
    const put = (body: object) => world.api.put<ImportView>(`/imports/${view.id}/columns`, body);
    const changed = await put({ roles, kinds: { 3: 'text' } });
    expect(changed.columns[3]).toMatchObject({ kind: 'text', because: 'as you said', sureness: 1 });
    expect(kinds(await put({ roles, kinds: { 2: 'text' } }))).toEqual(['text', 'tick', 'text', 'text']);
    await expect(put({ roles, kinds: { 2: 'colour' } })).rejects.toThrow('kinds');
    const { listId } = await world.api.post<{ listId: number }>(`/imports/${view.id}/keep`, { name: 'Kinds' });
    const head = await world.api.get<ListHead>(`/lists/${listId}`);
    expect(head.columns.map((c) => c.kind)).toEqual(['text', 'tick', 'text', 'text']);
    expect(kinds(await take(csv))).toEqual(['text', 'tick', 'text', 'text']);
  });

  it('shows what it would clean, and cleans what it is told to', async () => {
    const view = await take('email,name,company\nana@x.example,ANA REYES,Cedar GmbH\nbo@x.example,Bo MÃ¼ller,Salt');
    expect(view.columns.map((c) => [c.name, c.derived])).toContainEqual(['given name', true]);
    expect(view.sample[0]?.before).toEqual([null, 'ANA REYES', null, '', '']);
    expect(view.cleanings.map((c) => [c.cleaning, c.on, c.cells])).toContainEqual(['legal_form', false, 1]);
    const cleanings = ['broken_letters', 'legal_form'];
    const changed = await world.api.put<ImportView>(`/imports/${view.id}/cleanings`, { cleanings });
    expect(changed.sample.map((r) => r.cells)).toEqual([
      ['ana@x.example', 'ANA REYES', 'Cedar'],
      ['bo@x.example', 'Bo Müller', 'Salt'],
    ]);
    const { listId } = await world.api.post<{ listId: number }>(`/imports/${view.id}/keep`, { name: 'Clean' });
    const people = await world.rows(listId);
    expect(people[0]?.fields).toEqual({ email: 'ana@x.example', fullname: 'ANA REYES', company: 'Cedar' });
  });

  it('takes names out of the cells of addresses, and shows that it does', async () => {
    const view = await take('Kontakt;Ort\nAna Reyes <ana@n.example>;Kiel\nbo@n.example;Ulm');
    expect(view.columns.slice(2)).toMatchObject([
      { role: 'full_name', because: 'was beside the address', derived: true },
      { role: 'given_name', derived: true },
      { role: 'family_name', derived: true },
    ]);
    expect(view.sample[0]).toMatchObject({ cells: ['ana@n.example', 'Kiel', 'Ana Reyes', 'Ana', 'Reyes'] });
    expect(view.sample[0]?.before[0]).toBe('Ana Reyes <ana@n.example>');
    const { listId } = await world.api.post<{ listId: number }>(`/imports/${view.id}/keep`, { name: 'Named' });
    const head = await world.api.get<ListHead>(`/lists/${listId}`);
    expect(head.columns.map((c) => c.role)).toEqual(['address', 'field', 'full_name', 'given_name', 'family_name']);
    const [first] = await world.rows(listId);
    expect(first?.fields).toMatchObject({ fullname: 'Ana Reyes', givenname: 'Ana', familyname: 'Reyes' });
  });

  it('lets bad rows be mended where they stand, and misspelt domains at once', async () => {
    const good = [1, 2, 3].map((i) => `p${i}@coastcellars.example,x`);
    const view = await take(['email,note', ...good, 'tam@coastcelars.example,x', 'bad,x'].join('\n'));
    expect(view).toMatchObject({ counts: { new: 4, invalid: 1 }, checks: { misspelt: 1 } });
    const mended = await world.api.put<ImportView>(`/imports/${view.id}/cells`, {
      line: 6,
      column: 0,
      value: 'mended@x.example',
    });
    expect(mended.counts).toMatchObject({ new: 5, invalid: 0 });
    const all = await world.api.post<ImportView>(`/imports/${view.id}/mend-domains`);
    expect(all.checks.misspelt).toBe(0);
    expect(all.sample[3]?.cells[0]).toBe('tam@coastcellars.example');
    await expect(world.api.put(`/imports/${view.id}/cells`, { line: 99, column: 0, value: 'x' })).rejects.toThrow(
      'no cell',
    );
  });

  it('is kept once, also when it is pressed twice', async () => {
    const view = await take('email\nonce@x.example');
    const both = await Promise.allSettled(
      [1, 2].map(() => world.api.post(`/imports/${view.id}/keep`, { name: 'Twice' })),
    );
    expect(both.map((b) => b.status).sort()).toEqual(['fulfilled', 'rejected']);
    expect((await lists()).filter((l) => l.name === 'Twice')).toHaveLength(1);
  });

  it('knows people and suppressions it has met before', async () => {
    await world.importCsv('email\nknown@x.example');
    await world.api.post('/suppressions', { what: '@left.example', reason: '' });
    const view = await take('email\nKnown@X.example\nana@left.example\nnew@x.example');
    expect(view.counts).toMatchObject({ new: 2, known: 1, suppressed: 1 });
  });

  const utf16 = Uint8Array.from(
    Buffer.concat([Buffer.from([0xff, 0xfe]), Buffer.from('email,name\nana@x.example,Zoë', 'utf16le')]),
  );
  it.each([
    ['UTF-8 with a byte order mark', Buffer.from('\ufeffemail,name\nana@x.example,Zoë'), 'UTF-8'],
    ['UTF-16', utf16, 'UTF-16'],
    ['Windows-1252', Buffer.from('email,name\nana@x.example,Zo\xeb', 'latin1'), 'Windows-1252'],
    [
      'a mixture of two',
      Buffer.concat([Buffer.from('email,name\nbo@x.example,José\n'), Buffer.from('ana@x.example,Zo\xeb\n', 'latin1')]),
      'UTF-8 and Windows-1252 mixed',
    ],
  ])('reads %s', async (_, bytes, encoding) => {
    const view = await take(bytes);
    expect(view.encoding).toBe(encoding);
    expect(view.sample.some((r) => r.cells[1] === 'Zoë')).toBe(true);
  });

  it.each([
    ['nothing', '', 400, 'empty'],
    ['half a workbook', Uint8Array.from([0x50, 0x4b, 3, 4, 0, 0]), 400, 'not a workbook'],
    ['an old workbook', Uint8Array.from([0xd0, 0xcf, 0x11, 0xe0, 0xa1, 0xb1]), 415, 'XLS'],
    ['a picture', Uint8Array.from([0x89, 0x50, 0x4e, 0x47, 0, 1, 2, 3, 0, 0, 0, 0, 7]), 415, 'not a text file'],
    ['10,000 columns', Array.from({ length: 10_000 }, (_, i) => `c${i}`).join(','), 400, '10,000 columns'],
    ['50 MB without a line break', new Uint8Array(50 * 1024 * 1024).fill(65), 415, 'first line'],
    ['a workbook of 40 MB', Buffer.concat([Buffer.from('PK\x03\x04'), Buffer.alloc(40 * 1024 * 1024)]), 413, '32 MB'],
  ])('says what is wrong with %s, and keeps nothing', async (_, content, status, words) => {
    const count = async () =>
      (await world.store.pool.query('select count(*)::int as n from imports')).rows[0].n as number;
    const before = await count();
    const response = await upload(content);
    expect(response.status).toBe(status);
    expect(((await response.json()) as { detail: string }).detail).toContain(words);
    expect(await count()).toBe(before);
  });

  it('lets a row be mended whose quotation mark is never closed, before it is taken and after', async () => {
    const view = await take('email,note\na@q.example,"oops\nb@q.example,"oh\nc@q.example,fine');
    expect(view).toMatchObject({ rows: 3, counts: { new: 1, invalid: 2 } });
    const cell = { line: 2, column: 1, value: 'mended' };
    const mended = await world.api.put<ImportView>(`/imports/${view.id}/cells`, cell);
    expect(mended.counts).toMatchObject({ new: 2, invalid: 1 });
    expect(mended.sample[0]).toMatchObject({ line: 2, cells: ['a@q.example', 'mended'] });
    const { listId } = await world.api.post<{ listId: number }>(`/imports/${view.id}/keep`, { name: 'Odd' });
    const [row] = await world.api.get<KeptAside[]>(`/lists/${listId}/aside`);
    expect(row).toMatchObject({ line: 3, fits: true });
    await world.api.post(`/lists/${listId}/aside/${row?.id}/mend`, { address: 'b@q.example' });
    expect((await world.rows(listId)).map((p) => [p.address, p.fields['note']])).toContainEqual(['b@q.example', '"oh']);
  });

  it('says which columns there are when none holds addresses, and does not keep it', async () => {
    const view = await take('name,town\nAna,Carrow Bay');
    expect(view.obstacle).toContain('name, town');
    await expect(world.api.post(`/imports/${view.id}/keep`, { name: 'x' })).rejects.toThrow('No column holds');
    // Nothing lost: the address column can still be said.
    expect(await world.api.get(`/imports/${view.id}`)).toMatchObject({ rows: 1 });
  });

  it('keeps rows longer than the header aside, and fills short ones', async () => {
    const view = await take('email,name\na@x.example\nb@x.example,B,c,d');
    expect(view.counts).toMatchObject({ new: 1, invalid: 1 });
    expect(view.aside[0]?.reason).toContain('4 cells');
  });
});
