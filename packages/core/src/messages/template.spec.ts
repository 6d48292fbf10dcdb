import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { compileTemplate, findFault, listFields, setFallback } from './template';

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
    expect(render('Hi {{ name | default: "there" }}', { name: '  ' })).toEqual({ text: 'Hi there', blanks: [] });
    expect(render('Hi {{ First Name | default: "there" }}')).toEqual({ text: 'Hi there', blanks: [] });
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
    expect(() => render('{% for i in (1..100000000) %}x{% endfor %}')).toThrow(/too long or grows too large/);
  });

  it('does not reach for files or prototypes', () => {
    expect(() => render('{% include "/etc/passwd" %}')).toThrow();
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
