import { describe, expect, it } from 'vitest';
import { guessColumns } from '../import/columns/guess-columns';
import { readDelimited } from '../import/files/read-delimited';
import { sortRows } from './sort-rows';

const nobody = { isKnown: () => false, isSuppressed: () => false };
const roles = (csv: string) => guessColumns(readDelimited(csv)).map((g) => g.role);

describe('guessColumns', () => {
  it('takes addresses under a header of copies for copies', () => {
    const csv =
      'cc,Adresse,BCC\nboss@x.example,ana@x.example,\n,bo@x.example,desk@x.example\nboss@y.example,cy@y.example,';
    expect(roles(csv)).toEqual(['cc', 'address', 'bcc']);
  });

  it('knows a checker by its words, whatever the column is called, and takes no other words for them', () => {
    const csv = (words: string[]) => `email,look\n${words.map((w, i) => `p${i}@x.example,${w}`).join('\n')}`;
    expect(roles(csv(['valid', 'Risky', 'catch-all', 'INVALID', 'unknown']))[1]).toBe('verification');
    expect(roles(csv(['yes', 'no', 'ok', 'unknown', 'good']))[1]).toBe('field');
    expect(roles(csv(['valid', 'red', 'blue', 'green']))[1]).toBe('field');
  });

  it.each([
    ['Voller Name', 'Ana Reyes', 'full_name'],
    ['Nombre y apellidos', 'Ana Reyes', 'full_name'],
    ['Volledige naam', 'Ana Reyes', 'full_name'],
    ['Senden am', '24.12.2026', 'send_on'],
    ['Envoyer le', '24/12/2026', 'send_on'],
    ['Inviare il', '24/12/2026', 'send_on'],
    ['Geprüft', 'ja', 'verification'],
  ])('knows the header %s', (header, cell, role) => {
    expect(roles(`email,${header}\nana@x.example,${cell}`)[1]).toBe(role);
  });

  it('knows headers in several languages', () => {
    expect(roles('Prénom;Nom;Courriel;Domaine;Région\nOdile;Marchetti;odile@cedres.example;Cèdres;Nord')).toEqual([
      'given_name',
      'family_name',
      'address',
      'company',
      'field',
    ]);
  });

  it('finds the address column by its content, whatever its header', () => {
    expect(roles('who,reach\nAna,ana@x.example\nBo,bo@x.example')).toEqual(['field', 'address']);
  });

  it('prefers the column in which addresses stand to the one that claims them', () => {
    expect(roles('mail,work\nyes,ana@x.example\nno,bo@x.example')).toEqual(['field', 'address']);
  });

  it('finds zones by content and leaves empty columns out', () => {
    expect(roles('email,Zone,nothing\nana@x.example,Europe/Lisbon,')).toEqual(['address', 'time_zone', 'ignore']);
  });

  it('finds send-on dates, and places that tell the zone', () => {
    expect(roles('email,Country,Send on\na@x.example,France,2026-11-30')).toEqual(['address', 'time_zone', 'send_on']);
    // A column that names zones itself is preferred.
    expect(roles('email,Country,tz\na@x.example,France,Europe/Paris')).toEqual(['address', 'field', 'time_zone']);
  });

  it('gives every column a role for any header', () =>
    expect(roles('__proto__,constructor\na,b')).toEqual(['field', 'field']));
});

describe('sortRows', () => {
  const table = readDelimited(
    'email,First Name,tz\nana@x.example,Ana,Europe/Lisbon\nANA@x.example,Ann,\nbad,Bo,\nold@x.example,,\nout@gone.example,Cy,\n1,2,3,4',
  );
  const sorted = sortRows(table, ['address', 'given_name', 'time_zone'], {
    isKnown: (k) => k.startsWith('old'),
    isSuppressed: (_, domain) => domain === 'gone.example',
  });

  it('counts every row once', () => {
    expect(sorted.counts).toEqual({ new: 2, known: 1, doubled: 1, invalid: 2, suppressed: 1 });
    expect(sorted.taken.length + sorted.aside.length).toBe(6);
  });

  it('keeps doubled and bad rows aside with the reason and the line', () => {
    expect(sorted.aside.map((a) => [a.line, a.reason])).toEqual([
      [3, 'ANA@x.example is already in line 2'],
      [4, '“bad” has no @ sign'],
      [7, 'The row has 4 cells, the header 3'],
    ]);
  });

  it('reads fields by key and zones by name', () => {
    expect(sorted.taken[0]).toMatchObject({ fields: { givenname: 'Ana', tz: 'Europe/Lisbon' }, zone: 'Europe/Lisbon' });
    expect(sorted.columns.map((c) => c.key)).toEqual(['email', 'givenname', 'tz']);
  });

  it('reads the zone off a place, and the date before which nothing is sent', () => {
    const t = readDelimited(
      'email;Land;Versanddatum\na@x.example;Österreich;30.11.2026\nb@x.example;Mars;soon\nc@x.example;Mars;-',
    );
    const guessed = guessColumns(t).map((g) => g.role);
    expect(guessed).toEqual(['address', 'field', 'send_on']);
    const { taken, aside } = sortRows(t, ['address', 'time_zone', 'send_on'], nobody);
    expect(aside.map((a) => [a.line, a.reason])).toEqual([[3, '“soon” is no date on which to send']]);
    expect(taken.map((p) => [p.zone, p.sendOn])).toEqual([
      ['Europe/Vienna', '2026-11-30'],
      [null, null],
    ]);
    expect(taken[0]?.fields).toMatchObject({ land: 'Österreich', versanddatum: '30.11.2026' });
  });
});
