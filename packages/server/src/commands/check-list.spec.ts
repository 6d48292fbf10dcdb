import { describe, expect, it } from 'vitest';
import { FILES_OF_OTHERS } from '../../../core/src/testing/corpus/files';
import { checkList } from './check-list';

const check = (text: string) => checkList('people.csv', Buffer.from(text));

describe('checkList', () => {
  it('gives columns with guesses, counts, and each row that would not be taken', () => {
    const [about, ...aside] = check('Courriel;Prénom\nana@x.example;Ana\nbad;Bo\nANA@x.example;Again');
    expect(about).toMatchObject({
      file: 'people.csv',
      kind: 'delimited',
      encoding: 'UTF-8',
      headerLine: 1,
      columns: [
        { header: 'Courriel', role: 'address' },
        { header: 'Prénom', role: 'given_name' },
      ],
      counts: { taken: 1, doubled: 1, notValid: 1 },
    });
    expect(aside).toEqual([
      { line: 3, cells: ['bad', 'Bo'], reason: '“bad” has no @ sign' },
      { line: 4, cells: ['ANA@x.example', 'Again'], reason: 'ANA@x.example is already in line 2' },
    ]);
  });

  it.each(FILES_OF_OTHERS.map((file) => [file.name, file] as const))('counts whoever is in a file: %s', (_, file) => {
    const [about, ...aside] = checkList('people', Buffer.from(file.bytes));
    expect(about).toMatchObject({ counts: { taken: Object.keys(file.people).length } });
    expect(aside).toHaveLength(file.aside?.length ?? 0);
  });

  it('has a sentence for what holds no addresses or cannot be read', () => {
    expect(check('name,town\nAna,Carrow Bay')[0]).toMatchObject({ obstacle: expect.stringContaining('name, town') });
    expect(check('')).toEqual([{ file: 'people.csv', error: expect.stringContaining('empty') }]);
  });
});
