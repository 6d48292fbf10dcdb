import { expect, it } from 'vitest';
import { readDelimited } from '../files/read-delimited';
import { addressCandidates } from './address-candidates';

it('counts the rows and the different addresses of each column that holds some, but not of copies', () => {
  const table = readDelimited(
    [
      'owner,email,copy,note,private',
      'ines@t.example,ana@x.example,c@y.example,a@b.example said no,',
      'ines@t.example,Bo Salt <bo@x.example>,c@y.example,none,bo@home.example',
      'ines@t.example,ANA@x.example,c@y.example,none,',
    ].join('\n'),
  );
  expect(addressCandidates(table, ['field', 'address', 'cc', 'field', 'field'])).toEqual([
    { column: 0, rows: 3, different: 1 },
    { column: 1, rows: 3, different: 2 },
    { column: 4, rows: 1, different: 1 },
  ]);
});
