import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { renameField } from './rename-field';
import { splitTags } from './split-tags';
import { askedFields, compileTemplate, findFault, listFields, setFallback } from './template';

const render = (source: string, values: Record<string, string> = {}) => compileTemplate(source).render(values);
describe('compileTemplate', () => {
  it('takes any spelling of a field name for the same field', () => {
    const values = { firstname: 'Ana' };
    for (const name of ['First Name', 'first_name', 'FirstName', 'first-name', 'FIRST NAME'])
      expect(render(`Hi {{ ${name} }}!`, values).text).toBe('Hi Ana!');
  });

  it('finds what the list keeps under a usual name by any header for it, but prefers the list’s own', () => {
    const values = { givenname: 'Odile' };
    for (const name of ['First Name', 'Vorname', 'Prénom', 'given_name'])
      expect(render(`{{ ${name} }}`, values).text).toBe('Odile');
    expect(render('{{ First Name }}', { ...values, firstname: 'Own' }).text).toBe('Own');
  });

  it('uses the fallback for blank and missing values', () => {
    expect(render('Hi {{ name | default: "there" }}', { name: '  ' })).toEqual({
      text: 'Hi there',
      blanks: [],
      faults: [],
    });
    expect(render('Hi {{ First Name | default: "there" }}')).toEqual({ text: 'Hi there', blanks: [], faults: [] });
  });

  it('names every blank field without fallback, but not those in a branch not taken', () => {
    const source = '{{ a }} {{ My Field }} {% if c %}{{ c }} {{ d }}{% endif %}';
    expect(render(source, { a: 'x' }).blanks).toEqual(['My Field']);
    expect(render(source, { a: 'x', myfield: 'y', c: 'z' }).blanks).toEqual(['d']);
  });

  it('says where a template does not parse', () => {
    expect(findFault('Dear {{ name }},\n\nwith {{ company')).toMatchObject({ line: 3, column: 6, offset: 23 });
    expect(findFault('{% if a %}x')).toMatchObject({ line: 1, column: 1 });
    expect(findFault('{{ a | shout }}')?.message).toContain('shout');
    expect(findFault('fine')).toBeNull();
  });

  it.each([
    ['Hello {{ name,\nall of {{ company }} and {{ town }}', 1, 7, 'name,'],
    ['Hello {{ name | default: "a" }}\n\nof {{ company\nin {{ town }}', 3, 4, 'company'],
    ['{{ a }} and {{ b', 1, 13, 'b'],
  ])('says where a field begins that is not closed: %j', (source, line, column, near) => {
    const fault = findFault(source);
    expect(fault).toMatchObject({ line, column });
    expect(fault?.message).toContain(`is not closed with }} (“{{ ${near}`);
  });

  it('stops a template that would never end or fill the memory', () => {
    expect(render('{% for i in (1..100000000) %}x{% endfor %}')).toMatchObject({
      text: '',
      faults: [expect.stringMatching(/too long or grows too large/)],
    });
  });

  it('does not reach for files or prototypes', () => {
    expect(render('{% include "/etc/passwd" %}')).toMatchObject({ text: '', faults: [expect.any(String)] });
    expect(render('{{ constructor | default: "-" }}').text).toBe('-');
  });

  it('lists the fields with their fallbacks and places', () => {
    const source = 'For {{ Company | default: "your vines" }} {{x}}';
    expect(compileTemplate(source).fields).toEqual([
      { name: 'Company', key: 'company', fallback: 'your vines', guarded: false, start: 4, end: 41 },
      { name: 'x', key: 'x', fallback: null, guarded: false, start: 42, end: 47 },
    ]);
  });

  it('gives back text without braces as it is', () => {
    fc.assert(
      fc.property(
        fc.string({ unit: 'grapheme' }).filter((s) => !/[{}]/.test(s)),
        (s) => render(s).text === s,
      ),
    );
  });
});

describe('a field that a condition has found filled', () => {
  it.each([
    ['{% if a %}{{ a }}{% endif %}', true],
    ['{% if My_Field %}x{{ my field }}{% else %}-{% endif %}', true],
    ['{% if a != blank %}{{ a }}{% endif %}', true],
    ['{% if a %}x{% else %}{{ a }}{% endif %}', false],
    ['{% if a == "x" %}{{ a }}{% endif %}', false],
    ['{% if a or b %}{{ a }}{% endif %}', false],
    ['{% unless a %}{{ a }}{% endunless %}', false],
    ['{% if a %}y{% endif %}{{ a }}', false],
    ['{% if b %}{% if a %}z{% endif %}{{ b }}{% endif %}', true],
  ])('%s: %s', (source, guarded) => expect(listFields(source).at(-1)?.guarded).toBe(guarded));
});

describe('setFallback', () => {
  it('gives all uses of a field a fallback, changes it, and takes it away', () => {
    const source = 'Hi {{ First Name }}, {{first_name | upcase }} {{ b }}';
    const given = setFallback(source, 'firstname', 'there', 'all');
    expect(given).toBe('Hi {{ First Name | default: "there" }}, {{first_name | upcase | default: "there" }} {{ b }}');
    expect(setFallback(given, 'firstname', 'you "all"', 'all')).toContain('default: "you ”all”"');
    expect(setFallback(given, 'firstname', '', 'all')).toBe('Hi {{ First Name }}, {{first_name | upcase }} {{ b }}');
  });
});

describe('setFallback where uses differ', () => {
  it('fills the gaps only', () => {
    const source = '{{ a | default: "x" }} {{ a }}';
    expect(setFallback(source, 'a', 'y', 'missing')).toBe('{{ a | default: "x" }} {{ a | default: "y" }}');
  });
});

describe('a template of HTML', () => {
  const html = (source: string, values: Record<string, string>) => compileTemplate(source, 'html').render(values).text;

  it('lets no value bring in markup, not by asking for it either', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme' }), (name) => {
        const made = html('<p>{{ name }}{{ name | raw }}</p>', { name });
        return !/<(?!\/?p>|br>)/.test(made);
      }),
    );
    expect(html('<p>{{ a | raw }}</p>', { a: '<b>1\n2' })).toBe('<p>&#60;b&#62;1<br>\n2</p>');
  });

  it('encodes values in links by their place', () => {
    expect(html('<a href="https://x.example/?c={{ c | url_part }}">', { c: 'a&b "c"' })).toBe(
      '<a href="https://x.example/?c=a%26b%20%22c%22">',
    );
    expect(html('{{ a | url_whole }}', { a: 'cedres.example/vines' })).toBe('https://cedres.example/vines');
    expect(html('[{{ a | url_whole }}]', { a: 'javascript:alert(1)' })).toBe('[]');
  });
});

describe('a column’s name as it stands in the sheet', () => {
  it.each([
    ['{{ City/Town }}', { citytown: 'Carrow Bay' }, 'Carrow Bay'],
    ["{{ Customer's name }} and {{ it's | default: \"it's\" }}", { customersname: 'Odile', its: '' }, "Odile and it's"],
    ['{{ 2nd name }}/{{ 3rd name }}', { '2ndname': 'Jo', '3rdname': 'Li' }, 'Jo/Li'],
    ['{{ 2026 budget | default: "-" }}', { '2026budget': '12' }, '12'],
    [
      '{{ Umsatz (€) }}, {{ A & B }}, {{ Share % }}, {{ Trial? }}',
      { umsatz: '1', ab: '2', share: '3', trial: '4' },
      '1, 2, 3, 4',
    ],
    ['{% if given name %}Dear {{ given name }}{% else %}Hello{% endif %}', { givenname: 'Ana' }, 'Dear Ana'],
    ['{% if given name %}Dear{% else %}Hello{% endif %}', {}, 'Hello'],
    [
      '{% if City/Town == "Carrow Bay" and 2026 budget > 9 %}yes{% endif %}',
      { citytown: 'Carrow Bay', '2026budget': '10' },
      'yes',
    ],
    ['{% unless Customer\'s name contains "Odi" %}no{% endunless %}', { customersname: 'Odile' }, ''],
    ['{% case Sort of vine %}{% when "Riesling" %}R{% else %}?{% endcase %}', { sortofvine: 'Riesling' }, 'R'],
    ['{{- given name -}} {%- if given name -%} x {%- endif -%}', { givenname: 'Ana' }, 'Anax'],
    ['{% assign own = 7 %}{{ own }}{% for part in (1..2) %}{{ part }}{{ forloop.index }}{% endfor %}', {}, '71122'],
    ['{% raw %}{{ City/Town }}{% endraw %}{{ a }}', { a: '1' }, '{{ City/Town }}1'],
    ['{{ __proto__ | default: "-" }}{{ constructor | default: "-" }}{{ hasOwnProperty | default: "-" }}', {}, '---'],
  ])('%s', (source, values, text) => expect(render(source, values as Record<string, string>).text).toBe(text));

  it('is blank like any other, once for each, whatever prototypes have', () => {
    expect(render('{{ __proto__ }}{{ City/Town }}{{ City/Town }}{{ toString }}').blanks).toEqual([
      '  proto  ',
      'City/Town',
      'toString',
    ]);
  });

  it('is listed, and given a fallback', () => {
    expect(listFields('{{ City/Town }} {{ 2nd name | upcase }}').map((u) => u.key)).toEqual(['citytown', '2ndname']);
    expect(setFallback('{{ City/Town }}', 'citytown', 'your town', 'all')).toBe(
      '{{ City/Town | default: "your town" }}',
    );
    expect(listFields('{% if given name %}{{ given name }}{% endif %}')[0]?.guarded).toBe(true);
  });
});

describe('a comparison', () => {
  it.each([
    ['acres > 9', '10', true],
    ['acres > 9', '1 200,50', true],
    ['acres == 1200.5', '1,200.50', true],
    ['acres == 1200.5', '1.200,50', true],
    ['acres != 9', '9.0', false],
    ['acres >= other', '10', true],
    ['acres < 1000', 'about 12', false],
    ['acres == "012"', '12', false],
    ['acres == "twelve"', 'twelve', true],
    ['acres != blank', '', false],
  ])('knows numbers as lists do: %s where acres is %j', (condition, acres, holds) => {
    const text = render(`{% if ${condition} %}yes{% endif %}`, { acres, other: '9' }).text;
    expect(text).toBe(holds ? 'yes' : '');
  });

  it('finds a number among the cases', () => {
    const source = '{% case acres %}{% when 9 %}nine{% when 10, 11 %}more{% else %}none{% endcase %}';
    expect(['9', '9,0', '11', 'x'].map((acres) => render(source, { acres }).text)).toEqual([
      'nine',
      'nine',
      'more',
      'none',
    ]);
  });
});

describe('a date', () => {
  it.each([
    ['2026-12-24', '24 December 2026'],
    ['01.12.2026', '01 December 2026'],
    ['1 Dec 2026', '01 December 2026'],
    ['31/12/2026', '31 December 2026'],
  ])('%s is a day of the calendar, wherever the machine stands', (v, shown) =>
    expect(render('{{ v | date: "%d %B %Y" }}', { v }).text).toBe(shown),
  );

  it('with a time and a zone is a moment, told in the zone asked for', () => {
    const v = '2026-11-24T23:30:00.000Z';
    expect(render('{{ v | date: "%d %H:%M", "Asia/Tokyo" }}', { v }).text).toBe('25 08:30');
  });
});

describe('what cannot be filled in', () => {
  it('names the true cause', () => {
    const v = '2026-11-24T23:30:00.000Z';
    expect(render('{{ v | date: "%d", zone }}', { v, zone: 'CET+1' }).faults).toEqual([
      'The message could not be filled in: CET+1 is no time zone',
    ]);
    expect(findFault('For {{ company.first }}')).toMatchObject({
      column: 8,
      message: expect.stringContaining('company.first: company is text and has no part “first”') as string,
    });
    expect(findFault('{{ company.size }} {{ forloop }}')).toBeNull();
    expect(findFault('x'.repeat(600_000))?.message).toContain('more than 500,000 letters');
  });
});

/** Each would take minutes if the time grew with the square of the length. */
describe('a text made to take long', () => {
  const LETTERS = 75_000;
  const of = (piece: string) => piece.repeat(Math.ceil(LETTERS / piece.length));
  it.each([
    ...['{{ ', '{% ', '{{ "', "{{ '", '{{ a }}', '{{ "a', '{% if ', '{% if a %}', '{', '{{{', '{{ a | ', '{{ \' {{ " '],
    ...[
      '{% if a == “',
      '{% if a and ',
      '{% when "',
      '{{ a | default: b ',
      "{% if a == '",
      '{% assign a = ',
      '{% if a==',
    ],
    ...['}}', '{{ a" }}\'', '{{{% "', '{{ a\n', '{% raw %}', '{{ a | default: "', '{{-', '{% case '],
  ])('is read in time linear in it: %j', (piece) => {
    const source = of(piece);
    findFault(source);
    listFields(source);
    setFallback(source, 'a', 'x', 'all');
    renameField(source, 'a', 'b');
    askedFields(source);
    expect(splitTags(source).join('')).toBe(source);
  });

  it('may be one tag of blanks, quotation marks or words', () => {
    for (const inside of [' ', 'a ', '"a" ', '“', '= ', '| ', ': ', 'and '])
      for (const [open, close] of [
        ['{{ a | default: b', '" }}'],
        ['{{ a ', '}}'],
        ['{% if a', '%}x{% endif %}'],
        ['{% case a %}{% when ', '%}{% endcase %}'],
      ] as const) {
        const source = `${open}${of(inside)}${close}`;
        findFault(source);
        setFallback(source, 'a', 'x', 'all');
        askedFields(source);
      }
  });

  it('may have many blank fields, and says where there are too many', () => {
    const many = (n: number) =>
      Array.from({ length: n }, (_, i) => `{{ field ${i} }}{% if f${i} %}{{ g${i} }}{% endif %}`).join('');
    expect(render(many(700)).blanks).toHaveLength(700);
    expect(findFault(many(2000))?.message).toContain('more than 3,000 fields and conditions');
  });
});
