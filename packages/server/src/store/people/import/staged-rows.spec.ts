import { createHash } from 'node:crypto';
import { setTimeout } from 'node:timers/promises';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { TestWorld } from '../../../testing/test-world';
import type { StagedRow } from './copy-writer';
import { stageRows, storeStagedContacts, type Staging } from './staged-rows';

let world: TestWorld;
beforeAll(async () => {
  world = await TestWorld.start();
});
afterAll(() => world.close());

const IMPORT = 9001;
const row = (key: string, line: number, fields: Record<string, string> = {}): StagedRow => {
  const domain = key.slice(key.indexOf('@') + 1);
  return { line, address: key, key, domain, zone: null, sendOn: null, fields, notes: [], plain: null, at: 0 };
};

async function stage(
  rows: StagedRow[],
  cellKeys: (string | null)[] = [],
  newList: Staging['newList'] = null,
): Promise<void> {
  await stageRows(
    world.store,
    { importId: IMPORT, newList },
    (async function* () {
      yield rows;
    })(),
    cellKeys,
  );
}

describe('rows laid ready by COPY', () => {
  it('hold what was in them, to the letter', async () => {
    const odd = [
      'plain',
      'say "hello"',
      String.raw`C:\kelp\new`,
      'two\nlines\tand a tab\r\n',
      'Ελένη 李 🌿 שלום',
      '\u2028\u00ad\u200b',
      String.raw`\N`,
      '{"a":1}',
    ];
    const fields = Object.fromEntries(odd.map((value, i) => [`f${i}`, value]));
    await stage([row('odd@x.example', 1, { ...fields, 'ключ "x"\\': 'v' })]);
    const { rows } = await world.store.pool.query<{ fields: object }>(`select fields from import_rows_${IMPORT}`);
    expect(rows[0]?.fields).toEqual({ ...fields, 'ключ "x"\\': 'v' });
  });
});

describe('rows that are bytes', () => {
  it('are their cells by the columns that are taken, without the blank ones', async () => {
    const bytes = Buffer.from('Ana@x.example,two,,three');
    const plain = { bytes, bounds: Int32Array.from([9, 9, 9, 9, 0, 13, 14, 17, 18, 18, 19, 24]) };
    const cells = ['email', null, 'blank', 'ключ'];
    const whole = { ...row('ana@x.example', 7), plain, at: 4 };
    await stage(
      [
        { ...whole, address: 'Ana@x.example' },
        { ...whole, line: 8, notes: ['shared'], zone: 'Europe/Dublin' },
        { ...whole, line: 9 },
        { ...whole, line: 10, plain: { bytes, bounds: new Int32Array(8) }, at: 0 },
      ],
      cells,
    );
    const { rows } = await world.store.pool.query(
      `select position as line, key, address, domain, zone, send_on, notes, fields
       from import_rows_${IMPORT} s join import_people_${IMPORT} p on p.id = s.contact_id order by position`,
    );
    const stored = { key: 'ana@x.example', domain: 'x.example', send_on: null };
    const fields = { email: 'Ana@x.example', ключ: 'three' };
    expect(rows).toEqual([
      { ...stored, line: 7, address: 'Ana@x.example', zone: null, notes: [], fields },
      { ...stored, line: 8, address: null, zone: 'Europe/Dublin', notes: ['shared'], fields },
      { ...stored, line: 9, address: null, zone: null, notes: [], fields },
      { ...stored, line: 10, address: null, zone: null, notes: [], fields: {} },
    ]);
  });
});

describe('cells of any length', () => {
  it('are stored to the letter, up to the last byte of a piece and beyond the room that was made for them', async () => {
    const letters = Array.from({ length: 94 }, (_, i) => String.fromCharCode(0x21 + i)).filter(
      (c) => !'"\\'.includes(c),
    );
    const cell = (length: number, from: number) =>
      Array.from({ length }, (_, i) => letters[(from + i) % letters.length]).join('');
    const lengths = [0, 1, 2, 3, 4, 5, 7, 8, 9, 63, 1000, 300_000];
    const wanted = lengths.map((length, i) => [cell(length, i), cell(i, 2 * i), cell(13, i)]);
    // As in a file: the cells of all rows one after the other, the last of them at the very end.
    const bytes = Buffer.from(wanted.flat().join(''));
    let at = 0;
    const bounds = Int32Array.from(wanted.flat().flatMap((c) => [at, (at += c.length)]));
    const plain = { bytes, bounds };
    const keys = ['a longer key', 'b', 'ключ'];
    await stage(
      wanted.map((_, i) => ({ ...row(`p${i}@x.example`, i + 1), plain, at: 6 * i })),
      keys,
    );
    const { rows } = await world.store.pool.query<{ fields: Record<string, string>; key: string }>(
      `select fields, p.key from import_rows_${IMPORT} s join import_people_${IMPORT} p on p.id = s.contact_id order by position`,
    );
    expect(rows.map((r) => r.key)).toEqual(wanted.map((_, i) => `p${i}@x.example`));
    expect(rows.map((r) => keys.map((k) => r.fields[k] ?? ''))).toEqual(wanted);
  });
});

describe('many batches', () => {
  it('are stored each as it was, though they are written into the same memory', async () => {
    // Made faster than PostgreSQL reads them, a megabyte a batch: more than the system takes from us meanwhile.
    const [batches, each] = [40, 25];
    const valueOf = (batch: number) => `${batch} `.repeat(15_000);
    await stageRows(
      world.store,
      { importId: IMPORT, newList: null },
      (async function* () {
        for (let b = 0; b < batches; b++) {
          // Now and then it gets the time to take what is ready.
          if (b % 13 === 0) await setTimeout(50);
          const f = valueOf(b);
          yield Array.from({ length: each }, (_, i) => row(`p${b * each + i}@x.example`, b * each + i + 1, { f }));
        }
      })(),
    );
    const { rows } = await world.store.pool.query<{ key: string; md5: string }>(
      `select p.key, md5(fields->>'f') from import_rows_${IMPORT} s
       join import_people_${IMPORT} p on p.id = s.contact_id order by position`,
    );
    const md5 = Array.from({ length: batches }, (_, b) => createHash('md5').update(valueOf(b)).digest('hex'));
    expect(rows).toEqual(
      Array.from({ length: batches * each }, (_, i) => ({ key: `p${i}@x.example`, md5: md5[Math.floor(i / each)] })),
    );
  });
});

describe('a row that PostgreSQL refuses', () => {
  it('ends the staging with its reason, and nothing of it is left', async () => {
    const refused = Array.from({ length: 30 }, (_, i) =>
      row(`p${i}@x.example`, i + 1, { f: i === 20 ? '\u0000' : 'v' }),
    );
    // More often than there are connections: none of them may be lost.
    for (let i = 0; i < 15; i++) await expect(stage(refused)).rejects.toThrow('Unicode');
    const tables = await world.store.pool.query(`select from pg_class where relname like 'import\\_%\\_${IMPORT}'`);
    expect(tables.rowCount).toBe(0);
    await stage([row('fine@x.example', 1)]);
  });

  it('has no part in what breaks off while rows are read', async () => {
    const broken = (async function* () {
      yield [row('one@x.example', 1)];
      await Promise.resolve();
      throw new Error('cancelled');
    })();
    await expect(stageRows(world.store, { importId: IMPORT, newList: null }, broken)).rejects.toThrow('cancelled');
    await stage([row('fine@x.example', 1)]);
  });
});

describe('rows of a list to be', () => {
  it('have ids that nobody else gets, and so have their people, also where somebody takes some meanwhile', async () => {
    const taken = world.store.pool.query<{ id: number }>(
      `select nextval('contacts_id_seq')::int as id from generate_series(1, 20000)`,
    );
    await stage(
      Array.from({ length: 9000 }, (_, i) => row(`p${i}@z.example`, i + 2)),
      [],
      77,
    );
    const others = new Set((await taken).rows.map((r) => r.id));
    const { rows } = await world.store.pool.query<{ id: number; person: number; list_id: number }>(
      `select s.id, p.id as person, s.list_id from import_rows_${IMPORT} s join import_people_${IMPORT} p on p.id = s.contact_id`,
    );
    expect(new Set(rows.map((r) => r.list_id))).toEqual(new Set([77]));
    expect(new Set(rows.map((r) => r.id)).size).toBe(9000);
    expect(new Set(rows.map((r) => r.person)).size).toBe(9000);
    expect(rows.filter((r) => others.has(r.person))).toEqual([]);
    const next = async (sequence: string) =>
      (await world.store.pool.query<{ id: number }>(`select nextval('${sequence}')::int as id`)).rows[0]?.id ?? 0;
    expect(await next('list_rows_id_seq')).toBeGreaterThan(Math.max(...rows.map((r) => r.id)));
    expect(await next('contacts_id_seq')).toBeGreaterThan(Math.max(...rows.map((r) => r.person)));
  });
});

describe('people made known of them', () => {
  it('are those not known yet, also where somebody else has just brought one', async () => {
    const count = async () =>
      (
        await world.store.pool.query<{ n: number }>(
          `select count(*)::int as n from contacts where domain = 'y.example'`,
        )
      ).rows[0]?.n;
    await stage([row('a@y.example', 1), row('b@y.example', 2)]);
    await world.store.db.transaction((tx) => storeStagedContacts(tx, IMPORT, 1));
    expect(await count()).toBe(2);
    // The same key twice meets the same refusal as one that another transaction brought meanwhile.
    await stage([row('b@y.example', 1), row('c@y.example', 2), row('c@y.example', 3)]);
    await world.store.db.transaction((tx) => storeStagedContacts(tx, IMPORT, 2));
    expect(await count()).toBe(3);
  });
});
