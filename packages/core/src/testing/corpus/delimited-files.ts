import { ANA_AND_BO, bytesOf, joined, lines, utf16, utf8, type FileCase } from './file-case';

const file = (
  name: string,
  text: string,
  people: FileCase['people'] = ANA_AND_BO,
  more: Partial<FileCase> = {},
): FileCase => ({
  name,
  bytes: utf8(text),
  people,
  ...more,
});
const BOM = '\ufeff';
const SHEET = lines('name\temail\tcity', 'Ana Reyes\tana@x.example\tHolm', 'Bo Salt\tbo@x.example\tRidge');
const CITIES = { 'ana@x.example': { city: 'Holm' }, 'bo@x.example': { city: 'Ridge' } };

/** Text with delimiters, as programs of all kinds write it. */
export const DELIMITED_FILES: readonly FileCase[] = [
  // Line ends.
  file('lines that end in CR, LF and CRLF', 'name,email\rAna Reyes,ana@x.example\nBo Salt,bo@x.example\r\n'),
  file('CRLF, then LF', 'name,email\r\nAna Reyes,ana@x.example\r\nBo Salt,bo@x.example\n'),
  file('LF, then CRLF', 'name,email\nAna Reyes,ana@x.example\r\nBo Salt,bo@x.example\r\n'),
  file('CR alone', 'name,email\rAna Reyes,ana@x.example\rBo Salt,bo@x.example\r'),
  file('CR CR LF', 'name,email\r\r\nAna Reyes,ana@x.example\r\r\nBo Salt,bo@x.example\r\r\n'),
  file(
    'a line break of another kind inside a cell',
    'name,email,note\r\nAna Reyes,ana@x.example,"one\ntwo"\r\nBo Salt,bo@x.example,x\r\n',
    ANA_AND_BO,
    { fields: { 'ana@x.example': { note: 'one\ntwo' } } },
  ),
  file('blank lines between rows', 'name,email\n\n\nAna Reyes,ana@x.example\n\nBo Salt,bo@x.example\n\n\n'),
  file(
    'lines of delimiters alone',
    lines('name,email,city', ',,', 'Ana Reyes,ana@x.example,Holm', ',,', 'Bo Salt,bo@x.example,Ridge', ',,', ',,'),
    ANA_AND_BO,
    { fields: CITIES },
  ),
  // Delimiters.
  ...[';', '|', '\t', ',', '~', '^'].map((sign) =>
    file(`a delimiter of ${JSON.stringify(sign)}`, SHEET.replaceAll('\t', sign), ANA_AND_BO, { fields: CITIES }),
  ),
  file('a first line that names the delimiter', `sep=;\n${SHEET.replaceAll('\t', ';')}`, ANA_AND_BO, {
    fields: CITIES,
  }),
  file(
    'a byte order mark and a line that names the delimiter',
    `${BOM}sep=,\r\n${SHEET.replaceAll('\t', ',').replaceAll('\n', '\r\n')}`,
    ANA_AND_BO,
    { fields: CITIES },
  ),
  file(
    'commas in cells between semicolons',
    lines('name;email;address', 'Ana Reyes;ana@x.example;1, Pier, Holm', 'Bo Salt;bo@x.example;2, Pier, Ridge'),
    ANA_AND_BO,
    { fields: { 'ana@x.example': { address: '1, Pier, Holm' } } },
  ),
  file(
    'decimal commas between semicolons',
    lines('name;email;share', 'Ana Reyes;ana@x.example;1,5', 'Bo Salt;bo@x.example;2,25'),
    ANA_AND_BO,
    { fields: { 'bo@x.example': { share: '2,25' } } },
  ),
  file(
    'semicolons in cells between commas',
    lines('name,email,crops', 'Ana Reyes,ana@x.example,vines;apples;kelp', 'Bo Salt,bo@x.example,hops;pears;kelp'),
    ANA_AND_BO,
    { fields: { 'ana@x.example': { crops: 'vines;apples;kelp' } } },
  ),
  file(
    'a delimiter at the end of every line',
    lines('name,email,', 'Ana Reyes,ana@x.example,', 'Bo Salt,bo@x.example,'),
  ),
  file(
    'a delimiter at the end of the rows alone',
    lines('name,email', 'Ana Reyes,ana@x.example,', 'Bo Salt,bo@x.example,,'),
  ),
  file(
    'a delimiter at the head of every line',
    lines(',name,email', '1,Ana Reyes,ana@x.example', '2,Bo Salt,bo@x.example'),
  ),
  file(
    'rows shorter than the header',
    lines('name,email,city,note', 'Ana Reyes,ana@x.example', 'Bo Salt,bo@x.example,Ridge'),
    ANA_AND_BO,
    { fields: { 'bo@x.example': { city: 'Ridge' } } },
  ),
  file(
    'a row longer than the header',
    lines('name,email', 'Ana Reyes,ana@x.example', 'Bo Salt,bo@x.example', 'Cy Voss,cy@x.example,and more'),
    ANA_AND_BO,
    { aside: [4] },
  ),
  file(
    'two blanks and more between columns',
    lines(
      'name         email            city',
      'Ana Reyes    ana@x.example    Holm',
      'Bo Salt      bo@x.example     Ridge',
    ),
    ANA_AND_BO,
    { fields: CITIES },
  ),
  file(
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
  file(
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
  file(
    'blanks around quotes',
    lines('name, email ,note', ' "Reyes, Ana" , "ana@x.example" , "a ""q"" b"', ' "Salt, Bo" ,"bo@x.example", x'),
    ANA_AND_BO,
    { fields: { 'ana@x.example': { note: 'a "q" b' } } },
  ),
  file(
    'single quotes',
    lines('name,email,note', "'Reyes, Ana','ana@x.example','don\u2019t'", "'Salt, Bo','bo@x.example','O\u2019Neil'"),
  ),
  file(
    'backslashes before quotes',
    lines('name,email,note', '"Reyes, Ana","ana@x.example","says \\"yes\\""', '"Salt, Bo","bo@x.example","no"'),
    ANA_AND_BO,
    { fields: { 'ana@x.example': { note: 'says "yes"' } } },
  ),
  file(
    'every cell quoted',
    lines('"name","email","city"', '"Ana Reyes","ana@x.example","Holm"', '"Bo Salt","bo@x.example","Ridge"'),
    ANA_AND_BO,
    { fields: CITIES },
  ),
  file(
    'quotes inside cells without any around',
    lines('name,email,note', 'Ana Reyes,ana@x.example,pipe of 5" width', 'Bo Salt,bo@x.example,6" and 8"'),
    ANA_AND_BO,
    { fields: { 'ana@x.example': { note: 'pipe of 5" width' } } },
  ),
  file(
    'a quote that is opened and never closed',
    lines('name,email,note', 'Ana Reyes,ana@x.example,"open', 'Bo Salt,bo@x.example,x'),
    { 'bo@x.example': 'Bo Salt' },
    { aside: [2] },
  ),
  file(
    'typographic quotes around cells',
    lines('name,email,note', 'Ana Reyes,ana@x.example,“fine, thanks”', 'Bo Salt,bo@x.example,“no”'),
    { 'bo@x.example': 'Bo Salt' },
    { aside: [2] },
  ),
  file(
    'cells that are to stay texts',
    lines('name,email,zip', '="Ana Reyes",="ana@x.example",="01234"', '="Bo Salt",="bo@x.example",="00123"'),
    ANA_AND_BO,
    { fields: { 'ana@x.example': { zip: '01234' } } },
  ),
  file(
    'the same quoted',
    lines('name,email', '"=""Ana Reyes""","=""ana@x.example"""', '"=""Bo Salt""","=""bo@x.example"""'),
  ),
  file(
    'an apostrophe before each text',
    lines('name,email,zip', "'Ana Reyes,'ana@x.example,'01234", "'Bo Salt,'bo@x.example,'00123"),
    ANA_AND_BO,
    { fields: { 'ana@x.example': { zip: '01234' } } },
  ),
  file(
    'a header over several lines',
    'name,"email\naddress","city\n(town)"\nAna Reyes,ana@x.example,Holm\nBo Salt,bo@x.example,Ridge\n',
    ANA_AND_BO,
    { fields: { 'ana@x.example': { citytown: 'Holm' } } },
  ),
  file(
    'quoted line breaks at the end of cells',
    'name,email\n"Ana Reyes\n","ana@x.example\n"\n"Bo Salt\n","bo@x.example\n"\n',
  ),
  // Bytes.
  file('a byte order mark', `${BOM}email;name\nana@x.example;Ana Reyes\nbo@x.example;Bo Salt`),
  file(
    'a byte order mark before a quote',
    `${BOM}"email";"name"\n"ana@x.example";"Ana Reyes"\n"bo@x.example";"Bo Salt"`,
  ),
  ...(['le', 'be'] as const).flatMap((order) => [
    { name: `UTF-16 ${order} with a mark`, bytes: utf16(BOM + SHEET, order), people: ANA_AND_BO, fields: CITIES },
    { name: `UTF-16 ${order} without`, bytes: utf16(SHEET, order), people: ANA_AND_BO, fields: CITIES },
  ]),
  file(
    'zero bytes behind cells and at the end',
    'name,email\0\0\nAna Reyes\0\0,ana@x.example\0\0\0\nBo Salt,bo@x.example\0\n\0\0\0\0',
  ),
  file('the sign for the end of a file', `${SHEET}\n\u001a`, ANA_AND_BO, { fields: CITIES }),
  {
    name: 'one line in another encoding',
    bytes: joined(
      utf8('name,email\nAna Réyes,ana@x.example\nBo Sält,bo@x.example\nZo'),
      bytesOf(0xeb),
      utf8(' Voss,zoe@x.example\n'),
    ),
    people: { 'ana@x.example': 'Ana Réyes', 'bo@x.example': 'Bo Sält', 'zoe@x.example': 'Zoë Voss' },
  },
  file(
    'letters broken by being read in the wrong encoding',
    lines('name,email', 'ZoÃ« GagnÃ©,zoe@x.example', 'JosÃ© NÃºÃ±ez,jose@x.example'),
    { 'zoe@x.example': 'Zoë Gagné', 'jose@x.example': 'José Núñez' },
  ),
  file(
    'signs of HTML in cells',
    lines('name,email,company', 'Ana Reyes,ana@x.example,Salt &amp; Sons', 'Bo Salt,bo@x.example,Holm'),
    ANA_AND_BO,
    { fields: { 'ana@x.example': { company: 'Salt & Sons' } } },
  ),
  // What stands above and below.
  file(
    'two header rows',
    lines('Contact,,Company', 'Name,Email,Firm', 'Ana Reyes,ana@x.example,Holm', 'Bo Salt,bo@x.example,Salt'),
  ),
  file(
    'groups above the header',
    lines('Person,Person,Estate', 'first name,last name,e-mail', 'Ana,Reyes,ana@x.example', 'Bo,Salt,bo@x.example'),
  ),
  file(
    'a title and a date above the header',
    lines(
      'Growers of the harvest newsletter',
      'Printed on,29/11/2026',
      '',
      'name,email,city',
      'Ana Reyes,ana@x.example,Holm',
      'Bo Salt,bo@x.example,Ridge',
    ),
    ANA_AND_BO,
    { fields: CITIES },
  ),
  file(
    'a title with an address above the header',
    lines(
      'Questions to office@tidewaterkelp.example',
      '',
      'name,email,city',
      'Ana Reyes,ana@x.example,Holm',
      'Bo Salt,bo@x.example,Ridge',
    ),
    ANA_AND_BO,
    { fields: CITIES },
  ),
  file(
    'people above a header of their own',
    lines('ana@x.example', 'bo@x.example', 'name,email,city', 'Cy Voss,cy@x.example,Holm'),
    { 'ana@x.example': '', 'bo@x.example': '' },
    { aside: [3, 4] },
  ),
  file(
    'comments above the header',
    lines(
      '# exported 2026-11-29',
      '# 2 rows',
      'name,email,city',
      'Ana Reyes,ana@x.example,Holm',
      'Bo Salt,bo@x.example,Ridge',
    ),
    ANA_AND_BO,
    { fields: CITIES },
  ),
  file(
    'a total below the rows',
    lines('name,email,acres', 'Ana Reyes,ana@x.example,12', 'Bo Salt,bo@x.example,30', 'Total,,42'),
    ANA_AND_BO,
    { aside: [4] },
  ),
  file(
    'a note below the rows',
    lines('name,email,acres', 'Ana Reyes,ana@x.example,12', 'Bo Salt,bo@x.example,30', '', 'End of the list'),
    ANA_AND_BO,
    { aside: [5] },
  ),
  file(
    'the header once more in the middle',
    lines('name,email', 'Ana Reyes,ana@x.example', 'name,email', 'Bo Salt,bo@x.example'),
    ANA_AND_BO,
    { aside: [3] },
  ),
  file(
    'units below the header',
    lines('name,email,acres', 'text,text,number', 'Ana Reyes,ana@x.example,12', 'Bo Salt,bo@x.example,30'),
    ANA_AND_BO,
    { aside: [2] },
  ),
  file(
    'two columns of one name',
    lines('name,email,phone,phone', 'Ana Reyes,ana@x.example,1,2', 'Bo Salt,bo@x.example,3,4'),
    ANA_AND_BO,
    { fields: { 'ana@x.example': { phone: '1', phone2: '2' } } },
  ),
  file(
    'a column without a name',
    lines('name,email,', 'Ana Reyes,ana@x.example,Holm', 'Bo Salt,bo@x.example,Ridge'),
    ANA_AND_BO,
    { fields: { 'ana@x.example': { column3: 'Holm' } } },
  ),
  // Which column of addresses.
  file(
    'a sparse column of addresses before the full one',
    lines(
      'name,work email,private email',
      'Ana Reyes,,ana@x.example',
      'Bo Salt,bo@w.example,bo@x.example',
      'Cy Voss,,cy@x.example',
    ),
    { ...ANA_AND_BO, 'cy@x.example': 'Cy Voss' },
  ),
  file(
    'senders before recipients',
    lines(
      'From,To,Name',
      'ines@tidewaterkelp.example,ana@x.example,Ana Reyes',
      'ines@tidewaterkelp.example,bo@x.example,Bo Salt',
    ),
  ),
  file(
    'owners before contacts',
    lines(
      'Account Owner,Contact email,Name',
      'ines@tidewaterkelp.example,ana@x.example,Ana Reyes',
      'tomas@tidewaterkelp.example,bo@x.example,Bo Salt',
    ),
  ),
  file(
    'owners of whom each has one row',
    lines(
      'Owner Email,Email,Name',
      'ines@tidewaterkelp.example,ana@x.example,Ana Reyes',
      'tomas@tidewaterkelp.example,bo@x.example,Bo Salt',
    ),
  ),
  file(
    'who made a row and who changed it',
    lines(
      'Created By,Name,Email,Last modified by',
      'ines@t.example,Ana Reyes,ana@x.example,tomas@t.example',
      'tomas@t.example,Bo Salt,bo@x.example,ines@t.example',
    ),
  ),
  file(
    'somebody without a header who is the same in all rows',
    lines(
      'Betreut,Kontakt,Post',
      'ines@tidewaterkelp.example,Ana Reyes,ana@x.example',
      'ines@tidewaterkelp.example,Bo Salt,bo@x.example',
    ),
  ),
  file(
    'a referrer beside the person',
    lines('Name,Email,Referred by', 'Ana Reyes,ana@x.example,cy@y.example', 'Bo Salt,bo@x.example,dee@y.example'),
  ),
  file(
    'an assistant before the person',
    lines('Name,Assistant email,Email', 'Ana Reyes,pa1@y.example,ana@x.example', 'Bo Salt,pa2@y.example,bo@x.example'),
  ),
  file(
    'addresses with their owners’ names in one cell',
    lines('Recipient,City', 'Ana Reyes <ana@x.example>,Holm', '"""Salt, Bo"" <bo@x.example>",Ridge'),
  ),
  // Objects.
  file(
    'an object a line',
    lines('{"name":"Ana Reyes","email":"ana@x.example"}', '{"name":"Bo Salt","email":"bo@x.example"}'),
  ),
  file(
    'a list of objects',
    '[{"name":"Ana Reyes","email":"ana@x.example"},\n {"name":"Bo Salt","email":"bo@x.example"}]',
  ),
  file(
    'a list of objects over many lines',
    JSON.stringify(
      [
        { name: 'Ana Reyes', email: 'ana@x.example', city: 'Holm' },
        { name: 'Bo Salt', email: 'bo@x.example', city: 'Ridge' },
      ],
      null,
      2,
    ),
    ANA_AND_BO,
    { fields: CITIES },
  ),
  file(
    'a list of objects inside an object',
    JSON.stringify(
      {
        count: 2,
        people: [
          { name: 'Ana Reyes', email: 'ana@x.example', city: 'Holm' },
          { name: 'Bo Salt', email: 'bo@x.example', city: 'Ridge' },
        ],
      },
      null,
      2,
    ),
    ANA_AND_BO,
    { fields: CITIES },
  ),
];
