import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { eitherTag, fieldTag, fieldWord, readFieldTag } from './field-tag';
import { letterDoc } from './letter-doc';
import { readTheme, PLAIN_THEME } from './theme';
import { compileTemplate } from './template';
import { isTag, splitTags } from './split-tags';

describe('a field as Liquid', () => {
  it.each([
    [{ name: 'Given name', filters: '', fallback: null }, '{{ Given name }}'],
    [
      { name: 'given_name', filters: 'capitalize', fallback: 'there' },
      '{{ given_name | capitalize | default: "there" }}',
    ],
    [{ name: 'Surface (ha)', filters: '', fallback: '' }, '{{ Surface ha | default: "" }}'],
    [{ name: 'x', filters: '| upcase', fallback: 'say "hi" }}' }, '{{ x | upcase | default: "say ”hi” " }}'],
  ])('%j is %s', (field, tag) => expect(fieldTag(field)).toBe(tag));

  it('is read as it was written, whatever stands in for it', () => {
    const fallback = fc.option(fc.string({ unit: 'grapheme' }).map((s) => s.replace(/["{}%]/g, '')));
    const filters = fc.constantFrom('', 'capitalize', "date: '%d %B'", 'upcase | truncate: 5');
    fc.assert(
      fc.property(
        fc.constantFrom('company', 'given name', 'Région', 'x_1'),
        filters,
        fallback,
        (name, f, otherwise) => {
          const field = { name, filters: f, fallback: otherwise };
          expect(readFieldTag(fieldTag(field))).toEqual(field);
        },
      ),
    );
  });

  it.each(['{{ "text" }}', '{{ a.b }}', '{% if a %}', 'a', '{{ a }} {{ b }}'])('%s is more, or none', (tag) =>
    expect(readFieldTag(tag)).toBeNull(),
  );

  it('chooses between two texts by a name with spaces', () => {
    const tag = eitherTag({ field: 'given name', filled: 'Hi {{ given name }}', blank: 'Hi' });
    expect(compileTemplate(tag).render({ givenname: 'Ana' }).text).toBe('Hi Ana');
    expect(compileTemplate(tag).render({}).text).toBe('Hi');
    expect(fieldWord(' a/b  c! ')).toBe('a b c');
  });
});

describe('splitTags', () => {
  it('parts text and tags, and loses nothing', () => {
    const piece = fc.constantFrom('text ', '{{ a }}', '{{ a | default: "}}" }}', '{% if a == "%}" %}', '{', '}}', '\n');
    fc.assert(
      fc.property(fc.array(piece), (pieces) => {
        const text = pieces.join('');
        expect(splitTags(text).join('')).toBe(text);
      }),
    );
    expect(splitTags('a {{ b | default: "}}" }} c').map(isTag)).toEqual([false, true, false]);
  });
});

describe('letterDoc', () => {
  const inlines = (text: string) => letterDoc(text).content.map((b) => ('content' in b ? (b.content ?? []).length : 0));
  it('makes paragraphs at blank lines, and keeps line breaks', () => {
    expect(inlines('a\nb\n\n\n\nc\r\n\r\nd')).toEqual([3, 1, 1]);
    expect(letterDoc('')).toEqual({ type: 'doc', content: [{ type: 'paragraph' }] });
  });

  it('makes links of named and of bare addresses, without the mark that ends the sentence', () => {
    const links = JSON.stringify(letterDoc('see https://kelp.example/a. Or [this]({{ site }}), (https://b.example)'));
    expect([...links.matchAll(/"href":"([^"]*)"/g)].map((m) => m[1])).toEqual([
      'https://kelp.example/a',
      '{{ site }}',
      'https://b.example',
    ]);
  });
});

describe('readTheme', () => {
  it('takes what is in bounds, and the plain one for the rest', () => {
    expect(readTheme({ size: 24, width: 320, accent: '#ABCDEF' })).toEqual({
      ...PLAIN_THEME,
      size: 24,
      width: 320,
      accent: '#abcdef',
    });
    expect(readTheme({ size: 25, width: 319, accent: 'red', font: 'toString' })).toEqual(PLAIN_THEME);
    expect(readTheme(null)).toEqual(PLAIN_THEME);
  });
});
