import { describe, expect, it } from 'vitest';
import { firstAddress, namedAddress, nameTaker } from './named-address';

describe('namedAddress', () => {
  it.each([
    ['Ana Reyes <ana@x.example>', 'Ana Reyes', 'ana@x.example'],
    ['"Reyes, Ana" <ana@x.example>', 'Reyes, Ana', 'ana@x.example'],
    ["'Ana Reyes' <mailto:ana@x.example>;", 'Ana Reyes', 'ana@x.example'],
    ['Ana Reyes (ana@x.example)', 'Ana Reyes', 'ana@x.example'],
    ['Ana Reyes [ana@x.example]', 'Ana Reyes', 'ana@x.example'],
    ['ana@x.example (Ana Reyes)', 'Ana Reyes', 'ana@x.example'],
    ['José van der Meer josé@x.example', 'José van der Meer', 'josé@x.example'],
    ['Ana Reyes - ana@x.example', 'Ana Reyes', 'ana@x.example'],
    ['Ana Reyes: ana@x.example', 'Ana Reyes', 'ana@x.example'],
    ['Άννα Ρέγες <anna@x.example>', 'Άννα Ρέγες', 'anna@x.example'],
  ])('takes %s apart', (cell, name, address) => {
    expect(namedAddress(cell)).toEqual({ name, address });
  });

  it.each([
    'ana@x.example',
    ' ana@x.example ',
    '<ana@x.example>',
    'Ana Reyes',
    'Ana <ana@x>',
    'ana@x.example, bo@x.example',
    'Ana <ana@x.example>, Bo <bo@x.example>',
    'ask for bo@x.example before noon',
    '12 <ana@x.example>',
    '',
  ])('leaves %j', (cell) => {
    expect(namedAddress(cell)).toBeNull();
  });
});

describe('nameTaker', () => {
  const take = (roles: Parameters<typeof nameTaker>[0], ...cells: string[]) => {
    const apart = nameTaker(roles, [])?.({ line: 2, cells });
    return apart && [...apart.row.cells, apart.name];
  };
  it('puts a name where the row has none', () => {
    const cell = 'Ana Reyes <ana@x.example>';
    expect(take(['address'], cell)).toEqual(['ana@x.example', 'Ana Reyes']);
    expect(take(['address', 'full_name'], cell, ' ')).toEqual(['ana@x.example', 'Ana Reyes', '']);
    expect(take(['given_name', 'address', 'family_name'], '', cell, '')).toEqual(['Ana', 'ana@x.example', 'Reyes', '']);
    expect(take(['given_name', 'address'], '', 'Ana <ana@x.example>')).toEqual(['Ana', 'ana@x.example', '']);
    const loud = { line: 2, cells: ['ANA REYES <ana@x.example>'] };
    expect(nameTaker(['address'], ['name_case'])?.(loud).name).toBe('Ana Reyes');
  });

  it('leaves the names that are there, and rows without', () => {
    const cell = 'A. R. <ana@x.example>';
    expect(take(['address', 'full_name'], cell, 'Ana Reyes')).toEqual(['ana@x.example', 'Ana Reyes', '']);
    expect(take(['given_name', 'family_name', 'address'], '', 'Reyes', cell)).toEqual([
      '',
      'Reyes',
      'ana@x.example',
      '',
    ]);
    expect(take(['address'], 'ana@x.example')).toEqual(['ana@x.example', '']);
    expect(take(['full_name'], 'Ana')).toBeUndefined();
  });
});

describe('the first of several addresses', () => {
  it.each([
    ['ana@x.example; ana@y.example', 'ana@x.example'],
    ['ana@x.example,ana@y.example,ana@z.example', 'ana@x.example'],
    ['ana@x.example / ana@y.example', 'ana@x.example'],
    ['ana@x.example or ana@y.example', 'ana@x.example'],
    ['ana@x.example\nana@y.example', 'ana@x.example'],
    ['ana@x.example', 'ana@x.example'],
    ['ana@x.example; see ana@y.example', 'ana@x.example; see ana@y.example'],
    ['ana@@x.example', 'ana@@x.example'],
  ])('of %j', (cell, first) => expect(firstAddress(cell)).toBe(first));
});
