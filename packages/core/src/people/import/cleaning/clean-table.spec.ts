import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { parseAddress, type Address } from '../../address/address';
import { addressCheck, isOneSlip } from '../../address/check-address';
import { nameCase, splitName, withoutLegalForm } from './clean-names';
import { CLEANINGS, USUAL_CLEANINGS } from './cleanings';
import { cleanTable, dateColumns, plainRowCleaner, rowCleaner, rowExtender } from './clean-table';
import { COLUMN_ROLES } from '../columns/column-roles';
import { readDelimited } from '../files/read-delimited';
import { repairText, tidySpaces } from './repair-text';

describe('nameCase', () => {
  it.each([
    ['SALT', 'Salt'],
    ['josé GARCÍA', 'José García'],
    ['McDONALD', 'McDonald'],
    ['MCDONALD', 'McDonald'],
    ['ANNE-MARIE O’DEA', 'Anne-Marie O’Dea'],
    ['VAN DER MEER', 'van der Meer'],
    ['jOSÉ', 'José'],
    ['JP', 'JP'],
    ['de Souza', 'de Souza'],
    ['LaRue', 'LaRue'],
    ['Nguyễn Thị Ánh', 'Nguyễn Thị Ánh'],
    ['李', '李'],
    ['ᾐﵐ', 'Ἠιﵐ'],
    ['', ''],
  ])('writes %s as %s', (name, expected) => expect(nameCase(name)).toBe(expected));

  it('is done with once', () => {
    fc.assert(fc.property(fc.string({ unit: 'grapheme' }), (s) => nameCase(nameCase(s)) === nameCase(s)));
  });
});

describe('splitName', () => {
  it.each([
    ['Ana Reyes', 'Ana', 'Reyes'],
    ['Dr. Ilse van der Meer, PhD', 'Ilse', 'van der Meer'],
    ['MARCHETTI, Odile', 'Odile', 'MARCHETTI'],
    ['Prof. Dr. med. Greta von Haas', 'Greta', 'von Haas'],
    ['José María García', 'José María', 'García'],
    ['Noor Vidal Jr.', 'Noor', 'Vidal'],
  ])('tells %s apart', (full, given, family) => expect(splitName(full)).toEqual({ given, family }));

  it.each(['Madonna', '', 'a b c d e f g', 'one, two, three'])('leaves %j', (full) =>
    expect(splitName(full)).toBeNull(),
  );
});

describe('withoutLegalForm', () => {
  it.each([
    ['Brandt Wein GmbH', 'Brandt Wein'],
    ['Haas GmbH & Co. KG', 'Haas'],
    ['Meer Vineyard B.V.', 'Meer Vineyard'],
    ['Salt & Daughters, Ltd.', 'Salt & Daughters'],
    ['GmbH', 'GmbH'],
    ['Oslo', 'Oslo'],
    ['Atlas', 'Atlas'],
  ])('makes %s %s', (company, expected) => expect(withoutLegalForm(company)).toBe(expected));
});

describe('repairText', () => {
  it.each([
    ['MÃ¼ller', 'Müller'],
    ['JosÃ© GarcÃ­a', 'José García'],
    ['Oâ€™Dea', 'O’Dea'],
    ['SÃ¸ren Å Ã¡r', 'SÃ¸ren Å Ã¡r'],
    ['Ã…se', 'Åse'],
    ['Müller', 'Müller'],
  ])('reads %s as %s', (text, expected) => expect(repairText(text)).toBe(expected));

  it('mends whatever was broken so, and nothing that was not', () => {
    const spoken = fc.string({ unit: 'grapheme', maxLength: 20 }).filter((s) => !/[\u0080-\u009f]/.test(s));
    fc.assert(
      fc.property(spoken, (s) => {
        const bytes = Buffer.from(s, 'utf8');
        const broken = bytes.toString('latin1');
        fc.pre(/[\u0080-\u00ff]/.test(broken));
        expect([s, broken]).toContain(repairText(broken));
        expect(repairText(s)).toBe(s);
      }),
    );
  });
});

describe('tidySpaces', () => {
  it('keeps one space of any run, and line breaks', () => {
    expect(tidySpaces(' a\u00a0\u2003b\u200b \n  c ')).toBe('a b\nc');
  });
});

describe('cleanTable', () => {
  const table = readDelimited(
    'email;name;company\nana@x.example;ANA  REYES;Cedar GmbH\nbo@x.example;Bo MÃ¼ller;Salt\ncy@x.example;Cy;',
  );
  const roles = ['address', 'full_name', 'company'] as const;

  it('shows each change before and after, and makes only those that are on', () => {
    const { table: cleaned, roles: after, found } = cleanTable(table, roles, USUAL_CLEANINGS);
    expect(cleaned.header).toEqual(['email', 'name', 'company', 'given name', 'family name']);
    expect(after.slice(3)).toEqual(['given_name', 'family_name']);
    expect(cleaned.rows.map((r) => r.cells)).toEqual([
      ['ana@x.example', 'Ana Reyes', 'Cedar GmbH', 'Ana', 'Reyes'],
      ['bo@x.example', 'Bo Müller', 'Salt', 'Bo', 'Müller'],
      ['cy@x.example', 'Cy', '', '', ''],
    ]);
    expect(found.map((f) => [f.cleaning, f.on, f.cells])).toEqual([
      ['spaces', true, 1],
      ['broken_letters', true, 1],
      ['name_case', true, 1],
      ['split_name', true, 2],
      ['legal_form', false, 1],
    ]);
    expect(found[4]?.examples).toEqual([{ line: 2, before: 'Cedar GmbH', after: 'Cedar' }]);
  });

  it('makes a column of the names that stand beside addresses, and splits them', () => {
    const mixed = readDelimited(
      'Kontakt;Ort\nANA REYES <ana@x.example>;Kiel\nbo@x.example;Ulm\n"Dee, Dora" <d@x.example>;Bonn',
    );
    const { table: cleaned, roles: after, found } = cleanTable(mixed, ['address', 'field'], USUAL_CLEANINGS);
    expect(after).toEqual(['address', 'field', 'full_name', 'given_name', 'family_name']);
    expect(cleaned.rows.map((r) => r.cells)).toEqual([
      ['ana@x.example', 'Kiel', 'Ana Reyes', 'Ana', 'Reyes'],
      ['bo@x.example', 'Ulm', '', '', ''],
      ['d@x.example', 'Bonn', 'Dee, Dora', 'Dora', 'Dee'],
    ]);
    expect(found.find((f) => f.cleaning === 'named_address')?.examples[0]).toEqual({
      line: 2,
      before: 'ANA REYES <ana@x.example>',
      after: 'ANA REYES | ana@x.example',
    });
    const off = cleanTable(mixed, ['address', 'field'], []);
    expect(off.table).toEqual(mixed);
    expect(off.found[0]).toMatchObject({ cleaning: 'named_address', on: false, cells: 2 });
  });

  it('gives rows one by one the columns that it gave those of a sample', () => {
    const sample = readDelimited('Kontakt\nAna Reyes <ana@x.example>\nbo@x.example');
    const shown = cleanTable(sample, ['address'], USUAL_CLEANINGS);
    const { extend, leaves } = rowExtender(['address'], shown.roles, USUAL_CLEANINGS);
    for (const [i, row] of sample.rows.entries()) expect(extend(row)).toEqual({ row: shown.table.rows[i], name: '' });
    expect(['bo@x.example', 'Bo <bo@x.example>'].map(leaves)).toEqual([true, false]);
    const late = rowExtender(['address'], ['address'], USUAL_CLEANINGS);
    expect(late.extend({ line: 9, cells: ['Bo Lind <bo@x.example>'] })).toEqual({
      row: { line: 9, cells: ['bo@x.example'] },
      name: 'Bo Lind',
    });
  });

  it('changes nothing when all is off, and leaves the table it was given', () => {
    const before = structuredClone(table);
    expect(cleanTable(table, roles, []).table).toEqual(table);
    cleanTable(table, roles, CLEANINGS);
    expect(table).toEqual(before);
  });
});

/** The address in a text that holds one. */
function read(text: string): Address {
  const parsed = parseAddress(text);
  if (!parsed.ok) throw new Error(parsed.reason);
  return parsed.value;
}

describe('addressCheck', () => {
  const domains = new Map([
    ['coastcellars.example', 9],
    ['coastcelars.example', 1],
    ['x.example', 5],
    ['y.example', 5],
    ['asterhof.exmaple', 1],
    ['z.con', 1],
  ]);
  const notesOf = addressCheck({ domains });
  const check = (text: string) => notesOf(read(text));

  it('proposes what was likely meant', () => {
    expect(check('tam@coastcelars.example')).toMatchObject([{ kind: 'misspelt', mend: 'tam@coastcellars.example' }]);
    expect(check('karl.Aster@asterhof.exmaple')).toMatchObject([{ mend: 'karl.Aster@asterhof.example' }]);
    expect(check('a@z.con')).toMatchObject([{ mend: 'a@z.com' }]);
  });

  it('leaves short, frequent and right domains alone, and says which address is shared', () => {
    for (const fine of ['a@x.example', 'a@y.example', 'a@coastcellars.example']) expect(check(fine)).toEqual([]);
    expect(check('info2@x.example')).toEqual([{ kind: 'shared', words: 'shared address', mend: null }]);
  });

  it('finds the domain meant wherever the slip is, and only if the list has it far more often', () => {
    const letters = fc.stringMatching(/^[a-z]{6,14}$/);
    const slip = fc.tuple(fc.constantFrom('more', 'less', 'other', 'swap'), fc.nat());
    fc.assert(
      fc.property(letters, slip, (name, [kind, n]) => {
        const at = n % (name.length - 1);
        const [before, after] = [name.slice(0, at), name.slice(at)];
        const slipped = {
          more: `${before}q${after}`,
          less: before + after.slice(1),
          other: `${before}q${after.slice(1)}`,
          swap: before + after.charAt(1) + after.charAt(0) + after.slice(2),
        }[kind];
        fc.pre(slipped !== name && slipped.length >= 5);
        const counts = (often: number) =>
          new Map([
            [`${name}.example`, often],
            [`${slipped}.example`, 1],
            ['other.example', 9],
          ]);
        const mends = (often: number) =>
          addressCheck({ domains: counts(often) })(read(`a@${slipped}.example`)).map((c) => c.mend);
        expect(mends(3)).toEqual([`a@${name}.example`]);
        expect(mends(2)).toEqual([]);
      }),
    );
  });

  it('says whose domain is thrown away, and who may stand there twice', () => {
    const same = new Map([['anareyes@x.example', 2]]);
    const kinds = addressCheck({ domains, same, isThrowAway: (d) => d === 'gone.example' });
    expect(kinds(read('a@gone.example')).map((n) => n.kind)).toEqual(['throw_away']);
    expect(kinds(read('Ana.Reyes+list@x.example')).map((n) => n.kind)).toEqual(['doubled']);
  });

  it('knows one slip from two', () => {
    for (const other of ['example', 'exmple', 'exampple', 'exampel', 'exbmple'])
      expect(isOneSlip('example', other)).toBe(other !== 'example');
    for (const other of ['exmpel', 'examples1', 'elpmaxe']) expect(isOneSlip('example', other)).toBe(false);
    fc.assert(
      fc.property(fc.string({ minLength: 1 }), fc.nat(), (s, i) =>
        isOneSlip(s, s.slice(0, i % s.length) + s.slice((i % s.length) + 1)),
      ),
    );
  });
});

describe('dates', () => {
  const table = {
    header: ['email', 'since', 'note'],
    headerLine: 1,
    titleRows: 0,
    rows: [
      { line: 2, cells: ['a@x.example', '12/24/2026', '1/2/2026'] },
      { line: 3, cells: ['b@x.example', '3/4/2026', 'harvest'] },
      { line: 4, cells: ['c@x.example', '', 'soon'] },
    ],
    aside: [],
  };
  const roles = ['address', 'field', 'field'] as const;
  const dates = (on: readonly ('dates' | 'spaces')[]) => {
    const cleaned = cleanTable(table, roles, on);
    return { cells: cleaned.table.rows.map((r) => r.cells[1]), found: cleaned.found };
  };

  it('are written one way where a column holds little else, if it is wished', () => {
    expect(dates(['dates']).cells).toEqual(['2026-12-24', '2026-03-04', '']);
    expect(dates(['spaces']).cells).toEqual(['12/24/2026', '3/4/2026', '']);
    expect(dates(['spaces']).found).toEqual([
      {
        cleaning: 'dates',
        on: false,
        cells: 2,
        examples: [
          { line: 2, before: '12/24/2026', after: '2026-12-24' },
          { line: 3, before: '3/4/2026', after: '2026-03-04' },
        ],
      },
    ]);
  });
});

describe('cleaning of plain rows', () => {
  it('does to them what cleaning of any rows does', () => {
    const word = fc.constantFrom(
      'ANA',
      'reyes',
      'McDONALD',
      'Kelp',
      'Ltd',
      '12',
      '3/4/2026',
      '2026-03-04',
      'a@x.example',
    );
    const cell = fc.array(word, { maxLength: 3 }).map((words) => words.join(' '));
    const table = fc.integer({ min: 1, max: 5 }).chain((width) =>
      fc.record({
        roles: fc.array(fc.constantFrom(...COLUMN_ROLES), { minLength: width, maxLength: width }),
        rows: fc.array(fc.array(cell, { minLength: width, maxLength: width }), { minLength: 1, maxLength: 6 }),
        on: fc.subarray([...CLEANINGS]),
      }),
    );
    fc.assert(
      fc.property(table, ({ roles, rows, on }) => {
        const lines = rows.map((cells, i) => ({ line: i + 2, cells }));
        const header = roles.map((_, i) => `c${i}`);
        const dates = dateColumns({ header, headerLine: 1, titleRows: 0, rows: lines, aside: [] }, roles);
        const [any, plain] = [rowCleaner(roles, on, dates), plainRowCleaner(roles, on, dates)];
        for (const row of lines) expect(plain(row)).toEqual(any(row));
      }),
    );
  });
});
