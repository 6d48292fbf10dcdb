import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { TestWorld } from '../testing/test-world';
import type { StagedRow } from './copy-writer';
import { makeStaged, stageRows, storeStagedContacts } from './staged-rows';

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

async function stage(rows: StagedRow[], cellKeys: (string | null)[] = []): Promise<void> {
  await makeStaged(world.store.db, IMPORT);
  await stageRows(
    world.store,
    IMPORT,
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
      `select line, key, address, domain, zone, send_on, notes, fields from import_rows_${IMPORT} order by line`,
    );
    const stored = { key: 'ana@x.example', domain: 'x.example', send_on: null };
    const fields = { email: 'Ana@x.example', ключ: 'three' };
    expect(rows).toEqual([
      { ...stored, line: 7, address: 'Ana@x.example', zone: null, notes: [], fields },
      { ...stored, line: 8, address: 'ana@x.example', zone: 'Europe/Dublin', notes: ['shared'], fields },
      { ...stored, line: 9, address: 'ana@x.example', zone: null, notes: [], fields },
      { ...stored, line: 10, address: 'ana@x.example', zone: null, notes: [], fields: {} },
    ]);
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
