import { ANA_AND_BO, encoded, lines, textFile, utf16, type FileCase } from './file-case';

const card = (version: string, ...body: string[]) =>
  ['BEGIN:VCARD', `VERSION:${version}`, ...body, 'END:VCARD', ''].join('\r\n');
const BO = card('3.0', 'FN:Bo Salt', 'N:Salt;Bo;;;', 'EMAIL:bo@x.example');
type Said = [people?: FileCase['people'], more?: Partial<FileCase>];
const cards = (name: string, text: string, ...said: Said): FileCase => textFile(`cards: ${name}`, text, ...said);
const prose = (name: string, text: string, ...said: Said): FileCase => textFile(`text: ${name}`, text, ...said);
const nobodyNamed = (...all: string[]) => Object.fromEntries(all.map((one) => [`${one}@x.example`, '']));

export const CARD_FILES: readonly FileCase[] = [
  cards('version 3.0', card('3.0', 'FN:Ana Reyes', 'N:Reyes;Ana;;;', 'EMAIL;TYPE=INTERNET:ana@x.example') + BO),
  cards('version 4.0', card('4.0', 'FN:Ana Reyes', 'N:Reyes;Ana;;;', 'EMAIL:ana@x.example') + BO),
  cards(
    'properties in groups',
    card('3.0', 'item1.EMAIL;type=INTERNET:ana@x.example', 'item1.X-ABLabel:work', 'FN:Ana Reyes', 'N:Reyes;Ana;;;') +
      BO,
  ),
  cards('folded lines', card('3.0', 'FN:Ana Rey', ' es', 'N:Reyes;A', '\tna;;;', 'EMAIL:ana@x.', ' example') + BO),
  cards('LF alone', (card('3.0', 'FN:Ana Reyes', 'N:Reyes;Ana;;;', 'EMAIL:ana@x.example') + BO).replaceAll('\r', '')),
  cards('CR alone', (card('3.0', 'FN:Ana Reyes', 'N:Reyes;Ana;;;', 'EMAIL:ana@x.example') + BO).replaceAll('\n', '')),
  cards(
    'small letters',
    'begin:vcard\r\nversion:3.0\r\nfn:Ana Reyes\r\nn:Reyes;Ana;;;\r\nemail:ana@x.example\r\nend:vcard\r\n' + BO,
  ),
  cards('a name without its parts', card('4.0', 'FN:Ana Reyes', 'EMAIL:ana@x.example') + BO),
  cards('parts without the whole', card('3.0', 'N:Reyes;Ana;;;', 'EMAIL:ana@x.example') + BO),
  cards(
    'the preferred of several addresses',
    card(
      '3.0',
      'FN:Ana Reyes',
      'N:Reyes;Ana;;;',
      'EMAIL;TYPE=HOME:ana@home.example',
      'EMAIL;TYPE=WORK,PREF:ana@x.example',
    ) + BO,
  ),
  cards(
    'the preferred by number',
    card('4.0', 'FN:Ana Reyes', 'N:Reyes;Ana;;;', 'EMAIL;PREF=2:ana@home.example', 'EMAIL;PREF=1:ana@x.example') + BO,
  ),
  cards(
    'escaped signs',
    card('3.0', 'FN:Ana Reyes', 'N:Reyes;Ana;;;', 'ORG:Salt\\, Sons\\; Co;Sales', 'EMAIL:ana@x.example') + BO,
    ANA_AND_BO,
    { fields: { 'ana@x.example': { company: 'Salt, Sons; Co' } } },
  ),
  cards(
    'quoted parameters',
    card('4.0', 'FN;SORT-AS="Reyes:Ana;x":Ana Reyes', 'N:Reyes;Ana;;;', 'EMAIL;X-LABEL="a:b;c":ana@x.example') + BO,
  ),
  cards(
    'version 2.1',
    card(
      '2.1',
      'N;CHARSET=UTF-8;ENCODING=QUOTED-PRINTABLE:M=C3=BCller;Ana;;;',
      'FN;CHARSET=UTF-8;QUOTED-PRINTABLE:Ana M=C3=BC=',
      'ller',
      'EMAIL;INTERNET:ana@x.example',
      'PHOTO;JPEG;ENCODING=BASE64:',
      ' /9j/4AAQSkZJRgABAQEASABIAAD/',
      '',
    ) + BO,
    { 'ana@x.example': 'Ana Müller', 'bo@x.example': 'Bo Salt' },
  ),
  {
    name: 'cards: version 2.1 in the letters of a machine',
    bytes: encoded(
      'windows-1252',
      card('2.1', 'N:Müller;Ana;;;', 'FN:Ana Müller', 'EMAIL;INTERNET:ana@x.example') +
        card('2.1', 'N:Gagné;Zoë', 'EMAIL:zoe@x.example'),
    ),
    people: { 'ana@x.example': 'Ana Müller', 'zoe@x.example': 'Zoë Gagné' },
  },
  {
    name: 'cards: UTF-16',
    bytes: utf16(`\ufeff${card('3.0', 'FN:Ana Reyes', 'N:Reyes;Ana;;;', 'EMAIL:ana@x.example')}${BO}`, 'le'),
    people: ANA_AND_BO,
  },
  cards(
    'a group of people',
    card('4.0', 'KIND:group', 'FN:Growers', 'MEMBER:mailto:ana@x.example') +
      card('4.0', 'FN:Ana Reyes', 'N:Reyes;Ana;;;', 'EMAIL:ana@x.example') +
      BO,
    ANA_AND_BO,
    { aside: [1] },
  ),
  cards(
    'blank lines between',
    `\r\n\r\n${card('3.0', 'FN:Ana Reyes', 'N:Reyes;Ana;;;', 'EMAIL:ana@x.example')}\r\n\r\n${BO}`,
  ),
  cards(
    'an address with its scheme',
    card('4.0', 'FN:Ana Reyes', 'N:Reyes;Ana;;;', 'EMAIL;VALUE=uri:mailto:ana@x.example') + BO,
  ),
];

export const PROSE_FILES: readonly FileCase[] = [
  prose('a line of recipients', 'Ana Reyes <ana@x.example>, Bo Salt <bo@x.example>', ANA_AND_BO),
  prose(
    'recipients with semicolons and family names first',
    '"Reyes, Ana" <ana@x.example>; "Salt, Bo" <bo@x.example>;',
    ANA_AND_BO,
  ),
  prose('recipients over several lines', 'To: Ana Reyes <ana@x.example>,\n\tBo Salt <bo@x.example>,\n cy@x.example', {
    ...ANA_AND_BO,
    'cy@x.example': '',
  }),
  prose('recipients one below the other', 'Ana Reyes <ana@x.example>\nBo Salt <bo@x.example>\n', ANA_AND_BO),
  prose('names in brackets behind', 'ana@x.example (Ana Reyes), bo@x.example (Bo Salt)', ANA_AND_BO),
  prose('words in brackets behind that are no name', 'Write to ana@x.example (our buyer) or bo@x.example (Sales).', {
    'ana@x.example': '',
    'bo@x.example': '',
  }),
  prose('quoted names with a group', 'Growers: Ana Reyes <ana@x.example>, Bo Salt <bo@x.example>;', ANA_AND_BO),
  prose(
    'encoded names',
    '=?utf-8?Q?Zo=C3=AB_Gagn=C3=A9?= <zoe@x.example>, =?iso-8859-1?B?Sm9z6SBO+vFleg==?= <jose@x.example>',
    { 'zoe@x.example': 'Zoë Gagné', 'jose@x.example': 'José Núñez' },
  ),
  prose(
    'sentences',
    'Please write to ana@x.example and to bo@x.example. Cy is at cy@x.example, I think; dee@x.example!',
    nobodyNamed('ana', 'bo', 'cy', 'dee'),
  ),
  prose(
    'signs of any language around',
    'Write to «ana@x.example» or –bo@x.example– … cy@x.example… and/or dee@x.example/eva@x.example,\n      fay@x.example’s, (gus@x.example), „hal@x.example“, mailto:ida@x.example?subject=Hi, [jo@x.example]; kim@x.example!',
    nobodyNamed('ana', 'bo', 'cy', 'dee', 'eva', 'fay', 'gus', 'hal', 'ida', 'jo', 'kim'),
  ),
  prose(
    'a list with bullets',
    '• ana@x.example\n• bo@x.example\n- cy@x.example\n* dee@x.example\n1. eva@x.example\n2) fay@x.example\n',
    nobodyNamed('ana', 'bo', 'cy', 'dee', 'eva', 'fay'),
  ),
  prose(
    'links of a marked text',
    'See [Ana](mailto:ana@x.example), <mailto:bo@x.example> and https://x.example/?to=no for cy@x.example',
    nobodyNamed('ana', 'bo', 'cy'),
  ),
  prose('one address a line', 'ana@x.example\r\nbo@x.example\r\n', nobodyNamed('ana', 'bo')),
  prose('addresses in one line', 'ana@x.example bo@x.example cy@x.example', nobodyNamed('ana', 'bo', 'cy')),
  prose('addresses with commas and a stop', 'ana@x.example,bo@x.example,cy@x.example.', nobodyNamed('ana', 'bo', 'cy')),
  prose(
    'the head of a letter',
    lines(
      'From: Ines Duarte <ines@tidewaterkelp.example>',
      'Sent: Monday, 30 November 2026 09:15',
      'To: Ana Reyes <ana@x.example>; Bo Salt <bo@x.example>',
      'Subject: Harvest',
    ),
    { 'ines@tidewaterkelp.example': 'Ines Duarte', ...ANA_AND_BO },
  ),
  prose('the same person twice', 'Ana Reyes <ana@x.example>, ana@x.example, Bo Salt <bo@x.example>', ANA_AND_BO, {
    aside: [1],
  }),
];
