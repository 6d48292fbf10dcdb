import { describe, expect, it } from 'vitest';
import { checkMessage, type CheckedFacts } from './check-message';
import { contrast, LEAST_CONTRAST } from './contrast';
import { SHIPPED_LAYOUTS } from './layout';
import { EMPTY_CONTENT, readContent } from './message-content';
import { fieldKey } from './field-name';
import { nearestName } from './nearest-name';
import { fieldMeant } from './unknown-fields';
import { TEXT_COLOURS } from './theme';

const facts = (over: Partial<CheckedFacts> = {}): CheckedFacts => ({
  columns: [
    { key: 'givenname', name: 'given name' },
    { key: 'company', name: 'company' },
  ],
  blanks: new Map(),
  longestSubject: { letters: 20, who: 0 },
  htmlBytes: 2000,
  fileBytes: 0,
  missingFiles: [],
  ...over,
});
const LEAVE = '[Leave this list]({{ unsubscribe_link }})';
const check = (written: object, over: Partial<CheckedFacts> = {}) =>
  checkMessage(readContent({ ...EMPTY_CONTENT, subject: 'Kelp', body: `Hello\n\n${LEAVE}`, ...written }), facts(over));
const kinds = (written: object, over: Partial<CheckedFacts> = {}) => check(written, over).map((c) => c.kind);

describe('checkMessage', () => {
  it('has nothing to say of a message that is fine', () => expect(check({})).toEqual([]));

  it('says what cannot be read on its ground', () => {
    const layout = (theme: object) => ({ format: 'layout', layout: { theme, blocks: [{ kind: 'letter' }] } });
    const words = (written: object) => check(written).map((c) => c.words);
    expect(words(layout({ sheet: '#ffffff', ink: '#999999', accent: '#0b5d57' }))).toEqual([
      'The text can hardly be read: the contrast of #999999 on #ffffff is 2.8, and 4.5 is the least.',
    ]);
    expect(words(layout({ sheet: '#000000', ink: '#ffffff', accent: '#0b5d57' }))[0]).toContain(
      'Links can hardly be read',
    );
    const colour = { type: 'colour', attrs: { colour: '#ffff00' } };
    const body = {
      type: 'doc',
      content: [{ type: 'paragraph', content: [{ type: 'text', text: 'a', marks: [colour] }] }],
    };
    expect(kinds({ body })).toContain('low_contrast');
    for (const { layout: shipped } of SHIPPED_LAYOUTS)
      expect(kinds({ format: 'layout', layout: shipped })).not.toContain('low_contrast');
    expect(contrast('#000000', '#ffffff')).toBeCloseTo(21, 5);
    for (const offered of TEXT_COLOURS) expect(contrast(offered, '#ffffff')).toBeGreaterThan(LEAST_CONTRAST);
  });

  it('names what a condition asks for and the list has not', () => {
    const words = (body: string) => check({ body: `${body} ${LEAVE}` }).map((c) => [c.level, c.words]);
    expect(
      words('{% if compny %}a{% endif %}{% unless City/Town == "x" %}b{% endunless %}{% if company %}c{% endif %}'),
    ).toEqual([
      ['look', '“compny” is not a column of this list; “company” is. What asks for it finds it blank.'],
      ['look', '“City/Town” is not a column of this list. What asks for it finds it blank.'],
    ]);
    expect(words('{{ company | default: grower }}')).toEqual([
      ['look', '“grower” is not a column of this list. What asks for it finds it blank.'],
    ]);
    expect(words('{% assign hi = "x" %}{% if hi %}{{ hi }}{% endif %}{% if Vorname %}a{% endif %}')).toEqual([]);
  });

  it.each([
    [
      '[www.harrow.example](https://evil.example/x)',
      'link_elsewhere',
      'The link says www.harrow.example and leads to evil.example.',
    ],
    [
      '[Our offer](https://192.0.2.7/x)',
      'odd_host',
      'The link leads to 192.0.2.7, an address of figures; filters distrust that.',
    ],
    [
      '[Our offer](https://tidewaterkelp.example:8443/)',
      'odd_host',
      'The link leads to tidewaterkelp.example, at the port 8443; filters distrust that.',
    ],
    [
      '[Our offer](https://tidewaterkelp.example@evil.example/)',
      'odd_host',
      'The link leads to evil.example, with a name before it that looks like another site; filters distrust that.',
    ],
    [
      '[Our offer](https://tidew\u0430ter.example/)',
      'odd_host',
      'The link leads to tidew\u0430ter.example, whose letters are of two scripts; filters distrust that.',
    ],
    ['BUY OUR KELP NOW, before winter', null, ''],
    ['BUY OUR KELP NOW.', 'loud', 'A whole sentence is in capitals.'],
    ['[tidewaterkelp.example](https://www.tidewaterkelp.example/a)', null, ''],
    [
      Array.from({ length: 12 }, (_, i) => `[a](https://tidewaterkelp.example/${i})`).join(' '),
      'many_links',
      'There are 12 links to 15 words; filters take so many for an advertisement.',
    ],
  ])('knows what filters count against a message: %s', (body, kind, words) => {
    const said = check({ body: `${body}\n\n${LEAVE}` }).filter((c) => c.kind !== 'unknown_field');
    expect(said.map((c) => [c.kind, c.words])).toEqual(kind === null ? [] : [[kind, words]]);
  });

  it('knows a subject that feigns an answer', () => {
    expect(kinds({ subject: 'Re: our call' })).toEqual(['false_reply']);
    expect(kinds({ subject: 'AW: Angebot' })).toEqual(['false_reply']);
    expect(kinds({ subject: 'Results: kelp in vines' })).toEqual([]);
  });

  it('says who would be left out for a blank field', () => {
    const blanks = new Map([['company', { people: 12, who: [3, 4] }]]);
    expect(check({ body: `For {{ company }} ${LEAVE}` }, { blanks })[0]).toMatchObject({
      kind: 'blank_field',
      level: 'stop',
      field: 'company',
      people: 12,
      who: [3, 4],
      words: 'company is blank for 12 people and has no fallback: they would be left out.',
    });
  });

  it('offers the nearest column for one that is not there', () => {
    expect(check({ subject: 'For {{ compnay }}' })[0]).toMatchObject({
      kind: 'unknown_field',
      level: 'stop',
      meant: 'company',
    });
    expect(check({ subject: 'Dear {{ frist_name }}' })[0]).toMatchObject({ meant: 'given name' });
    expect(check({ subject: 'For {{ hectares | default: "x" }}' })[0]).toMatchObject({
      kind: 'unknown_field',
      level: 'look',
    });
    expect(kinds({ body: `{{ First Name }} {{ sending_weekday }} ${LEAVE}` })).toEqual([]);
  });

  it.each<[string, object, Partial<CheckedFacts>, string[]]>([
    ['an empty subject', { subject: ' ' }, {}, ['no_subject']],
    ['a long subject', {}, { longestSubject: { letters: 51, who: 7 } }, ['long_subject']],
    ['a subject as long as a phone shows', {}, { longestSubject: { letters: 50, who: 7 } }, []],
    ['no way out', { body: 'Hello' }, {}, ['no_unsubscribe']],
    ['no way out of the plain part', { plain: 'Hello' }, {}, ['no_unsubscribe', 'plain_by_hand']],
    ['a link to nowhere', { body: `[x](javascript:void) ${LEAVE}` }, {}, ['dead_link']],
    ['capitals', { subject: 'KELP FOR YOU' }, {}, ['loud']],
    ['shouting', { body: `Now!! ${LEAVE}` }, {}, ['loud']],
    ['words of advertising', { subject: 'Risk-free kelp' }, {}, ['filter_words']],
    ['a large page', {}, { htmlBytes: 102 * 1024 + 1 }, ['too_large']],
    ['a page as large as is shown', {}, { htmlBytes: 102 * 1024 }, []],
    ['large files', {}, { fileBytes: 25 * 1024 * 1024 + 1 }, ['large_files']],
    [
      'a file that is not there',
      {},
      { missingFiles: [{ name: 'soil.pdf', people: 2, who: [1, 2] }] },
      ['file_missing'],
    ],
  ])('sees %s', (_, written, over, expected) => expect(kinds(written, over)).toEqual(expected));

  it('looks into the layout that is used, and only then', () => {
    const layout = {
      blocks: [
        { kind: 'letter' },
        { kind: 'button', text: 'Order', href: '' },
        { kind: 'picture', src: '', alt: 'Rows' },
        { kind: 'columns', left: [{ kind: 'picture', src: 'asset:3', alt: '' }], right: [] },
      ],
    };
    const found = kinds({ layout, format: 'layout' });
    expect(found).toEqual(['dead_link', 'picture_without_source', 'picture_without_text', 'few_words']);
    expect(kinds({ layout, format: 'letter' })).toEqual([]);
  });

  it('sees a bare address, not one with a name', () => {
    const long = 'https://kelp.example/a/very/long/path/that/nobody/wants/to/read';
    expect(kinds({ body: `${long} ${LEAVE}` })).toEqual(['bare_link']);
    expect(kinds({ body: `[results](${long}) ${LEAVE}` })).toEqual([]);
  });
});

describe('fieldMeant', () => {
  const known = ['given name', 'company'].map((name) => ({ key: fieldKey(name), name }));
  it.each([
    ['gvenname', 'given name'],
    ['firm', null],
    ['familyname', null],
    ['vornamee', 'given name'],
    ['zzz', null],
  ])('%s: %s', (key, meant) => expect(fieldMeant(key, known)).toBe(meant));
});

describe('nearestName', () => {
  const known = ['givenname', 'company', 'acres'].map((key) => ({ key }));
  it.each([
    ['gvenname', 'givenname'],
    ['companyname', 'company'],
    ['acre', 'acres'],
    ['zzz', undefined],
    ['', undefined],
  ])('%s: %s', (key, meant) => expect(nearestName(key, known)?.key).toBe(meant));
});
