import { readAgenda } from '../../store/duties/agenda-rows';
import { WHOLE_LIST, type ListQuery, followingText } from '@baton/core';
import type {
  BriefView,
  CellEdit,
  CellsChanged,
  KeptAside,
  ListHead,
  ListView,
  MessageView,
  RemovedList,
  RowChoice,
} from '@baton/contract';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { stepOf, TestWorld } from '../../testing/test-world';
import { purgeDuty } from './purge-duty';

let world: TestWorld;
beforeAll(async () => {
  world = await TestWorld.start();
});
afterAll(() => world.close());

const CSV =
  'email,given name,company,region\nana@x.example,Ana,Cedar,North\nbo@x.example,Bo,Salt,South\ncy@x.example,Cy,,North';

const head = (id: number) => world.api.get<ListHead>(`/lists/${id}`);
const undo = (id: number) => world.api.post<{ label: string }>(`/lists/${id}/undo`);
const redo = (id: number) => world.api.post<{ label: string }>(`/lists/${id}/redo`);
const cells = (id: number, edits: CellEdit[]) => world.api.post<CellsChanged>(`/lists/${id}/cells`, { cells: edits });
const values = async (id: number, key: string) => (await world.rows(id)).map((p) => p.fields[key] ?? '');
const addresses = async (id: number, removed = false) => (await world.rows(id, {}, removed)).map((p) => p.address);
const rowIds = async (id: number) => (await world.rows(id)).map((p) => p.rowId);
const north: ListQuery = {
  ...WHOLE_LIST,
  filters: [{ key: 'region', kind: 'among', values: ['North'], not: false }],
};

describe('cells of a list', () => {
  it('are written as their column keeps them, and undone and done again as a whole', async () => {
    const id = await world.importCsv(CSV, 'Edited');
    const [ana, bo, cy] = await rowIds(id);
    const done = await cells(id, [
      { rowId: ana as number, key: 'company', value: '  Cedar & Daughters ' },
      { rowId: cy as number, key: 'company', value: 'Slate' },
      { rowId: bo as number, key: 'company', value: 'Salt' },
    ]);
    expect(done).toMatchObject({ changed: 2, refused: [] });
    expect(await values(id, 'company')).toEqual(['Cedar & Daughters', 'Salt', 'Slate']);
    expect(await head(id)).toMatchObject({ undo: '2 changes of company', redo: null, revision: done.revision });
    expect(await undo(id)).toMatchObject({ label: '2 changes of company' });
    expect(await values(id, 'company')).toEqual(['Cedar', 'Salt', '']);
    await redo(id);
    expect(await values(id, 'company')).toEqual(['Cedar & Daughters', 'Salt', 'Slate']);
    await undo(id);
    await cells(id, [{ rowId: bo as number, key: 'region', value: '' }]);
    await expect(redo(id)).rejects.toThrow('nothing to redo');
    await undo(id);
    await expect(undo(id)).rejects.toThrow('nothing to undo');
    expect(await values(id, 'region')).toEqual(['North', 'South', 'North']);
  });

  it('take only good addresses, nobody twice, and say which they did not take', async () => {
    const id = await world.importCsv(CSV, 'Addresses');
    const [ana, bo, cy] = await rowIds(id);
    const done = await cells(id, [
      { rowId: ana as number, key: '@address', value: 'Ana Reyes <ana.reyes@y.example>' },
      { rowId: bo as number, key: '@address', value: 'cy@x.example' },
      { rowId: cy as number, key: '@address', value: 'nobody' },
    ]);
    expect(done.refused.map((r) => [r.rowId, r.reason])).toEqual([
      [cy, '“nobody” has no @ sign'],
      [bo, 'cy@x.example is already on this list'],
    ]);
    expect(await addresses(id)).toEqual(['ana.reyes@y.example', 'bo@x.example', 'cy@x.example']);
    expect(await values(id, 'email')).toEqual(['ana.reyes@y.example', 'bo@x.example', 'cy@x.example']);
    await undo(id);
    expect(await addresses(id)).toEqual(['ana@x.example', 'bo@x.example', 'cy@x.example']);
  });

  it('are filled for those picked, or for all that a filter finds, if it still finds as many', async () => {
    const id = await world.importCsv(CSV, 'Filled');
    const fill = (choice: RowChoice, key: string, kind: string, value: string) =>
      world.api.post<CellsChanged>(`/lists/${id}/fill`, { choice, key, fill: { kind, value } });
    await world.api.post(`/lists/${id}/columns`, { name: 'tags', kind: 'tags', formula: null, after: null });
    await world.api.post(`/lists/${id}/columns`, { name: 'call', kind: 'tick', formula: null, after: 'company' });
    await fill({ query: north, count: 2 }, 'tags', 'tag', 'vines');
    await fill({ rows: (await rowIds(id)).slice(0, 2) }, 'tags', 'tag', 'Trial');
    expect(await values(id, 'tags')).toEqual(['vines, Trial', 'Trial', 'vines']);
    await fill({ query: WHOLE_LIST, count: 3 }, 'tags', 'untag', 'VINES');
    expect(await values(id, 'tags')).toEqual(['Trial', 'Trial', '']);
    await fill({ query: north, count: 2 }, 'call', 'set', 'x');
    expect(await values(id, 'call')).toEqual(['yes', '', 'yes']);
    await expect(fill({ query: north, count: 3 }, 'call', 'set', '')).rejects.toThrow('affect 2 rows, not 3');
    expect((await head(id)).columns.map((c) => c.name)).toEqual([
      'email',
      'given name',
      'company',
      'call',
      'region',
      'tags',
    ]);
  });
});

describe('columns of a list', () => {
  it('are put in order, hidden, kept as a kind, and taken out, each to be undone', async () => {
    const id = await world.importCsv('email,size,since\na@x.example,12,24.12.2026\nb@x.example,many,soon', 'Columns');
    const names = async () => (await head(id)).columns.map((c) => (c.hidden ? `(${c.name})` : c.name));
    await world.api.put(`/lists/${id}/columns`, {
      columns: [
        { key: 'since', hidden: false },
        { key: 'email', hidden: false },
        { key: 'size', hidden: true },
      ],
    });
    expect(await names()).toEqual(['since', 'email', '(size)']);
    await world.api.patch(`/lists/${id}/columns/since`, { kind: 'date' });
    expect(await values(id, 'since')).toEqual(['2026-12-24', 'soon']);
    await world.api.remove(`/lists/${id}/columns/since`);
    expect(await names()).toEqual(['email', '(size)']);
    for (let i = 0; i < 3; i++) await undo(id);
    expect(await names()).toEqual(['email', 'size', 'since']);
    expect(await values(id, 'since')).toEqual(['24.12.2026', 'soon']);
    await expect(world.api.remove(`/lists/${id}/columns/email`)).rejects.toThrow('A list needs its addresses');
  });

  it('are computed in the language of the messages, and again whenever a row changes', async () => {
    const id = await world.importCsv(CSV, 'Computed');
    const column = (formula: string, name = 'greeting') =>
      world.api.post(`/lists/${id}/columns`, { name, kind: 'text', formula, after: null });
    await column('{{ given_name | upcase }} of {{ company | default: "no house" }}');
    await column('{{ greeting | size }}', 'length');
    expect(await values(id, 'greeting')).toEqual(['ANA of Cedar', 'BO of Salt', 'CY of no house']);
    const [ana] = await rowIds(id);
    await cells(id, [{ rowId: ana as number, key: 'givenname', value: 'Annabel' }]);
    expect((await values(id, 'greeting'))[0]).toBe('ANNABEL of Cedar');
    expect(await values(id, 'length')).toEqual(['16', '10', '14']);
    const refused = await cells(id, [{ rowId: ana as number, key: 'greeting', value: 'x' }]);
    expect(refused.refused[0]?.reason).toContain('is computed');
    await world.api.patch(`/lists/${id}/columns/greeting`, { formula: '{{ given_name }}' });
    expect(await values(id, 'length')).toEqual(['7', '2', '2']);
    await undo(id);
    await undo(id);
    expect(await values(id, 'greeting')).toEqual(['ANA of Cedar', 'BO of Salt', 'CY of no house']);
    await expect(column('{{ given_name', 'bad')).rejects.toThrow('of the formula');
  });

  it('are split by what stands between, or by name', async () => {
    const id = await world.importCsv(
      'email,who,place\na@x.example,Ilse van der Meer,Haven; Coast\nb@x.example,Bo,Hill',
      'Split',
    );
    await world.api.post(`/lists/${id}/columns/place/split`, { by: { kind: 'separator', separator: ';' } });
    expect([await values(id, 'place1'), await values(id, 'place2')]).toEqual([
      ['Haven', 'Hill'],
      ['Coast', ''],
    ]);
    await world.api.post(`/lists/${id}/columns/who/split`, { by: { kind: 'name' } });
    expect(await values(id, 'familyname')).toEqual(['van der Meer', '']);
    const nothing = world.api.post(`/lists/${id}/columns/place1/split`, { by: { kind: 'separator', separator: '|' } });
    await expect(nothing).rejects.toThrow('nothing was split');
  });

  it('take what uses them along when they are renamed', async () => {
    const id = await world.importCsv(CSV, 'Renamed');
    const other = await world.importCsv('email,region\nz@x.example,East', 'Other');
    const own = await world.message({
      name: 'Own',
      subject: 'For {{ company }}',
      body: '{% if company %}{{ company | upcase }}{% endif %}',
    });
    const shared = await world.message({ name: 'Shared', subject: '{{ region }}', body: 'x' });
    const mailbox = await world.connect('renamer');
    const step = (messageId: number) => [stepOf(messageId)];
    await world.begin({ listId: id, mailboxIds: [mailbox], name: 'Runs', steps: step(own), leaveOutBlank: true });
    await world.draft({ listId: other, mailboxIds: [mailbox], name: 'Elsewhere', steps: step(shared) });
    await world.api.post(`/lists/${id}/segments`, { name: 'North', query: north });
    await world.api.patch(`/lists/${id}/columns/company`, { name: 'Estate name' });
    await world.api.patch(`/lists/${id}/columns/region`, { name: 'area' });
    expect(await values(id, 'estatename')).toEqual(['Cedar', 'Salt', '']);
    const message = async (name: string) =>
      (await world.api.get<MessageView[]>('/messages')).find((m) => m.name === name);
    const renamed = await message('Own');
    expect(renamed?.content.subject).toBe('For {{ Estate name }}');
    expect(renamed && followingText(renamed.content)).toBe('{% if Estate_name %}{{ Estate name | upcase }}{% endif %}');
    // Another list has a region too, and a campaign writes the message to it.
    expect((await message('Shared'))?.content.subject).toBe('{{ region }}');
    const { segments } = await head(id);
    expect(segments).toMatchObject([{ people: 2, query: { filters: [{ key: 'area' }] } }]);
    await world.drive('2026-11-03T18:00:00Z');
    expect((await world.inbox('ana@x.example')).map((m) => m.subject)).toEqual(['For Cedar']);
    await undo(id);
    await undo(id);
    expect((await message('Own'))?.content.subject).toBe('For {{ company }}');
    expect(await values(id, 'company')).toEqual(['Cedar', 'Salt', '']);
    await expect(world.api.patch(`/lists/${id}/columns/company`, { name: 'Region' })).rejects.toThrow('already');
    await expect(world.api.patch(`/lists/${id}/columns/company`, { name: '2026' })).rejects.toThrow(
      'begins with a letter',
    );
  });
});

describe('rows and lists that were deleted', () => {
  it('come back, people only if they have not come onto the list again', async () => {
    const id = await world.importCsv(CSV, 'Trash');
    const [ana, bo] = await rowIds(id);
    const removed = await world.api.post(`/lists/${id}/remove-rows`, { choice: { rows: [ana, bo] } });
    expect(removed).toMatchObject({ changed: 2, stillWrittenTo: 0 });
    expect([await addresses(id), await addresses(id, true)]).toEqual([
      ['cy@x.example'],
      ['ana@x.example', 'bo@x.example'],
    ]);
    expect((await head(id)).removed).toBe(2);
    const [cy] = await rowIds(id);
    await cells(id, [{ rowId: cy as number, key: '@address', value: 'bo@x.example' }]);
    const back = await world.api.post<CellsChanged>(`/lists/${id}/restore-rows`, {
      choice: { query: WHOLE_LIST, count: 2 },
    });
    expect(back).toMatchObject({ changed: 1, refused: [{ reason: 'bo@x.example is already on this list' }] });
    expect(await addresses(id)).toEqual(['ana@x.example', 'bo@x.example']);
  });

  it('are still written to by the campaigns that had begun', async () => {
    const mailbox = await world.connect('remover');
    const id = await world.people({ 'kept@x.example': 'silent' });
    await world.begin({ listId: id, mailboxIds: [mailbox], name: 'Goes on', startDate: '2026-11-05' });
    const removed = await world.api.post(`/lists/${id}/remove-rows`, { choice: { rows: await rowIds(id) } });
    expect(removed).toMatchObject({ stillWrittenTo: 1 });
  });

  it('are lists too', async () => {
    const id = await world.importCsv(CSV, 'Gone');
    await world.api.remove(`/lists/${id}`);
    const names = async () => (await world.api.get<ListView[]>('/lists')).map((l) => l.name);
    expect(await names()).not.toContain('Gone');
    await expect(head(id)).rejects.toThrow('deleted');
    expect(await world.api.get<RemovedList[]>('/lists/removed')).toMatchObject([{ name: 'Gone', people: 3 }]);
    await world.api.post(`/lists/${id}/restore`);
    expect(await names()).toContain('Gone');
  });

  it('are gone for good after 30 days, but for whom a campaign has written to', async () => {
    const id = await world.importCsv(CSV, 'For good');
    await world.api.post(`/lists/${id}/remove-rows`, { choice: { rows: (await rowIds(id)).slice(0, 1) } });
    const gone = await world.importCsv(CSV, 'Whole');
    await world.api.remove(`/lists/${gone}`);
    const { rows } = await world.store.pool.query<{ now_ms: string }>('select now_ms from clock');
    const removedAt = Number(rows[0]?.now_ms);
    const duty = purgeDuty(world.store);
    const agenda = await readAgenda(world.store.db, { firstMs: 0, againMs: 0 }, 0);
    const due = removedAt + 30 * 86_400_000;
    expect(await duty.nextDue(removedAt, agenda)).toBe(due);
    await duty.run(due - 1, agenda);
    expect(await addresses(id, true)).toEqual(['ana@x.example']);
    await duty.run(due, agenda);
    expect(await addresses(id, true)).toEqual([]);
    await expect(world.api.post(`/lists/${gone}/restore`)).rejects.toThrow('more than 30 days ago');
    const kept = (await world.api.get<ListView[]>('/lists')).find((l) => l.name === 'People');
    expect(await addresses(kept?.id as number, true)).toEqual(['kept@x.example']);
  });
});

describe('a verifier’s results', () => {
  it('say whom a campaign writes to, and ask about whom they doubt', async () => {
    const id = await world.importCsv(
      'email,email status\na@v.example,valid\nb@v.example,invalid\nc@v.example,catch-all\nd@v.example,catch-all',
      'Checked',
    );
    const mailbox = await world.connect('checker');
    const messageId = await world.message({ subject: 'Kelp', body: 'Hello' });
    const steps = [stepOf(messageId)];
    const brief = await world.draft({ listId: id, mailboxIds: [mailbox], name: 'Checked', steps });
    expect(brief.forecast).toMatchObject({ people: 3, leftOut: [{ reason: 'verification says invalid', people: 1 }] });
    expect(brief.forecast.obstacles[0]).toMatchObject({
      kind: 'fix',
      text: 'A verifier is unsure about 2 addresses (catch-all)',
      remedy: { act: 'leave_out_doubtful' },
    });
    const out = await world.draft({ listId: id, mailboxIds: [mailbox], name: 'Out', steps, leaveOutDoubtful: true });
    expect(out.forecast.people).toBe(1);
    await world.api.patch(`/lists/${id}/columns/verification`, {
      verdicts: { 'Catch-all': 'use', valid: 'leave_out' },
    });
    const again = await world.api.get<BriefView>(`/campaigns/${brief.id}`);
    expect(again.forecast.people).toBe(2);
    expect(again.forecast.obstacles.some((o) => o.remedy.act === 'leave_out_doubtful')).toBe(false);
    await undo(id);
    expect((await world.api.get<BriefView>(`/campaigns/${brief.id}`)).forecast.people).toBe(3);
  });
});

describe('rows set aside', () => {
  it('come onto the list with another address', async () => {
    const csv = 'email,given name,country\nana@k.example,Ana,\nbo@,Bo,Portugal\nana@k.example,Cy,\nd@k.example,D,x,y';
    const id = await world.importCsv(csv, 'Aside');
    const aside = () => world.api.get<KeptAside[]>(`/lists/${id}/aside`);
    const [bo, cy, wide] = await aside();
    const mend = (row: KeptAside | undefined, address: string) =>
      world.api.post(`/lists/${id}/aside/${row?.id}/mend`, { address });
    await expect(mend(bo, 'still bad')).rejects.toThrow('no @ sign');
    await expect(mend(cy, 'ANA@k.example')).rejects.toThrow('is already on this list');
    await expect(mend(wide, 'd@k.example')).rejects.toThrow('does not fit the columns');
    expect(await aside()).toHaveLength(3);
    await mend(bo, 'bo@k.example');
    expect((await world.rows(id))[1]).toMatchObject({
      address: 'bo@k.example',
      zone: 'Europe/Lisbon',
      fields: { email: 'bo@k.example', givenname: 'Bo' },
    });
    expect((await aside()).map((a) => a.line)).toEqual([4, 5]);
    expect(await undo(id)).toMatchObject({ label: 'line 3 corrected' });
    expect(await addresses(id)).toEqual(['ana@k.example']);
  });

  it('go when the person they were a double of is erased', async () => {
    const id = await world.importCsv('email,note\nana@er.example,x\nANA@er.example,y\nbad,z', 'Erased');
    const [ana] = await world.rows(id);
    await world.api.remove(`/people/${ana?.contactId}`);
    expect((await world.api.get<KeptAside[]>(`/lists/${id}/aside`)).map((a) => a.cells[0])).toEqual(['bad']);
  });
});

describe('segments and sets', () => {
  it('are counted anew whenever the list changes, and are whom a campaign writes to', async () => {
    const id = await world.importCsv(CSV, 'Segmented');
    const { id: segmentId } = await world.api.post<{ id: number }>(`/lists/${id}/segments`, {
      name: 'North',
      query: north,
    });
    await expect(world.api.post(`/lists/${id}/segments`, { name: 'north', query: north })).rejects.toThrow('already');
    const mailbox = await world.connect('segmenter');
    const brief = await world.draft({ listId: id, segmentId, mailboxIds: [mailbox], name: 'Northern' });
    expect(brief).toMatchObject({ segmentWords: 'region is North', forecast: { people: 2 } });
    await cells(id, [{ rowId: (await rowIds(id))[1] as number, key: 'region', value: 'north' }]);
    expect((await head(id)).segments).toMatchObject([{ name: 'North', people: 3 }]);
    expect(await world.api.get(`/campaigns/${brief.id}`)).toMatchObject({ forecast: { people: 3 } });
    await expect(world.api.remove(`/segments/${segmentId}`)).rejects.toThrow('“Northern”');
  });

  it('of lists are people on any, on all, or on the first alone', async () => {
    const a = await world.importCsv('email,company\nana@s.example,Cedar\nbo@s.example,', 'A');
    const b = await world.importCsv('email,company,region\nbo@s.example,Salt,South\ncy@s.example,Slate,North', 'B');
    const combine = async (how: string, listIds: number[]) => {
      const { listId } = await world.api.post<{ listId: number }>('/lists/combine', {
        name: `${how} of two`,
        how,
        listIds,
      });
      return (await world.rows(listId)).map((p) => [p.address, p.fields['company'] ?? '']);
    };
    expect(await combine('union', [a, b])).toEqual([
      ['ana@s.example', 'Cedar'],
      ['bo@s.example', 'Salt'],
      ['cy@s.example', 'Slate'],
    ]);
    expect(await combine('intersection', [a, b])).toEqual([['bo@s.example', 'Salt']]);
    expect(await combine('difference', [a, b])).toEqual([['ana@s.example', 'Cedar']]);
    expect(await combine('difference', [b, a])).toEqual([['cy@s.example', 'Slate']]);
  });
});
