import { ANA_AND_BO, CITIES, lines, textFile, type FileCase } from './file-case';

/** Text with delimiters: which line names the columns, what stands around it, and which column holds the addresses. */
export const LAID_OUT_FILES: readonly FileCase[] = [
  // What stands above and below.
  textFile(
    'two header rows',
    lines('Contact,,Company', 'Name,Email,Firm', 'Ana Reyes,ana@x.example,Holm', 'Bo Salt,bo@x.example,Salt'),
  ),
  textFile(
    'groups above the header',
    lines('Person,Person,Estate', 'first name,last name,e-mail', 'Ana,Reyes,ana@x.example', 'Bo,Salt,bo@x.example'),
  ),
  textFile(
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
  textFile(
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
  textFile(
    'people above a header of their own',
    lines('ana@x.example', 'bo@x.example', 'name,email,city', 'Cy Voss,cy@x.example,Holm'),
    { 'ana@x.example': '', 'bo@x.example': '' },
    { aside: [3, 4] },
  ),
  textFile(
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
  textFile(
    'a total below the rows',
    lines('name,email,acres', 'Ana Reyes,ana@x.example,12', 'Bo Salt,bo@x.example,30', 'Total,,42'),
    ANA_AND_BO,
    { aside: [4] },
  ),
  textFile(
    'a note below the rows',
    lines('name,email,acres', 'Ana Reyes,ana@x.example,12', 'Bo Salt,bo@x.example,30', '', 'End of the list'),
    ANA_AND_BO,
    { aside: [5] },
  ),
  textFile(
    'the header once more in the middle',
    lines('name,email', 'Ana Reyes,ana@x.example', 'name,email', 'Bo Salt,bo@x.example'),
    ANA_AND_BO,
    { aside: [3] },
  ),
  textFile(
    'units below the header',
    lines('name,email,acres', 'text,text,number', 'Ana Reyes,ana@x.example,12', 'Bo Salt,bo@x.example,30'),
    ANA_AND_BO,
    { aside: [2] },
  ),
  textFile(
    'two columns of one name',
    lines('name,email,phone,phone', 'Ana Reyes,ana@x.example,1,2', 'Bo Salt,bo@x.example,3,4'),
    ANA_AND_BO,
    { fields: { 'ana@x.example': { phone: '1', phone2: '2' } } },
  ),
  textFile(
    'a column without a name',
    lines('name,email,', 'Ana Reyes,ana@x.example,Holm', 'Bo Salt,bo@x.example,Ridge'),
    ANA_AND_BO,
    { fields: { 'ana@x.example': { column3: 'Holm' } } },
  ),
  // Which column of addresses.
  textFile(
    'a sparse column of addresses before the full one',
    lines(
      'name,work email,private email',
      'Ana Reyes,,ana@x.example',
      'Bo Salt,bo@w.example,bo@x.example',
      'Cy Voss,,cy@x.example',
    ),
    { ...ANA_AND_BO, 'cy@x.example': 'Cy Voss' },
  ),
  textFile(
    'senders before recipients',
    lines(
      'From,To,Name',
      'ines@tidewaterkelp.example,ana@x.example,Ana Reyes',
      'ines@tidewaterkelp.example,bo@x.example,Bo Salt',
    ),
  ),
  textFile(
    'owners before contacts',
    lines(
      'Account Owner,Contact email,Name',
      'ines@tidewaterkelp.example,ana@x.example,Ana Reyes',
      'tomas@tidewaterkelp.example,bo@x.example,Bo Salt',
    ),
  ),
  textFile(
    'owners of whom each has one row',
    lines(
      'Owner Email,Email,Name',
      'ines@tidewaterkelp.example,ana@x.example,Ana Reyes',
      'tomas@tidewaterkelp.example,bo@x.example,Bo Salt',
    ),
  ),
  textFile(
    'who made a row and who changed it',
    lines(
      'Created By,Name,Email,Last modified by',
      'ines@t.example,Ana Reyes,ana@x.example,tomas@t.example',
      'tomas@t.example,Bo Salt,bo@x.example,ines@t.example',
    ),
  ),
  textFile(
    'somebody without a header who is the same in all rows',
    lines(
      'Betreut,Kontakt,Post',
      'ines@tidewaterkelp.example,Ana Reyes,ana@x.example',
      'ines@tidewaterkelp.example,Bo Salt,bo@x.example',
    ),
  ),
  textFile(
    'a referrer beside the person',
    lines('Name,Email,Referred by', 'Ana Reyes,ana@x.example,cy@y.example', 'Bo Salt,bo@x.example,dee@y.example'),
  ),
  textFile(
    'an assistant before the person',
    lines('Name,Assistant email,Email', 'Ana Reyes,pa1@y.example,ana@x.example', 'Bo Salt,pa2@y.example,bo@x.example'),
  ),
  textFile(
    'addresses with their owners’ names in one cell',
    lines('Recipient,City', 'Ana Reyes <ana@x.example>,Holm', '"""Salt, Bo"" <bo@x.example>",Ridge'),
  ),
  // Objects.
  textFile(
    'an object a line',
    lines('{"name":"Ana Reyes","email":"ana@x.example"}', '{"name":"Bo Salt","email":"bo@x.example"}'),
  ),
  textFile(
    'a list of objects',
    '[{"name":"Ana Reyes","email":"ana@x.example"},\n {"name":"Bo Salt","email":"bo@x.example"}]',
  ),
  textFile(
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
  textFile(
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
