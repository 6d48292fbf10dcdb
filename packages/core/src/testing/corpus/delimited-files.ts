import { ANA_AND_BO, bytesOf, CITIES, joined, lines, textFile, utf16, utf8, type FileCase } from './file-case';

const BOM = '\ufeff';
const SHEET = lines('name\temail\tcity', 'Ana Reyes\tana@x.example\tHolm', 'Bo Salt\tbo@x.example\tRidge');

/** Text with delimiters, as programs of all kinds write it. */
export const DELIMITED_FILES: readonly FileCase[] = [
  // Line ends.
  textFile('lines that end in CR, LF and CRLF', 'name,email\rAna Reyes,ana@x.example\nBo Salt,bo@x.example\r\n'),
  textFile('CRLF, then LF', 'name,email\r\nAna Reyes,ana@x.example\r\nBo Salt,bo@x.example\n'),
  textFile('LF, then CRLF', 'name,email\nAna Reyes,ana@x.example\r\nBo Salt,bo@x.example\r\n'),
  textFile('CR alone', 'name,email\rAna Reyes,ana@x.example\rBo Salt,bo@x.example\r'),
  textFile('CR CR LF', 'name,email\r\r\nAna Reyes,ana@x.example\r\r\nBo Salt,bo@x.example\r\r\n'),
  textFile(
    'a line break of another kind inside a cell',
    'name,email,note\r\nAna Reyes,ana@x.example,"one\ntwo"\r\nBo Salt,bo@x.example,x\r\n',
    ANA_AND_BO,
    { fields: { 'ana@x.example': { note: 'one\ntwo' } } },
  ),
  textFile('blank lines between rows', 'name,email\n\n\nAna Reyes,ana@x.example\n\nBo Salt,bo@x.example\n\n\n'),
  textFile(
    'lines of delimiters alone',
    lines('name,email,city', ',,', 'Ana Reyes,ana@x.example,Holm', ',,', 'Bo Salt,bo@x.example,Ridge', ',,', ',,'),
    ANA_AND_BO,
    { fields: CITIES },
  ),
  // Delimiters.
  ...[';', '|', '\t', ',', '~', '^'].map((sign) =>
    textFile(`a delimiter of ${JSON.stringify(sign)}`, SHEET.replaceAll('\t', sign), ANA_AND_BO, { fields: CITIES }),
  ),
  textFile('a first line that names the delimiter', `sep=;\n${SHEET.replaceAll('\t', ';')}`, ANA_AND_BO, {
    fields: CITIES,
  }),
  textFile(
    'a byte order mark and a line that names the delimiter',
    `${BOM}sep=,\r\n${SHEET.replaceAll('\t', ',').replaceAll('\n', '\r\n')}`,
    ANA_AND_BO,
    { fields: CITIES },
  ),
  textFile(
    'commas in cells between semicolons',
    lines('name;email;address', 'Ana Reyes;ana@x.example;1, Pier, Holm', 'Bo Salt;bo@x.example;2, Pier, Ridge'),
    ANA_AND_BO,
    { fields: { 'ana@x.example': { address: '1, Pier, Holm' } } },
  ),
  textFile(
    'decimal commas between semicolons',
    lines('name;email;share', 'Ana Reyes;ana@x.example;1,5', 'Bo Salt;bo@x.example;2,25'),
    ANA_AND_BO,
    { fields: { 'bo@x.example': { share: '2,25' } } },
  ),
  textFile(
    'semicolons in cells between commas',
    lines('name,email,crops', 'Ana Reyes,ana@x.example,vines;apples;kelp', 'Bo Salt,bo@x.example,hops;pears;kelp'),
    ANA_AND_BO,
    { fields: { 'ana@x.example': { crops: 'vines;apples;kelp' } } },
  ),
  textFile(
    'a delimiter at the end of every line',
    lines('name,email,', 'Ana Reyes,ana@x.example,', 'Bo Salt,bo@x.example,'),
  ),
  textFile(
    'a delimiter at the end of the rows alone',
    lines('name,email', 'Ana Reyes,ana@x.example,', 'Bo Salt,bo@x.example,,'),
  ),
  textFile(
    'a delimiter at the head of every line',
    lines(',name,email', '1,Ana Reyes,ana@x.example', '2,Bo Salt,bo@x.example'),
  ),
  textFile(
    'rows shorter than the header',
    lines('name,email,city,note', 'Ana Reyes,ana@x.example', 'Bo Salt,bo@x.example,Ridge'),
    ANA_AND_BO,
    { fields: { 'bo@x.example': { city: 'Ridge' } } },
  ),
  textFile(
    'a row longer than the header',
    lines('name,email', 'Ana Reyes,ana@x.example', 'Bo Salt,bo@x.example', 'Cy Voss,cy@x.example,and more'),
    ANA_AND_BO,
    { aside: [4] },
  ),
  textFile(
    'two blanks and more between columns',
    lines(
      'name         email            city',
      'Ana Reyes    ana@x.example    Holm',
      'Bo Salt      bo@x.example     Ridge',
    ),
    ANA_AND_BO,
    { fields: CITIES },
  ),
  textFile(
    'a table of plus, minus and bars',
    lines(
      '+-----------+---------------+-------+',
      '| name      | email         | city  |',
      '+-----------+---------------+-------+',
      '| Ana Reyes | ana@x.example | Holm  |',
      '| Bo Salt   | bo@x.example  | Ridge |',
      '+-----------+---------------+-------+',
    ),
    ANA_AND_BO,
    { fields: CITIES },
  ),
  textFile(
    'a table of bars with a line of dashes',
    lines(
      '| name | email | city |',
      '|---|:---:|---|',
      '| Ana Reyes | ana@x.example | Holm |',
      '| Bo Salt | bo@x.example | Ridge |',
    ),
    ANA_AND_BO,
    { fields: CITIES },
  ),
  // Quotes.
  textFile(
    'blanks around quotes',
    lines('name, email ,note', ' "Reyes, Ana" , "ana@x.example" , "a ""q"" b"', ' "Salt, Bo" ,"bo@x.example", x'),
    ANA_AND_BO,
    { fields: { 'ana@x.example': { note: 'a "q" b' } } },
  ),
  textFile(
    'single quotes',
    lines('name,email,note', "'Reyes, Ana','ana@x.example','don\u2019t'", "'Salt, Bo','bo@x.example','O\u2019Neil'"),
  ),
  textFile(
    'backslashes before quotes',
    lines('name,email,note', '"Reyes, Ana","ana@x.example","says \\"yes\\""', '"Salt, Bo","bo@x.example","no"'),
    ANA_AND_BO,
    { fields: { 'ana@x.example': { note: 'says "yes"' } } },
  ),
  textFile(
    'every cell quoted',
    lines('"name","email","city"', '"Ana Reyes","ana@x.example","Holm"', '"Bo Salt","bo@x.example","Ridge"'),
    ANA_AND_BO,
    { fields: CITIES },
  ),
  textFile(
    'quotes inside cells without any around',
    lines('name,email,note', 'Ana Reyes,ana@x.example,pipe of 5" width', 'Bo Salt,bo@x.example,6" and 8"'),
    ANA_AND_BO,
    { fields: { 'ana@x.example': { note: 'pipe of 5" width' } } },
  ),
  textFile(
    'a quote that is opened and never closed',
    lines('name,email,note', 'Ana Reyes,ana@x.example,"open', 'Bo Salt,bo@x.example,x'),
    { 'bo@x.example': 'Bo Salt' },
    { aside: [2] },
  ),
  textFile(
    'typographic quotes around cells',
    lines('name,email,note', 'Ana Reyes,ana@x.example,“fine, thanks”', 'Bo Salt,bo@x.example,“no”'),
    { 'bo@x.example': 'Bo Salt' },
    { aside: [2] },
  ),
  textFile(
    'cells that are to stay texts',
    lines('name,email,zip', '="Ana Reyes",="ana@x.example",="01234"', '="Bo Salt",="bo@x.example",="00123"'),
    ANA_AND_BO,
    { fields: { 'ana@x.example': { zip: '01234' } } },
  ),
  textFile(
    'the same quoted',
    lines('name,email', '"=""Ana Reyes""","=""ana@x.example"""', '"=""Bo Salt""","=""bo@x.example"""'),
  ),
  textFile(
    'an apostrophe before each text',
    lines('name,email,zip', "'Ana Reyes,'ana@x.example,'01234", "'Bo Salt,'bo@x.example,'00123"),
    ANA_AND_BO,
    { fields: { 'ana@x.example': { zip: '01234' } } },
  ),
  textFile(
    'a header over several lines',
    'name,"email\naddress","city\n(town)"\nAna Reyes,ana@x.example,Holm\nBo Salt,bo@x.example,Ridge\n',
    ANA_AND_BO,
    { fields: { 'ana@x.example': { citytown: 'Holm' } } },
  ),
  textFile(
    'quoted line breaks at the end of cells',
    'name,email\n"Ana Reyes\n","ana@x.example\n"\n"Bo Salt\n","bo@x.example\n"\n',
  ),
  // Bytes.
  textFile('a byte order mark', `${BOM}email;name\nana@x.example;Ana Reyes\nbo@x.example;Bo Salt`),
  textFile(
    'a byte order mark before a quote',
    `${BOM}"email";"name"\n"ana@x.example";"Ana Reyes"\n"bo@x.example";"Bo Salt"`,
  ),
  ...(['le', 'be'] as const).flatMap((order) => [
    { name: `UTF-16 ${order} with a mark`, bytes: utf16(BOM + SHEET, order), people: ANA_AND_BO, fields: CITIES },
    { name: `UTF-16 ${order} without`, bytes: utf16(SHEET, order), people: ANA_AND_BO, fields: CITIES },
  ]),
  textFile(
    'zero bytes behind cells and at the end',
    'name,email\0\0\nAna Reyes\0\0,ana@x.example\0\0\0\nBo Salt,bo@x.example\0\n\0\0\0\0',
  ),
  textFile('the sign for the end of a file', `${SHEET}\n\u001a`, ANA_AND_BO, { fields: CITIES }),
  {
    name: 'one line in another encoding',
    bytes: joined(
      utf8('name,email\nAna Réyes,ana@x.example\nBo Sält,bo@x.example\nZo'),
      bytesOf(0xeb),
      utf8(' Voss,zoe@x.example\n'),
    ),
    people: { 'ana@x.example': 'Ana Réyes', 'bo@x.example': 'Bo Sält', 'zoe@x.example': 'Zoë Voss' },
  },
  textFile(
    'letters broken by being read in the wrong encoding',
    lines('name,email', 'ZoÃ« GagnÃ©,zoe@x.example', 'JosÃ© NÃºÃ±ez,jose@x.example'),
    { 'zoe@x.example': 'Zoë Gagné', 'jose@x.example': 'José Núñez' },
  ),
  textFile(
    'signs of HTML in cells',
    lines('name,email,company', 'Ana Reyes,ana@x.example,Salt &amp; Sons', 'Bo Salt,bo@x.example,Holm'),
    ANA_AND_BO,
    { fields: { 'ana@x.example': { company: 'Salt & Sons' } } },
  ),
];
