import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { TestWorld } from '../testing/test-world';
import { makeStaged, stageRows, storeStagedContacts, type StagedRow } from './staged-rows';

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

async function stage(rows: StagedRow[], plainKeys: (string | null)[] = []): Promise<void> {
  await makeStaged(world.store.db, IMPORT);
  await stageRows(
    world.store,
    IMPORT,
    (async function* () {
      yield rows;
    })(),
    plainKeys,
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

describe('cells that are bytes', () => {
  it('stand among the fields that are text; those of columns that are not taken, and blanks, do not', async () => {
    const bytes = Buffer.from('one,two,,three');
    const plain = { bytes, bounds: Int32Array.from([9, 9, 0, 3, 4, 7, 8, 8, 9, 14]) };
    await stage(
      [
        { ...row('a@x.example', 1, { name: 'Zoë "Z"' }), plain, at: 2 },
        { ...row('b@x.example', 2), plain, at: 2 },
        { ...row('c@x.example', 3), plain: { bytes, bounds: new Int32Array(8) }, at: 0 },
      ],
      ['ключ', null, 'blank', 'last'],
    );
    const { rows } = await world.store.pool.query<{ fields: object }>(
      `select fields from import_rows_${IMPORT} order by line`,
    );
    const cells = { ключ: 'one', last: 'three' };
    expect(rows.map((r) => r.fields)).toEqual([{ name: 'Zoë "Z"', ...cells }, cells, {}]);
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
