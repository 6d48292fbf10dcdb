import { lines, textFile, type FileCase } from './file-case';

const four = (row: (given: string, family: string, address: string) => string) =>
  lines(
    row('Odile', 'Marchetti', 'odile@marchetti.example'),
    row('Bo', 'Lindqvist', 'bo.lindqvist@lind.example'),
    row('Wren', 'Okafor', 'wokafor@deevines.example'),
    row('Ilse', 'Harrow', 'ilse.harrow@harrow.example'),
  );
const FOUR = {
  'odile@marchetti.example': 'Odile Marchetti',
  'bo.lindqvist@lind.example': 'Bo Lindqvist',
  'wokafor@deevines.example': 'Wren Okafor',
  'ilse.harrow@harrow.example': 'Ilse Harrow',
};
const GIVEN = {
  'odile@marchetti.example': 'Odile',
  'bo.lindqvist@lind.example': 'Bo',
  'wokafor@deevines.example': 'Wren',
  'ilse.harrow@harrow.example': 'Ilse',
};

/** Sheets of which nobody has named the columns, and headers that are not plain. */
export const FILES_WITH_GUESSES: readonly FileCase[] = [
  textFile(
    'full name and address',
    four((g, f, a) => `${g} ${f},${a}`),
    FOUR,
  ),
  textFile(
    'address and full name',
    four((g, f, a) => `${a};${g} ${f}`),
    FOUR,
  ),
  textFile(
    'family name first with a comma',
    four((g, f, a) => `"${f}, ${g}",${a}`),
    FOUR,
  ),
  textFile(
    'given name and address',
    four((g, _, a) => `${g},${a}`),
    GIVEN,
  ),
  textFile(
    'address and given name',
    four((g, _, a) => `${a}\t${g}`),
    GIVEN,
  ),
  textFile(
    'given name, family name, address',
    four((g, f, a) => `${g},${f},${a}`),
    FOUR,
  ),
  textFile(
    'family name, given name, address',
    four((g, f, a) => `${f};${g};${a}`),
    FOUR,
  ),
  textFile(
    'address, family name, given name',
    four((g, f, a) => `${a};${f};${g}`),
    FOUR,
  ),
  textFile(
    'number, given name, family name, address',
    four((g, f, a) => `${f.length},${g},${f},${a}`),
    FOUR,
  ),
  textFile(
    'addresses alone',
    four((_, __, a) => a),
    Object.fromEntries(Object.keys(FOUR).map((a) => [a, ''])),
  ),
  textFile(
    'addresses alone under a header',
    `Emails\n${four((_, __, a) => a)}`,
    Object.fromEntries(Object.keys(FOUR).map((a) => [a, ''])),
  ),
  textFile('one row alone, which may agree by chance', 'Odile Marchetti,odile@marchetti.example', {
    'odile@marchetti.example': '',
  }),
  textFile(
    'German given name and name',
    lines('Vorname;Name;Firmenname;E-Mail-Adresse', 'Ana;Reyes;Holm;ana@x.example', 'Bo;Salt;Ridge;bo@x.example'),
    { 'ana@x.example': 'Ana Reyes', 'bo@x.example': 'Bo Salt' },
    { roles: ['given_name', 'family_name', 'company', 'address'] },
  ),
  textFile('first and last', lines('First,Last,Email', 'Ana,Reyes,ana@x.example', 'Bo,Salt,bo@x.example'), {
    'ana@x.example': 'Ana Reyes',
    'bo@x.example': 'Bo Salt',
  }),
  textFile(
    'camel case',
    lines(
      'firstName,lastName,emailAddress,companyName,jobTitle',
      'Ana,Reyes,ana@x.example,Holm,Buyer',
      'Bo,Salt,bo@x.example,Ridge,Owner',
    ),
    { 'ana@x.example': 'Ana Reyes', 'bo@x.example': 'Bo Salt' },
    { roles: ['given_name', 'family_name', 'address', 'company', 'title'] },
  ),
  textFile(
    'snake case',
    lines(
      'first_name,last_name,email_address,company_name,job_title',
      'Ana,Reyes,ana@x.example,Holm,Buyer',
      'Bo,Salt,bo@x.example,Ridge,Owner',
    ),
    { 'ana@x.example': 'Ana Reyes', 'bo@x.example': 'Bo Salt' },
    { roles: ['given_name', 'family_name', 'address', 'company', 'title'] },
  ),
  textFile(
    'capitals and dots',
    lines('FIRST.NAME,LAST.NAME,E.MAIL', 'Ana,Reyes,ana@x.example', 'Bo,Salt,bo@x.example'),
    {
      'ana@x.example': 'Ana Reyes',
      'bo@x.example': 'Bo Salt',
    },
  ),
  textFile(
    'a prefix before each header',
    lines(
      'contact.first_name,contact.last_name,contact.email,contact.company',
      'Ana,Reyes,ana@x.example,Holm',
      'Bo,Salt,bo@x.example,Ridge',
    ),
    { 'ana@x.example': 'Ana Reyes', 'bo@x.example': 'Bo Salt' },
    { roles: ['given_name', 'family_name', 'address', 'company'] },
  ),
  textFile(
    'headers with what is asked in brackets',
    lines(
      'First name (required),Last name (required),Email (required)',
      'Ana,Reyes,ana@x.example',
      'Bo,Salt,bo@x.example',
    ),
    { 'ana@x.example': 'Ana Reyes', 'bo@x.example': 'Bo Salt' },
  ),
  textFile(
    'headers with stars and colons',
    lines('First name*,Last name*,E-mail:*', 'Ana,Reyes,ana@x.example', 'Bo,Salt,bo@x.example'),
    { 'ana@x.example': 'Ana Reyes', 'bo@x.example': 'Bo Salt' },
  ),
  textFile(
    'headers that ask',
    lines(
      'What is your first name?,What is your last name?,What is your email address?',
      'Ana,Reyes,ana@x.example',
      'Bo,Salt,bo@x.example',
    ),
    { 'ana@x.example': 'Ana Reyes', 'bo@x.example': 'Bo Salt' },
  ),
  textFile(
    'numbered addresses',
    lines(
      'First Name,Last Name,E-mail 1 - Value,E-mail 2 - Value',
      'Ana,Reyes,ana@x.example,ana@home.example',
      'Bo,Salt,bo@x.example,',
    ),
    { 'ana@x.example': 'Ana Reyes', 'bo@x.example': 'Bo Salt' },
  ),
  textFile(
    'an address book with middle names and suffixes',
    lines(
      'Title,First Name,Middle Name,Last Name,Suffix,Company,Job Title,E-mail Address',
      'Dr.,Ana,M.,Reyes,Jr.,Holm,Buyer,ana@x.example',
      ',Bo,,Salt,,Ridge,Owner,bo@x.example',
    ),
    { 'ana@x.example': 'Ana Reyes', 'bo@x.example': 'Bo Salt' },
  ),
  textFile(
    'a form of address beside a position',
    lines(
      'Title,First name,Last name,Position,Email',
      'Dr.,Ana,Reyes,Buyer,ana@x.example',
      'Mr,Bo,Salt,Owner,bo@x.example',
    ),
    { 'ana@x.example': 'Ana Reyes', 'bo@x.example': 'Bo Salt' },
    { roles: ['field', 'given_name', 'family_name', 'title', 'address'] },
  ),
  textFile(
    'a German form of address beside a position',
    lines(
      'Anrede;Titel;Vorname;Nachname;Position;E-Mail',
      'Frau;Dr.;Ana;Reyes;Einkauf;ana@x.example',
      'Herr;;Bo;Salt;Inhaber;bo@x.example',
    ),
    { 'ana@x.example': 'Ana Reyes', 'bo@x.example': 'Bo Salt' },
    { roles: ['field', 'field', 'given_name', 'family_name', 'title', 'address'] },
  ),
  textFile(
    'a full name beside given and family',
    lines('Name,First name,Last name,Email', 'Reyes Ana,Ana,Reyes,ana@x.example', 'Salt Bo,Bo,Salt,bo@x.example'),
    { 'ana@x.example': 'Ana Reyes', 'bo@x.example': 'Bo Salt' },
    { roles: ['field', 'given_name', 'family_name', 'address'] },
  ),
  textFile(
    'a full name and a preferred name',
    lines('Full name,Preferred name,Email', 'Anastasia Reyes,Ana,ana@x.example', 'Robert Salt,Bo,bo@x.example'),
    { 'ana@x.example': 'Anastasia Reyes', 'bo@x.example': 'Robert Salt' },
  ),
  textFile(
    'an infix in a column of its own',
    lines('Voornaam;Tussenvoegsel;Achternaam;E-mailadres', 'Anneke;de;Vries;ana@x.example', 'Bo;;Salt;bo@x.example'),
    { 'ana@x.example': 'Anneke Vries', 'bo@x.example': 'Bo Salt' },
    { fields: { 'ana@x.example': { tussenvoegsel: 'de' } } },
  ),
  textFile(
    'a company’s name as Name beside a contact',
    lines('Name,Contact,Email', 'Holm Vines Ltd,Ana Reyes,ana@x.example', 'Ridge Hops Ltd,Bo Salt,bo@x.example'),
    { 'ana@x.example': 'Ana Reyes', 'bo@x.example': 'Bo Salt' },
    { roles: ['company', 'full_name', 'address'] },
  ),
  textFile(
    'Copy that holds whether they got one',
    lines('Name,Email,Copy to', 'Ana Reyes,ana@x.example,yes', 'Bo Salt,bo@x.example,no'),
    { 'ana@x.example': 'Ana Reyes', 'bo@x.example': 'Bo Salt' },
    { roles: ['full_name', 'address', 'field'] },
  ),
  textFile(
    'Email that holds whether they may be written to',
    lines('Name,Email,Email address', 'Ana Reyes,yes,ana@x.example', 'Bo Salt,no,bo@x.example'),
    { 'ana@x.example': 'Ana Reyes', 'bo@x.example': 'Bo Salt' },
  ),
  textFile(
    'Address that is a street',
    lines('Name,Address,Mail', 'Ana Reyes,1 Pier Road,ana@x.example', 'Bo Salt,2 Pier Road,bo@x.example'),
    { 'ana@x.example': 'Ana Reyes', 'bo@x.example': 'Bo Salt' },
    { fields: { 'ana@x.example': { address: '1 Pier Road' } } },
  ),
  textFile(
    'de as a column of places of origin',
    lines('nombre;de;correo', 'Ana Reyes;Holm;ana@x.example', 'Bo Salt;Ridge;bo@x.example'),
    { 'ana@x.example': 'Ana Reyes', 'bo@x.example': 'Bo Salt' },
  ),
];
