import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { ListColumn } from './list-columns';
import { readPeopleFile } from '../import/files/read-people-file';
import { vcardWriter } from './write-vcards';

const column = (
  name: string,
  key: string,
  role: ListColumn['role'],
  kind: ListColumn['kind'] = 'text',
): ListColumn => ({
  name,
  key,
  role,
  kind,
  hidden: false,
  formula: null,
  verdicts: null,
});
const columns = [
  column('email', 'email', 'address'),
  column('given name', 'givenname', 'given_name'),
  column('family name', 'familyname', 'family_name'),
  column('company', 'company', 'company'),
  column('tags', 'tags', 'field', 'tags'),
  column('acres', 'acres', 'field', 'number'),
];
const write = vcardWriter(columns);
const read = (text: string) => {
  const { table } = readPeopleFile(Buffer.from(text));
  return table.rows.map((r) => Object.fromEntries(table.header.map((h, i) => [h, r.cells[i] ?? ''])));
};

describe('a vCard', () => {
  it('holds each value as what it is, and the others in its note', () => {
    const fields = {
      givenname: 'Ilse',
      familyname: 'van der Meer',
      company: 'Meer, Vines; B.V.',
      tags: 'wine, big',
      acres: '12',
    };
    const text = write({ address: 'ilse@meer.example', fields });
    expect(text.split('\r\n')).toEqual([
      'BEGIN:VCARD',
      'VERSION:4.0',
      'FN:Ilse van der Meer',
      'N:van der Meer;Ilse;;;',
      'EMAIL:ilse@meer.example',
      'ORG:Meer\\, Vines\\; B.V.',
      'CATEGORIES:wine,big',
      'NOTE:acres: 12',
      'END:VCARD',
      '',
    ]);
  });

  it('reads back as it was written, whatever the names', () => {
    const name = fc
      .string({ unit: 'grapheme', minLength: 1, maxLength: 90 })
      .map((s) => `x${s.replace(/[\p{C}\s]+/gu, '')}`);
    fc.assert(
      fc.property(name, name, name, (givenname, familyname, company) => {
        const [row] = read(write({ address: 'a@x.example', fields: { givenname, familyname, company } }));
        expect([row?.['email'], row?.['given name'], row?.['family name'], row?.['company']]).toEqual([
          'a@x.example',
          givenname,
          familyname,
          company,
        ]);
      }),
    );
  });
});
