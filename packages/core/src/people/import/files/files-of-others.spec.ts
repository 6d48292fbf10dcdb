import { describe, expect, it } from 'vitest';
import { cleanTable } from '../cleaning/clean-table';
import { USUAL_CLEANINGS } from '../cleaning/cleanings';
import { guessColumns } from '../columns/guess-columns';
import { sortRows } from '../../list/sort-rows';
import { readPeopleFile } from './read-people-file';

const NOBODY = { isKnown: () => false, isSuppressed: () => false };
const utf8 = (text: string): Uint8Array => new Uint8Array(Buffer.from(text));

/** A text in an encoding of one byte a letter. */
function encoded(encoding: string, text: string): Uint8Array {
  const decoder = new TextDecoder(encoding);
  const codes = new Map(Array.from({ length: 256 }, (_, code) => [decoder.decode(new Uint8Array([code])), code]));
  return Uint8Array.from(text, (letter) => {
    const code = codes.get(letter);
    if (code === undefined) throw new Error(`${encoding} has no ${letter}`);
    return code;
  });
}

/** Whom a file brings in: each address with the name by which a message would greet. */
function people(bytes: Uint8Array): { taken: Record<string, string>; aside: string[] } {
  const { table } = readPeopleFile(bytes);
  const roles = guessColumns(table).map((g) => g.role);
  const cleaned = cleanTable(table, roles, USUAL_CLEANINGS);
  const sorted = sortRows(cleaned.table, cleaned.roles, NOBODY);
  const nameOf = (fields: Record<string, string>) =>
    fields['givenname'] === undefined
      ? (fields['fullname'] ?? '')
      : `${fields['givenname']} ${fields['familyname'] ?? ''}`;
  return {
    taken: Object.fromEntries(sorted.taken.map((p) => [p.address, nameOf(p.fields).trim()])),
    aside: sorted.aside.map((a) => a.reason),
  };
}

const lines = (...all: string[]) => all.join('\n');

/** Names whose letters tell an encoding of Central Europe, and of Western Europe. */
const CENTRAL = lines(
  'jméno,příjmení,email',
  'Jiří,Dvořák,a@x.example',
  'Šárka,Žižková,b@x.example',
  'Łukasz,Świątek,c@x.example',
);
const CENTRAL_NAMES = { 'a@x.example': 'Jiří Dvořák', 'b@x.example': 'Šárka Žižková', 'c@x.example': 'Łukasz Świątek' };
const WESTERN = lines(
  'prénom,nom,email',
  'Zoë,Gagné,a@x.example',
  'François,Müller,b@x.example',
  'José,Núñez,c@x.example',
);
const WESTERN_NAMES = { 'a@x.example': 'Zoë Gagné', 'b@x.example': 'François Müller', 'c@x.example': 'José Núñez' };
const ANA_AND_BO = { 'ana@x.example': 'Ana Reyes', 'bo@x.example': 'Bo Salt' };

/** Files as other programs write them, each with those who are in it. */
const FILES: readonly [name: string, bytes: Uint8Array, people: Record<string, string>][] = [
  [
    'lines that end in CR, LF and CRLF',
    utf8('name,email\rAna Reyes,ana@x.example\nBo Salt,bo@x.example\r\n'),
    ANA_AND_BO,
  ],
  ['CRLF, then LF', utf8('name,email\r\nAna Reyes,ana@x.example\r\nBo Salt,bo@x.example\n'), ANA_AND_BO],
  ['LF, then CRLF', utf8('name,email\nAna Reyes,ana@x.example\r\nBo Salt,bo@x.example\r\n'), ANA_AND_BO],
  ['CR alone', utf8('name,email\rAna Reyes,ana@x.example\rBo Salt,bo@x.example\r'), ANA_AND_BO],
  [
    'a line break of another kind inside a cell',
    utf8('name,email,note\r\nAna Reyes,ana@x.example,"one\ntwo"\r\nBo Salt,bo@x.example,x\r\n'),
    ANA_AND_BO,
  ],
  [
    'blanks around quotes',
    utf8(lines('name, email ,note', ' "Reyes, Ana" , "ana@x.example" , "a ""q"" b"', ' "Salt, Bo" ,"bo@x.example", x')),
    ANA_AND_BO,
  ],
  [
    'single quotes',
    utf8(
      lines('name,email,note', "'Reyes, Ana','ana@x.example','don\u2019t'", "'Salt, Bo','bo@x.example','O\u2019Neil'"),
    ),
    ANA_AND_BO,
  ],
  [
    'backslashes before quotes',
    utf8(lines('name,email,note', '"Reyes, Ana","ana@x.example","says \\"yes\\""', '"Salt, Bo","bo@x.example","no"')),
    ANA_AND_BO,
  ],
  [
    'cells that are to stay texts',
    utf8(lines('name,email,zip', '="Ana Reyes",="ana@x.example",="01234"', '="Bo Salt",="bo@x.example",="00123"')),
    ANA_AND_BO,
  ],
  [
    'the same quoted',
    utf8(lines('name,email', '"=""Ana Reyes""","=""ana@x.example"""', '"=""Bo Salt""","=""bo@x.example"""')),
    ANA_AND_BO,
  ],
  [
    'zero bytes behind cells and at the end',
    utf8('name,email\0\0\nAna Reyes\0\0,ana@x.example\0\0\0\nBo Salt,bo@x.example\0\n\0\0\0\0'),
    ANA_AND_BO,
  ],
  [
    'two header rows',
    utf8(lines('Contact,,Company', 'Name,Email,Firm', 'Ana Reyes,ana@x.example,Holm', 'Bo Salt,bo@x.example,Salt')),
    ANA_AND_BO,
  ],
  [
    'groups above the header',
    utf8(
      lines('Person,Person,Estate', 'first name,last name,e-mail', 'Ana,Reyes,ana@x.example', 'Bo,Salt,bo@x.example'),
    ),
    ANA_AND_BO,
  ],
  [
    'a sparse column of addresses before the full one',
    utf8(
      lines(
        'name,work email,private email',
        'Ana Reyes,,ana@x.example',
        'Bo Salt,bo@w.example,bo@x.example',
        'Cy Voss,,cy@x.example',
      ),
    ),
    { ...ANA_AND_BO, 'cy@x.example': 'Cy Voss' },
  ],
  [
    'senders before recipients',
    utf8(
      lines(
        'From,To,Name',
        'ines@tidewaterkelp.example,ana@x.example,Ana Reyes',
        'ines@tidewaterkelp.example,bo@x.example,Bo Salt',
      ),
    ),
    ANA_AND_BO,
  ],
  [
    'owners before contacts',
    utf8(
      lines(
        'Account Owner,Contact email,Name',
        'ines@tidewaterkelp.example,ana@x.example,Ana Reyes',
        'tomas@tidewaterkelp.example,bo@x.example,Bo Salt',
      ),
    ),
    ANA_AND_BO,
  ],
  [
    'somebody without a header who is the same in all rows',
    utf8(
      lines(
        'Betreut,Kontakt,Post',
        'ines@tidewaterkelp.example,Ana Reyes,ana@x.example',
        'ines@tidewaterkelp.example,Bo Salt,bo@x.example',
      ),
    ),
    ANA_AND_BO,
  ],
  [
    'German names',
    utf8(lines('Vorname;Name;Firmenname;E-Mail-Adresse', 'Ana;Reyes;Holm;ana@x.example', 'Bo;Salt;Ridge;bo@x.example')),
    ANA_AND_BO,
  ],
  ['first and last', utf8(lines('First,Last,Email', 'Ana,Reyes,ana@x.example', 'Bo,Salt,bo@x.example')), ANA_AND_BO],
  [
    'camel case',
    utf8(lines('firstName,lastName,emailAddress', 'Ana,Reyes,ana@x.example', 'Bo,Salt,bo@x.example')),
    ANA_AND_BO,
  ],
  [
    'Czech headers',
    utf8(lines('jméno;příjmení;e-mail', 'Ana;Reyes;ana@x.example', 'Bo;Salt;bo@x.example')),
    ANA_AND_BO,
  ],
  [
    'Hungarian headers',
    utf8(lines('Vezetéknév;Keresztnév;E-mail', 'Reyes;Ana;ana@x.example', 'Salt;Bo;bo@x.example')),
    ANA_AND_BO,
  ],
  ['Windows-1250', encoded('windows-1250', CENTRAL), CENTRAL_NAMES],
  [
    'Windows-1250 with few letters of its own',
    encoded('windows-1250', lines('jméno;příjmení;e-mail', 'Jiří;Dvořák;a@x.example', 'Šárka;Žižková;b@x.example')),
    { 'a@x.example': 'Jiří Dvořák', 'b@x.example': 'Šárka Žižková' },
  ],
  [
    'Danish and Norwegian',
    encoded('iso-8859-15', lines('fornavn;etternavn;e-post', 'Bjørn;Ødegård;a@x.example', 'Åse;Sørensen;b@x.example')),
    { 'a@x.example': 'Bjørn Ødegård', 'b@x.example': 'Åse Sørensen' },
  ],
  ['ISO 8859-2', encoded('iso-8859-2', CENTRAL), CENTRAL_NAMES],
  ['Mac Roman', encoded('macintosh', WESTERN), WESTERN_NAMES],
  ['Windows-1252', encoded('iso-8859-15', WESTERN), WESTERN_NAMES],
  [
    'KOI8-R',
    encoded('koi8-r', lines('full name,email', 'Иван Петров,a@x.example', 'Мария Ёлкина,b@x.example')),
    { 'a@x.example': 'Иван Петров', 'b@x.example': 'Мария Ёлкина' },
  ],
  [
    'Windows-1251',
    encoded('windows-1251', lines('full name,email', 'Иван Петров,a@x.example', 'Мария Ёлкина,b@x.example')),
    { 'a@x.example': 'Иван Петров', 'b@x.example': 'Мария Ёлкина' },
  ],
  [
    'names in capitals',
    utf8(
      lines(
        'name,email',
        'JOHN SMITH III,a@x.example',
        'ANA REYES MBA,b@x.example',
        'ANH LE,c@x.example',
        "SEAN O'NEIL,d@x.example",
        'JAN VAN DER BERG,e@x.example',
        'JP SALT,f@x.example',
      ),
    ),
    {
      'a@x.example': 'John Smith',
      'b@x.example': 'Ana Reyes',
      'c@x.example': 'Anh Le',
      'd@x.example': "Sean O'Neil",
      'e@x.example': 'Jan van der Berg',
      'f@x.example': 'JP Salt',
    },
  ],
];

describe('a file of another program', () => {
  it.each(FILES)('%s', (_, bytes, expected) => {
    const { taken, aside } = people(bytes);
    expect(taken).toEqual(expected);
    expect(aside).toEqual([]);
  });
});

describe('cards of version 2.1', () => {
  const card = (...body: string[]) => ['BEGIN:VCARD', 'VERSION:2.1', ...body, 'END:VCARD', ''].join('\r\n');

  it('have parameters without names, quoted-printable over several lines, character sets and photos', () => {
    const file =
      card(
        'N;CHARSET=UTF-8;ENCODING=QUOTED-PRINTABLE:M=C3=BCller;Ana;;;',
        'FN;CHARSET=UTF-8;QUOTED-PRINTABLE:Ana M=C3=BC=',
        'ller',
        'EMAIL;INTERNET:ana@x.example',
        'ORG;ENCODING=QUOTED-PRINTABLE:Holm Vines, Ltd=2E',
        'PHOTO;JPEG;ENCODING=BASE64:',
        ' /9j/4AAQSkZJRgABAQEASABIAAD/',
        '',
      ) +
      card(
        'FN;CHARSET=ISO-8859-1;ENCODING=QUOTED-PRINTABLE:Jos=E9 Salt',
        'N:Salt;José',
        'EMAIL;HOME;INTERNET:jose@home.example',
        'EMAIL;PREF;INTERNET:jose@x.example',
      ) +
      card('N:Voss;Cy', 'FN:Cy Voss', 'EMAIL;INTERNET:cy@x.example', 'TITLE:Owner, grower');
    expect(people(utf8(file)).taken).toEqual({
      'ana@x.example': 'Ana Müller',
      'jose@x.example': 'José Salt',
      'cy@x.example': 'Cy Voss',
    });
    const { rows, aside } = readPeopleFile(utf8(file)).table;
    expect(rows.map((r) => r.cells[4])).toEqual(['Holm Vines, Ltd.', '', '']);
    expect(rows[2]?.cells[5]).toBe('Owner, grower');
    expect(aside).toEqual([]);
  });

  it('may hold a note of control codes, a character set that nobody knows and a long photo', () => {
    const photo = Array.from({ length: 60_000 }, () => ` ${'/9j/4AAQSkZJRgABAQEASABIAAD/'.repeat(2)}`);
    const file =
      card('N:Reyes;Ana', 'EMAIL;INTERNET:ana@x.example', 'NOTE;QUOTED-PRINTABLE:=01=02=03=04=05', 'PHOTO:', ...photo) +
      card('N;CHARSET=constructor;QUOTED-PRINTABLE:Salt;Jos=E9', 'EMAIL;INTERNET:jose@x.example');
    expect(people(utf8(file)).taken).toEqual({ 'ana@x.example': 'Ana Reyes', 'jose@x.example': 'José Salt' });
  }, 60_000);
});

describe('addresses in a text', () => {
  it('are found between the signs of any language, without what belongs to the sentence', () => {
    const text = `Write to «ana@x.example» or –bo@x.example– … cy@x.example… and/or dee@x.example/eva@x.example,
      fay@x.example’s, (gus@x.example), „hal@x.example“, mailto:ida@x.example?subject=Hi, [jo@x.example]; kim@x.example!`;
    expect(Object.keys(people(utf8(text)).taken)).toEqual(
      ['ana', 'bo', 'cy', 'dee', 'eva', 'fay', 'gus', 'hal', 'ida', 'jo', 'kim'].map((name) => `${name}@x.example`),
    );
  });
});
