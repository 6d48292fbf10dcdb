import { readPeopleFile, WHOLE_LIST } from '@baton/core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { TestWorld } from '../../testing/test-world';

let world: TestWorld;
let listId: number;
beforeAll(async () => {
  world = await TestWorld.start();
  for (const [who, persona] of Object.entries({ 'keen@x.example': 'keen', 'gone@x.example': 'unknown' }))
    await world.desk.call('PUT', `/people/${encodeURIComponent(who)}`, { persona });
  listId = await world.importCsv(
    'email,given name,acres,note\nkeen@x.example,Ana,12,=1+1\ngone@x.example,Bo,"3,5",x\nlast@x.example,Cy,,y',
  );
  const mailbox = await world.connect('ines');
  await world.begin({ listId, mailboxIds: [mailbox], name: 'Vines' });
  await world.drive('2026-11-04T08:00:00Z');
});
afterAll(() => world.close());

async function file(format: string, over: object = {}): Promise<{ name: string; bytes: Buffer }> {
  const response = await fetch(`${world.url}/api/lists/${listId}/file`, {
    method: 'POST',
    headers: { 'x-baton': '1', 'content-type': 'application/json' },
    body: JSON.stringify({ what: { query: WHOLE_LIST }, format, ...over }),
  });
  expect(response.status).toBe(200);
  return {
    name: response.headers.get('content-disposition') ?? '',
    bytes: Buffer.from(await response.arrayBuffer()),
  };
}

const rowsOf = (bytes: Buffer) => readPeopleFile(bytes).table.rows.map((r) => r.cells);

describe('a list as a file', () => {
  it('is a CSV in which no cell is run, in the order asked for', async () => {
    const sort = [{ key: 'givenname', descending: true }];
    const { name, bytes } = await file('csv', { what: { query: { ...WHOLE_LIST, sort } } });
    expect(name).toContain('people.csv');
    expect(bytes.toString()).toBe(
      '\ufeffemail,given name,acres,note\r\nlast@x.example,Cy,,y\r\ngone@x.example,Bo,"3,5",x\r\nkeen@x.example,Ana,12,\'=1+1\r\n',
    );
  });

  it('has what became of each beside it, if asked for', async () => {
    const { bytes } = await file('csv', { outcomes: true });
    const [head, keen, gone] = bytes.toString().split('\r\n');
    expect(head).toBe(
      '\ufeffemail,given name,acres,note,campaign,state,reason,mailbox,sent,follow-up 1 sent,replied,outcome,opens,first opened,last opened,clicks,links followed',
    );
    expect(keen).toMatch(
      /,Vines,replied,.*,ines@tidewaterkelp\.example,2026-11-02 \d\d:\d\d,,2026-11-0\d \d\d:\d\d,,,,,,$/,
    );
    expect(gone).toContain(',Vines,bounced,');
  });

  it.each(['tsv', 'ods'])('is read again as it was, as %s', async (format) => {
    const { name, bytes } = await file(format);
    expect(name).toContain(`people.${format}`);
    const read = readPeopleFile(bytes);
    expect(read.table.header).toEqual(['email', 'given name', 'acres', 'note']);
    expect(read.table.rows.map((r) => r.cells)).toEqual([
      ['keen@x.example', 'Ana', '12', '=1+1'],
      ['gone@x.example', 'Bo', format === 'tsv' ? '3,5' : '3.5', 'x'],
      ['last@x.example', 'Cy', '', 'y'],
    ]);
  });

  it('is a sheet whose numbers are numbers and whose texts are never run', async () => {
    const { name, bytes } = await file('xlsx');
    expect(name).toContain('people.xlsx');
    expect(rowsOf(bytes)).toEqual([
      ['keen@x.example', 'Ana', '12', '=1+1'],
      ['gone@x.example', 'Bo', '3.5', 'x'],
      ['last@x.example', 'Cy', '', 'y'],
    ]);
  });

  it('is vCards, of those picked', async () => {
    const rows = (await world.rows(listId)).slice(1, 2).map((p) => p.rowId);
    const { name, bytes } = await file('vcard', { what: { rows } });
    expect(name).toContain('people.vcf');
    expect(bytes.toString().match(/BEGIN:VCARD/g)).toHaveLength(1);
    expect(bytes.toString()).toContain('NOTE:acres: 3\\,5\\nnote: x');
  });
});
