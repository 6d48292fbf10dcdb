import type { AsideRow, CellsChanged, ImportTaken, ImportView, ListHead, ListView } from '@baton/contract';
import { pino } from 'pino';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { withLock, LOCKS } from '../../store/database';
import { TestWorld } from '../../testing/test-world';
import { systemClock } from '../../time/system-clock';
import { workspaceClock } from '../../time/workspace-clock';
import { takeWantedImports } from './import-job';

let world: TestWorld;
beforeAll(async () => {
  world = await TestWorld.start();
});
afterAll(() => world.close());

const ROWS = 15_000;
const PAD = 'kelp '.repeat(130).trim();

/**
 * About 10 MB; every thousandth row is bad or a double, every third has letters that no plain line has, and two have a
 * control character that strayed in.
 */
function largeCsv(from = 0, to = ROWS): string {
  const rows = ['Courriel;Nom complet;Région;note'];
  for (let i = from; i < to; i++) {
    const address =
      i % 1000 === 7 ? 'bad' : i % 1000 === 8 ? `p${from}@grove0.example` : `p${i}@grove${i % 50}.example`;
    const stray = i === 20 || i === 12_345 ? '\u0000' : '';
    rows.push(`${address};${i % 3 === 0 ? 'Ana GARCÍA' : 'Bo Vidal'};${i % 2 === 0 ? 'Nord' : 'Sud'};${stray}${PAD}`);
  }
  return rows.join('\n');
}

const work = () =>
  takeWantedImports(world.store, workspaceClock(world.store.db, systemClock), pino({ level: 'silent' }));
const upload = (csv: string, name = 'large.csv') => world.api.upload<ImportView>('/imports', name, csv);
const keep = (id: number) => world.api.post<ImportTaken>(`/imports/${id}/keep`, { name: 'Large' });
const view = (id: number) => world.api.get<ImportView>(`/imports/${id}`);
const into = (id: number, listId: number, how: string) =>
  world.api.put<ImportView>(`/imports/${id}/into`, { into: { kind: 'list', listId, how } });
const listNamed = async (name: string) => (await world.api.get<ListView[]>('/lists')).find((l) => l.name === name);

describe('a large file', () => {
  it('is shown by its head, and taken whole in the background as it was shown', async () => {
    const shown = await upload(largeCsv());
    expect(shown).toMatchObject({ kind: 'delimited', delimiter: ';', state: 'open' });
    expect(shown.share).toBeLessThan(0.2);
    expect(shown.rows).toBeLessThan(ROWS / 4);
    expect(shown.columns.map((c) => c.role)).toContain('given_name');
    expect(await keep(shown.id)).toEqual({ listId: null });
    await expect(keep(shown.id)).rejects.toThrow('already running');
    await expect(world.api.put(`/imports/${shown.id}/cleanings`, { cleanings: [] })).rejects.toThrow('being taken');
    expect(await work()).toBe(1);
    const list = await listNamed('Large');
    expect(list).toMatchObject({ people: ROWS - 30, aside: 30, source: 'large.csv' });
    const [first] = await world.rows(list?.id as number);
    expect(first).toMatchObject({ address: 'p0@grove0.example', fields: { givenname: 'Ana', région: 'Nord' } });
    const { rows: odd } = await world.store.pool.query<{ n: number }>(
      `select count(*)::int as n from list_rows r join contacts c on c.id = r.contact_id
       where list_id = $1 and fields <> jsonb_build_object('courriel', c.address, 'note', $2::text, 'fullname', fields->>'fullname',
         'givenname', split_part(fields->>'fullname', ' ', 1), 'familyname', split_part(fields->>'fullname', ' ', 2),
         'région', case when substr(split_part(c.key, '@', 1), 2)::int % 2 = 0 then 'Nord' else 'Sud' end)`,
      [list?.id, PAD],
    );
    expect(odd[0]?.n).toBe(0);
    await expect(view(shown.id)).rejects.toThrow('finished or was discarded');
    const { rows } = await world.store.pool.query<{ n: number }>(
      `select count(*)::int as n from pg_tables where tablename like 'import_rows_%'`,
    );
    expect(rows[0]?.n).toBe(0);
  });

  it('keeps a row aside whose quotation mark is never closed, and has a column for names that come late', async () => {
    const more = 'z@x.example;"never closed;x;y\nLate Comer <late@x.example>;b;c\nlast@x.example;"b";c';
    const csv = `${largeCsv(300_000, 315_000).replaceAll('Nom complet', 'x1')}\n${more}`;
    const { id } = await upload(csv, 'late.csv');
    await world.api.put(`/imports/${id}/columns`, { roles: ['address', 'field', 'field', 'ignore'] });
    await keep(id);
    await work();
    const list = (await world.api.get<ListView[]>('/lists')).find((l) => l.source === 'late.csv') as ListView;
    expect(list).toMatchObject({ people: ROWS - 30 + 2, aside: 31 });
    const aside = await world.api.get<AsideRow[]>(`/lists/${list.id}/aside`);
    expect(aside.at(-1)).toMatchObject({ line: ROWS + 2, reason: expect.stringContaining('never closed') });
    const head = await world.api.get<ListHead>(`/lists/${list.id}`);
    expect(head.columns.map((c) => [c.name, c.role])).toContainEqual(['full name', 'full_name']);
    const { rows } = await world.store.pool.query<{ key: string; name: string }>(
      `select c.key, fields->>'fullname' as name from list_rows r join contacts c on c.id = r.contact_id
       where list_id = $1 and fields ? 'fullname'`,
      [list.id],
    );
    expect(rows).toEqual([{ key: 'late@x.example', name: 'Late Comer' }]);
  });

  it('leaves nothing behind when it is cancelled', async () => {
    const { id } = await upload(largeCsv(0, 15_000), 'cancelled.csv');
    await keep(id);
    await world.api.remove(`/imports/${id}`);
    await work();
    await expect(view(id)).rejects.toThrow('finished or was discarded');
    expect(await world.api.get('/large-imports')).toEqual([]);
  });

  it('is begun anew when the worker that took it has died, and by one worker only', async () => {
    const { id } = await upload(largeCsv(100_000, 115_000), 'crashed.csv');
    await keep(id);
    // As a worker leaves it that dies in the middle: rows laid ready, the import still wanted.
    await world.store.pool.query(`create table import_rows_${id} (line int)`);
    await withLock(world.store, LOCKS.importing, id, async () => {
      expect(await work()).toBe(0);
    });
    expect(await work()).toBe(1);
    expect((await world.api.get<ListView[]>('/lists')).filter((l) => l.source === 'crashed.csv')).toHaveLength(1);
  });

  it('says what is wrong further down, and keeps nothing of it', async () => {
    const csv = `${largeCsv(200_000, 215_000)}\nz@x.example;${'\u0001'.repeat(200_000)};x;y\nq@x.example;a;b;c`;
    const { id } = await upload(csv, 'open.csv');
    await keep(id);
    await work();
    expect(await view(id)).toMatchObject({ state: 'failed', problem: expect.stringContaining('not a text file') });
    expect((await world.api.get<ListView[]>('/lists')).some((l) => l.source === 'open.csv')).toBe(false);
    await world.api.remove(`/imports/${id}`);
  });

  it('is counted before it changes a list that is there', async () => {
    const list = (await listNamed('Large')) as ListView;
    const { id } = await upload(largeCsv(12_000, 27_000), 'more.csv');
    expect(await into(id, list.id, 'update')).toMatchObject({ effect: null });
    await keep(id);
    await work();
    const counted = await view(id);
    expect(counted).toMatchObject({ state: 'counted' });
    expect(counted.effect?.added).toBeGreaterThan(11_900);
    await keep(id);
    await work();
    expect((await listNamed('Large'))?.people).toBe(list.people + (counted.effect?.added ?? 0));
    await world.api.post(`/lists/${list.id}/undo`);
    expect((await listNamed('Large'))?.people).toBe(list.people);
  });
});

describe('an import into a list', () => {
  const OLD = 'email,name,region,tags\nana@i.example,Ana,North,x\nbo@i.example,Bo,South,y\ncy@i.example,Cy,West,z';
  const NEW = 'mail,region,name,acres\nbo@i.example,,Bob,3\nana@i.example,North,Ana,4\ndee@i.example,East,Dee,5';
  const state = async (listId: number) =>
    (await world.rows(listId)).map((p) => [
      p.address[0],
      p.fields['fullname'] ?? p.fields['name'] ?? '',
      p.fields['region'] ?? '',
      p.fields['tags'] ?? '',
      p.fields['acres'] ?? '',
    ]);
  const imported = async (how: string) => {
    const listId = await world.importCsv(OLD, how);
    await world.api.post(`/lists/${listId}/columns`, {
      name: 'greeting',
      kind: 'text',
      formula: 'Hi {{ full_name | default: name }}, {{ acres | default: "?" }}',
      after: null,
    });
    const { id } = await upload(NEW, 'new.csv');
    const shown = await into(id, listId, how);
    await keep(id);
    return { listId, effect: shown.effect };
  };

  it('adds who is not there, and says beforehand how many that are', async () => {
    const { listId, effect } = await imported('add');
    expect(effect).toEqual({ added: 1, there: 2, off: 0 });
    expect(await state(listId)).toEqual([
      ['a', 'Ana', 'North', 'x', ''],
      ['b', 'Bo', 'South', 'y', ''],
      ['c', 'Cy', 'West', 'z', ''],
      ['d', 'Dee', 'East', '', '5'],
    ]);
    expect((await world.rows(listId))[3]?.fields['greeting']).toBe('Hi Dee, 5');
    expect((await world.api.get<ListHead>(`/lists/${listId}`)).columns.map((c) => c.name)).toContain('acres');
  });

  it('brings those that are there up to date; blanks change nothing; one undo takes it all back', async () => {
    const { listId, effect } = await imported('update');
    expect(effect).toEqual({ added: 1, there: 2, off: 0 });
    expect(await state(listId)).toEqual([
      ['a', 'Ana', 'North', 'x', '4'],
      ['b', 'Bob', 'South', 'y', '3'],
      ['c', 'Cy', 'West', 'z', ''],
      ['d', 'Dee', 'East', '', '5'],
    ]);
    expect((await world.rows(listId)).map((p) => p.fields['greeting'])).toContain('Hi Bob, 3');
    const { undo } = await world.api.get<ListHead>(`/lists/${listId}`);
    expect(undo).toBe('3 rows from new.csv');
    await world.api.post(`/lists/${listId}/undo`);
    expect(await state(listId)).toEqual([
      ['a', 'Ana', 'North', 'x', ''],
      ['b', 'Bo', 'South', 'y', ''],
      ['c', 'Cy', 'West', 'z', ''],
    ]);
    expect((await world.rows(listId)).map((p) => p.fields['greeting'])).toContain('Hi Bo, ?');
    await world.api.post(`/lists/${listId}/redo`);
    expect((await state(listId)).map((r) => r[1])).toEqual(['Ana', 'Bob', 'Cy', 'Dee']);
  });

  it('replaces the whole list by the file, and keeps what only the list knows', async () => {
    const { listId, effect } = await imported('replace');
    expect(effect).toEqual({ added: 1, there: 2, off: 1 });
    expect(await state(listId)).toEqual([
      ['a', 'Ana', 'North', 'x', '4'],
      ['b', 'Bob', '', 'y', '3'],
      ['d', 'Dee', 'East', '', '5'],
    ]);
    const back = await world.api.post<CellsChanged>(`/lists/${listId}/undo`);
    expect(back.changed).toBe(4);
    expect((await state(listId)).map((r) => r[2])).toEqual(['North', 'South', 'West']);
  });

  it('remembers what was said of a file with the same header', async () => {
    const csv = (who: string) => `kontakt,wer,wo\n${who}@m.example,${who},Haven`;
    const first = await upload(csv('ana'));
    const roles = ['address', 'given_name', 'company'];
    await world.api.put(`/imports/${first.id}/columns`, { roles });
    await world.api.put(`/imports/${first.id}/cleanings`, { cleanings: ['spaces'] });
    await keep(first.id);
    const second = await upload(csv('bo'));
    expect(second.columns.map((c) => [c.role, c.because])).toEqual(roles.map((r) => [r, 'as last time']));
    const changed = await world.api.put<ImportView>(`/imports/${second.id}/columns`, {
      roles: ['address', 'given_name', 'ignore'],
    });
    expect(changed.columns[2]?.because).toBe('as you said');
  });
});
