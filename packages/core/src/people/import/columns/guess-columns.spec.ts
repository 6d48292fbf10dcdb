import { describe, expect, it } from 'vitest';
import { guessColumns } from './guess-columns';
import { readDelimited } from '../files/read-delimited';

/** A sheet of columns that nobody has named. */
const roles = (...rows: string[]) => guessColumns(readDelimited(rows.join('\n'))).map((g) => g.role);

describe('guessColumns, by what stands in a column', () => {
  it('knows names and companies by the addresses beside them', () => {
    expect(
      roles(
        'Reyes;Ana;ana.reyes@harroworchards.example;Harrow Orchards',
        'Lind;Bo;b.lind@lind-gardens.example;Lind Gardens',
        'Marchetti;Cyril;cyril@marchetti.example;Marchetti Cider',
        'Okafor;Wren;office@deevines.example;Dee Vines',
      ),
    ).toEqual(['family_name', 'given_name', 'address', 'company']);
  });

  it('knows full names, also where the address writes their letters otherwise', () => {
    expect(
      roles(
        'Jörg Müller;joerg.mueller@x.example',
        'Søren Weiß;s.weiss@y.example',
        'Małgorzata Łukasik;lukasik@z.example',
      ),
    ).toEqual(['full_name', 'address']);
    expect(roles('x1;Jörg;joerg@x.example', 'x2;Lars;lars@y.example', 'x3;Olga;olga.t@z.example')).toEqual([
      'field',
      'given_name',
      'address',
    ]);
  });

  it('says how it knows, and is less sure than of a header', () => {
    const guesses = guessColumns(readDelimited('Was;Mail\nAna;ana@x.example\nBo;b@x.example\nOlga;olga@y.example'));
    expect(guesses[0]).toMatchObject({ role: 'given_name', because: 'the addresses begin with it' });
    expect(guesses[0]?.sureness).toBeLessThan(guesses[1]?.sureness ?? 0);
  });

  it('takes neither websites nor second addresses nor sentences for names', () => {
    const row = (name: string) =>
      `${name}@${name}vines.example;https://${name}vines.example;${name}vines.example;the people of ${name} came by in autumn again;${name.length}`;
    expect(roles(...['harrow', 'marchetti', 'okafor'].map(row))).toEqual([
      'address',
      'field',
      'field',
      'field',
      'field',
    ]);
  });

  it('does not go by one row, or by one value that stands in all', () => {
    expect(roles('Ana;ana@x.example')).toEqual(['field', 'address']);
    expect(roles('kelp;kelp@x.example', 'kelp;kelp@y.example', 'kelp;kelp@z.example')).toEqual(['field', 'address']);
  });

  it.each([
    ['verification', ['valid', 'invalid', 'risky']],
    ['title', ['Frau', 'Herr', 'Dr.']],
    ['picture', ['a.png', 'https://x.example/b.JPG', 'c.webp?v=2']],
    ['attachment', ['offer.pdf', 'Soil results.docx', 'b.xlsx']],
    ['company', ['Cider GmbH', 'Vines Ltd', 'Garden']],
    ['time_zone', ['Portugal', 'Berlin', 'Austria']],
    ['field', ['no', 'yes', 'no']],
    ['field', ['no', 'no', 'no']],
    ['field', ['red', 'green', 'Berlin']],
    ['ignore', ['', '', '']],
  ])('knows a column of %s', (role, [a, b, c]) => {
    expect(roles(`p1@x.example;${a}`, `p2@x.example;${b}`, `p3@x.example;${c}`)).toEqual(['address', role]);
  });
});
