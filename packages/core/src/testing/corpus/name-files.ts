import { lines, utf8, type FileCase } from './file-case';

const ADDRESS_OF = (i: number) => `p${i}@x.example`;

/** Full names as written in a sheet, with those by which a message greets. */
const names = (name: string, ...pairs: readonly (readonly [written: string, greeted: string])[]): FileCase => ({
  name,
  bytes: utf8(lines('name\temail', ...pairs.map(([written], i) => `${written}\t${ADDRESS_OF(i)}`))),
  people: Object.fromEntries(pairs.map(([, greeted], i) => [ADDRESS_OF(i), greeted])),
});

/** Addresses as written in a sheet, with those to which a message goes; null where it goes nowhere. */
const addresses = (
  name: string,
  ...pairs: readonly (readonly [written: string, address: string | null])[]
): FileCase => ({
  name,
  bytes: utf8(lines('nr\temail', 'first\tfirst@x.example', ...pairs.map(([written], i) => `${i}\t${written}`))),
  people: Object.fromEntries([
    ['first@x.example', ''],
    ...pairs.flatMap(([, address]) => (address === null ? [] : [[address, '']])),
  ]),
  aside: pairs.flatMap(([, address], i) => (address === null ? [i + 3] : [])),
});

export const NAME_FILES: readonly FileCase[] = [
  names(
    'names in capitals',
    ['JOHN SMITH III', 'John Smith'],
    ['ANA REYES MBA', 'Ana Reyes'],
    ['ANH LE', 'Anh Le'],
    ["SEAN O'NEIL", "Sean O'Neil"],
    ['JAN VAN DER BERG', 'Jan van der Berg'],
    ['JP SALT', 'JP Salt'],
    ['ANNE-MARIE LE GOFF', 'Anne-Marie Le Goff'],
    ['JÖRG WEISS', 'Jörg Weiss'],
    ['ÉLODIE ÇELIK', 'Élodie Çelik'],
    ['FIONA MCDONALD', 'Fiona McDonald'],
    ['MARÍA DE LA CRUZ', 'María de la Cruz'],
  ),
  names(
    'names in small letters',
    ['ana reyes', 'Ana Reyes'],
    ['jan van der berg', 'Jan van der Berg'],
    ["sean o'neil", "Sean O'Neil"],
    ['anne-marie d’angelo', 'Anne-Marie D’Angelo'],
    ['иван петров', 'Иван Петров'],
  ),
  names(
    'names of mixed case',
    ['Ana McDonald', 'Ana McDonald'],
    ['Bo DeVito', 'Bo DeVito'],
    ['Dee van der Meer', 'Dee van der Meer'],
    ['Li WANG', 'Li Wang'],
    ['REYES Ana', 'Ana Reyes'],
    ['DE LA CRUZ María', 'María de la Cruz'],
  ),
  names(
    'titles, degrees and suffixes',
    ['Dr. Ana Reyes', 'Ana Reyes'],
    ['Prof. Dr. Bo Salt', 'Bo Salt'],
    ['Mr Cy Voss', 'Cy Voss'],
    ['Dee Holm, PhD', 'Dee Holm'],
    ['Eva Lind Jr.', 'Eva Lind'],
    ['Frau Dipl.-Ing. Fee Grau', 'Fee Grau'],
    ['Gus Hall, M.D.', 'Gus Hall'],
    ['Mme Zoë Gagné', 'Zoë Gagné'],
    ['Sra. Inés Ortiz', 'Inés Ortiz'],
    ['Rev. Hal Moss Sr', 'Hal Moss'],
  ),
  names(
    'the family name first',
    ['Reyes, Ana', 'Ana Reyes'],
    ['VAN DER BERG, Jan', 'Jan van der Berg'],
    ['O’Neil, Sean P.', 'Sean P. O’Neil'],
    ['Salt, Dr. Bo', 'Bo Salt'],
  ),
  names(
    'blanks of other kinds',
    ['Ana\u00a0Reyes', 'Ana Reyes'],
    ['  Bo   Salt ', 'Bo Salt'],
    ['Cy\u200b Voss', 'Cy Voss'],
    ['Dee\u3000Holm', 'Dee Holm'],
    ['\u200eEva Lind\u200f', 'Eva Lind'],
  ),
  names('one word', ['Odile', 'Odile'], ['PRINCE', 'Prince'], ['Sukarno', 'Sukarno']),
  addresses(
    'capitals and blanks',
    ['  Ana@X.Example ', 'Ana@x.example'],
    ['bo @ x.example', 'bo@x.example'],
    ['cy@x.example.', 'cy@x.example'],
    ['dee@x.example;', 'dee@x.example'],
    ['eva@x.example,', 'eva@x.example'],
  ),
  addresses(
    'brackets and links',
    ['<ana@x.example>', 'ana@x.example'],
    ['mailto:bo@x.example', 'bo@x.example'],
    ['mailto:cy%2Bhops@x.example?subject=Hello', 'cy+hops@x.example'],
    ['(dee@x.example)', 'dee@x.example'],
    ['[eva@x.example](mailto:eva@x.example)', 'eva@x.example'],
    ['"fay@x.example"', 'fay@x.example'],
    ['E-mail: gus@x.example', 'gus@x.example'],
    ['<mailto:hal@x.example>', 'hal@x.example'],
  ),
  addresses(
    'marks that nobody sees',
    ['\u200eana@x.example\u200f', 'ana@x.example'],
    ['bo@x.example\u200b', 'bo@x.example'],
    ['\ufeffcy@x.example', 'cy@x.example'],
    ['dee@x\u00ad.example', 'dee@x.example'],
    ['\u00a0eva@x.example\u00a0', 'eva@x.example'],
  ),
  addresses(
    'full width and ideographic stops',
    ['ａｎａ＠ｘ．ｅｘａｍｐｌｅ', 'ana@x.example'],
    ['bo@x。example', 'bo@x.example'],
    ['cy＠x.example', 'cy@x.example'],
  ),
  addresses(
    'domains beyond ASCII',
    ['ana@bücher.example', 'ana@bücher.example'],
    ['bo@xn--bcher-kva.example', 'bo@xn--bcher-kva.example'],
    ['cy@xn--a.example', null],
    ['dee@straße.example', 'dee@straße.example'],
  ),
  addresses(
    'what is no address',
    ['n/a', null],
    ['-', null],
    ['ana', null],
    ['ana@', null],
    ['@x.example', null],
    ['ana@x', null],
    ['ana@@x.example', null],
    ['ana.x.example', null],
    ['ana@x..example', null],
    ['ana@-x.example', null],
    ['ana@x.example bo', null],
    ['ana@1.2.3.4', null],
  ),
  addresses(
    'local parts that are allowed',
    ["o'neil@x.example", "o'neil@x.example"],
    ['bo+kelp@x.example', 'bo+kelp@x.example'],
    ['cy_voss-1@x.example', 'cy_voss-1@x.example'],
    ['1234@x.example', '1234@x.example'],
    ['d.e.e@x.example', 'd.e.e@x.example'],
    ['josé@x.example', 'josé@x.example'],
  ),
  addresses(
    'several addresses in a cell',
    ['ana@x.example; ana@y.example', null],
    ['bo@x.example, bo@y.example', null],
    ['cy@x.example / cy@y.example', null],
    ['dee@x.example or dee@y.example', null],
  ),
];
