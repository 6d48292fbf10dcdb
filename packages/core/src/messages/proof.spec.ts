import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { messageValues } from '../testing/message-values';
import { createZones } from '../time/zone';
import { contentFault } from './content-fault';
import { EMPTY_CONTENT, readContent, type MessageContent } from './message-content';
import { messageSource } from './message-source';
import { recipientValues } from './message-values';
import { blanksOf, compileMessage, headerText, renderProof, type Proof } from './proof';
import { readRichDoc } from './rich-doc';

type Written = Partial<Omit<MessageContent, 'body'>> & { body?: unknown };

function proofOf(written: Written, row: Record<string, string> = {}, values = messageValues()): Proof {
  const content = readContent({ ...EMPTY_CONTENT, ...written });
  return renderProof(compileMessage(messageSource(content, null)), recipientValues(row, values));
}

/** What stands in the page's body. */
const inBody = (html: string): string => /<body[^>]*>\n([\s\S]*)\n<\/body>/.exec(html)?.[1] ?? '';

describe('renderProof', () => {
  it('keeps line breaks of a field out of the subject', () => {
    expect(proofOf({ subject: 'For {{ company }}' }, { company: 'A\r\nBcc: all@x.example' }).subject).toBe(
      'For A Bcc: all@x.example',
    );
  });

  it('escapes fields in the HTML part and links what is a link', () => {
    const proof = proofOf(
      { body: 'Hi {{ name }},\nhere: [leave]({{ unsubscribe_link }})\n\nhttps://kelp.example/a?b=1&c.' },
      { name: '<b>&', unsubscribelink: 'http://evil.example' },
    );
    expect(inBody(proof.html)).toBe(
      '<p style="margin:0 0 16px">Hi &#60;b&#62;&#38;,<br>\nhere: <a href="http://127.0.0.1/u/x" style="color:#0b5d57">leave</a></p>\n' +
        '<p style="margin:0 0 16px"><a href="https://kelp.example/a?b=1&#38;c" style="color:#0b5d57">https://kelp.example/a?b=1&#38;c</a>.</p>',
    );
    expect(proof.text).toBe('Hi <b>&,\nhere: leave: http://127.0.0.1/u/x\n\nhttps://kelp.example/a?b=1&c.');
  });

  it('lets no markup in through any text or value', () => {
    const text = fc.string({ unit: 'grapheme' }).map((s) => s.replace(/[{}]/g, ''));
    const allowed = /^(?:!doctype html|\/?(?:html|head|body|p|a|b)|meta|br)$/;
    fc.assert(
      fc.property(text, text, (written, value) => {
        const body = {
          type: 'doc',
          content: [{ type: 'paragraph', content: [{ type: 'text', text: `${written} {{ v }}` }] }],
        };
        const tags = [...proofOf({ body }, { v: value }).html.matchAll(/<([^\s>]+(?: html)?)/g)].map(
          (m) => m[1] as string,
        );
        return tags.every((tag) => allowed.test(tag));
      }),
    );
  });

  it('takes copies apart, and says what is not an address', () => {
    const proof = proofOf(
      { cc: '{{ cc }}', bcc: 'archive@tidewaterkelp.example', replyTo: '{{ owner }}' },
      { cc: 'Bo <bo@x.example>; nobody', owner: 'ines@tidewaterkelp.example' },
    );
    expect(proof.cc).toEqual(['bo@x.example']);
    expect(proof.bcc).toEqual(['archive@tidewaterkelp.example']);
    expect(proof.replyTo).toBe('ines@tidewaterkelp.example');
    expect(proof.faults).toEqual(['Cc: “nobody” has no @ sign']);
    expect(proofOf({ cc: '{{ cc }}' }, {})).toMatchObject({ cc: [], blanks: [], faults: [] });
  });

  it('names the files that one person gets', () => {
    const attachments: MessageContent['attachments'] = [
      { kind: 'asset', assetId: 4 },
      { kind: 'named', name: '{{ attachment }}' },
    ];
    expect(proofOf({ attachments }, { attachment: 'soil.pdf; map.png' })).toMatchObject({
      attachmentIds: [4],
      attachmentNames: ['soil.pdf', 'map.png'],
    });
  });

  it('takes the hand-written plain part where there is one', () => {
    expect(proofOf({ body: 'Long', plain: 'Short, {{ a }}' }, { a: 'Bo' }).text).toBe('Short, Bo');
  });
});

describe('a name that is none', () => {
  const hello = { body: 'Hello {{ given_name | default: "there" }},' };
  it.each(['', ' ', '-', 'n/a', 'N/A', 'ana@x.example', 'A', 'A.', '12', '???', 'unknown'])('%j falls back', (name) =>
    expect(proofOf(hello, { givenname: name }).text).toBe('Hello there,'),
  );
  it.each(['李', 'Al', 'Ng', 'Ω Ana', 'Jo'])('%j is one', (name) =>
    expect(proofOf(hello, { givenname: name }).text).toBe(`Hello ${name},`),
  );
});

describe('a greeting that falls back whole', () => {
  const body = {
    type: 'doc',
    content: [
      {
        type: 'paragraph',
        content: [
          { type: 'either', attrs: { field: 'given name', filled: 'Hello {{ given name }},', blank: 'Hello,' } },
        ],
      },
    ],
  };
  it('is a paragraph of its own in the plain part', () => {
    const more = { type: 'paragraph', content: [{ type: 'text', text: 'kelp' }] };
    const both = { ...body, content: [...body.content, more] };
    expect(proofOf({ body: both }, { givenname: 'Ana' }).text).toBe('Hello Ana,\n\nkelp');
    expect(proofOf({ body: both }).text).toBe('Hello,\n\nkelp');
  });

  it('leaves no gap', () => {
    expect(proofOf({ body }, { givenname: 'Ana' }).text).toBe('Hello Ana,');
    expect(proofOf({ body }, { givenname: '-' })).toMatchObject({ text: 'Hello,', blanks: [] });
  });
});

describe('values beside the columns', () => {
  const body =
    '{{ sending_weekday }} {{ sending_date }}, week {{ sending_week }}, {{ sending_time }}; {{ position }} of {{ recipients }} of {{ list_name }}; {{ sending_moment | date: "%H:%M", "Asia/Tokyo" }}';
  it('tell when it leaves, in the recipient’s zone and in others', () => {
    expect(proofOf({ body }).text).toBe('Tuesday 24 November 2026, week 48, 10:42; 3 of 312 of Vineyards; 19:42');
    const late = messageValues({ zone: createZones().get('Pacific/Auckland'), sendingMs: Date.UTC(2026, 11, 31, 12) });
    expect(proofOf({ body: '{{ sending_date }} {{ sending_week }}' }, {}, late).text).toBe('1 January 2027 53');
  });

  it('give way to a column of the list, but for the links', () => {
    const row = { listname: 'Own', unsubscribelink: 'https://evil.example' };
    expect(proofOf({ body: '{{ list_name }} {{ unsubscribe_link }}' }, row).text).toBe('Own http://127.0.0.1/u/x');
  });
});

describe('a signature', () => {
  it('may hold fields, and cannot hold itself', () => {
    const signature = 'Ines, for {{ company | default: "you" }}{{ signature }}';
    expect(proofOf({ body: '{{ signature }}' }, { company: 'Holm' }, messageValues({ signature })).text).toBe(
      'Ines, for Holm',
    );
    expect(proofOf({ body: '{{ signature }}' }, {}, messageValues({ signature: 'Ines {{' })).text).toBe('Ines {{');
  });
});

describe('paragraphs that a condition chooses', () => {
  const body = '{% if a %}\n\nfirst\n\n{% endif %}\n\nsecond\n\n{% if b %}\n\nthird\n\n{% endif %}\n\nlast';
  it.each([
    [{ a: '1', b: '1' }, 'first|second|third|last'],
    [{ a: '1' }, 'first|second|last'],
    [{ b: '1' }, 'second|third|last'],
    [{}, 'second|last'],
  ])('%j: %s, with one blank line between them', (row, texts) => {
    const proof = proofOf({ body }, row as Record<string, string>);
    expect(proof.text.replaceAll('\n\n', '|')).toBe(texts);
    expect(
      inBody(proof.html)
        .replace(/<p[^>]*>|\n+/g, '')
        .replaceAll('</p>', '|'),
    ).toBe(`${texts}|`);
  });
});

describe('contentFault', () => {
  it('says in which part, and takes a condition over several paragraphs for whole', () => {
    const written = (over: Written) => readContent({ ...EMPTY_CONTENT, ...over });
    expect(contentFault(written({ subject: 'Hi {{ a' }))).toMatchObject({ place: 'subject', offset: 3, near: '{{ a' });
    expect(contentFault(written({ body: '{% if a %}\n\nx\n\n{% endif %}' }))).toBeNull();
    expect(contentFault(written({ body: 'x\n\n{% if a %}y' }))).toMatchObject({ place: 'body', line: 3 });
  });
});

describe('form of the text', () => {
  const doc = (...content: unknown[]) => readRichDoc({ type: 'doc', content });
  const p = (...content: unknown[]) => ({ type: 'paragraph', content });
  const t = (text: string, ...marks: unknown[]) => ({ type: 'text', text, marks });

  it('is set in HTML and told in plain text', () => {
    const body = doc(
      { type: 'heading', attrs: { level: 2 }, content: [t('Kelp')] },
      p(t('a '), t('b', { type: 'bold' }), t(' c', { type: 'colour', attrs: { colour: '#a33a28' } })),
      {
        type: 'bulletList',
        content: [
          { type: 'listItem', content: [p(t('one'))] },
          { type: 'listItem', content: [p(t('two'))] },
        ],
      },
      { type: 'blockquote', content: [p(t('said'))] },
      { type: 'image', attrs: { src: 'asset:7', alt: 'Rows', width: 300 } },
    );
    const proof = proofOf({ body });
    expect(proof.text).toBe('Kelp\n\na b c\n\n- one\n- two\n\n> said\n\n[Rows]');
    expect(proof.html).toContain('a <b>b</b><span style="color:#a33a28"> c</span>');
    expect(proof.html).toContain('<li style="margin:0 0 4px">one</li>');
    expect(proof.html).toContain('<img src="cid:asset.7" alt="Rows" width="300"');
  });

  it('leads only where a message may', () => {
    const link = (href: string) =>
      proofOf({ body: doc(p(t('x', { type: 'link', attrs: { href } }))) }, { site: 'kelp.example', q: 'a b' }).html;
    expect(link('javascript:alert(1)')).not.toContain('<a');
    expect(link('data:text/html,x')).not.toContain('<a');
    expect(link('kelp.example/a')).toContain('href="https://kelp.example/a"');
    expect(link('https://kelp.example/?q={{ q }}')).toContain('href="https://kelp.example/?q=a%20b"');
    expect(link('{{ site }}')).toContain('href="https://kelp.example"');
    expect(link('tel:+353 1')).toContain('href="tel:+353%201"');
  });

  it('drops what it does not know, and keeps its text', () => {
    const body = doc(
      { type: 'table', content: [p(t('cell', { type: 'blink' }))] },
      { type: 'script', content: [] },
      p({ type: 'mention', attrs: {} }, t('kept')),
    );
    expect(proofOf({ body }).text).toBe('cell\n\nkept');
    expect(() => readRichDoc({ type: 'page' })).toThrow('not in Baton’s own form');
  });

  it('takes pictures by name from a value, or from the web', () => {
    const image = (src: string) =>
      proofOf(
        { body: doc({ type: 'image', attrs: { src, alt: '' } }) },
        { picture: 'rows 1.png', web: 'https://x.example/a.png' },
      ).html;
    expect(image('{{ picture }}')).toContain('src="cid:named.rows%201.png"');
    expect(image('{{ web }}')).toContain('src="https://x.example/a.png"');
    expect(image('file:///etc/passwd')).not.toContain('<img');
  });
});

describe('a value in a link', () => {
  const doc = (href: string) =>
    readRichDoc({
      type: 'doc',
      content: [
        { type: 'paragraph', content: [{ type: 'text', text: 'here', marks: [{ type: 'link', attrs: { href } }] }] },
      ],
    });
  const linked = (href: string, row: Record<string, string>) => proofOf({ body: doc(href) }, row);

  it.each([
    ['{{ site }}', { site: 'kelp.example/a b' }, 'https://kelp.example/a%20b'],
    ['https://x.example/{{ q }}', { q: 'a/b?c="d"' }, 'https://x.example/a%2Fb%3Fc%3D%22d%22'],
    [
      'https://x.example?q={{ q }}&r={{ q }}',
      { q: "ö'\ud800" },
      'https://x.example?q=%C3%B6%27%EF%BF%BD&r=%C3%B6%27%EF%BF%BD',
    ],
    ['mailto:{{ owner }}', { owner: 'ines+a@kelp.example' }, 'mailto:ines%2Ba@kelp.example'],
    ['mailto:ines@kelp.example?subject={{ q }}', { q: 'a&b' }, 'mailto:ines@kelp.example?subject=a%26b'],
    ['tel:{{ phone }}', { phone: '+353 (0)1 22' }, 'tel:+3530122'],
    ['{{ site }}/trial', { site: 'https://kelp.example' }, 'https://kelp.example/trial'],
    [
      '{% if a == "x" %}https://x.example/{{ q }}{% else %}{{ site }}{% endif %}',
      { a: 'x', q: 'b c' },
      'https://x.example/b%20c',
    ],
    [
      '{% if a == "x" %}https://x.example{% else %}{{ site }}{% endif %}',
      { site: 'kelp.example' },
      'https://kelp.example',
    ],
  ])('is encoded for its place, in HTML and in plain text alike: %s', (href, row, address) => {
    const proof = linked(href, row as Record<string, string>);
    expect(proof.html).toContain(`<a href="${address.replaceAll('&', '&#38;')}"`);
    expect(proof.text).toBe(`here: ${address}`);
    expect(proof.faults).toEqual([]);
  });

  it.each(['javascript:alert(1)', 'data:text/html,x', 'not an address'])(
    'that a message must not lead to keeps the message from leaving, and says so once: %s',
    (site) => {
      const proof = linked('{{ site }}', { site });
      expect(proof.html).not.toContain('script');
      expect(proof.text).toBe('here: ');
      expect(proof.faults).toEqual([`“${site}” is no address that a link may lead to`]);
    },
  );

  it.each([
    'https://{{ host }}/a',
    'https://x.example{{ more }}',
    'https://a@{{ host }}',
    '{{ a }}{{ b }}x.example',
    'x.{{ h }}',
  ])('cannot become its host: %s', (href) => {
    const proof = linked(href, {
      host: 'evil.example',
      more: '.evil.example',
      a: 'https://',
      b: 'evil.',
      h: 'evil.example',
    });
    expect(proof.html).not.toContain('<a ');
    expect(proof.text).toBe('here');
  });
});

describe('addresses of copies', () => {
  it('are not split inside of a name’s quotes', () => {
    const cc = '"Reyes, Bo" <bo@x.example>; "O\\"N; eil" <o@x.example>,ana@x.example\ncy@x.example';
    expect(proofOf({ cc, body: 'x' })).toMatchObject({
      cc: ['bo@x.example', 'o@x.example', 'ana@x.example', 'cy@x.example'],
      faults: [],
    });
  });
});

describe('a header’s text', () => {
  it('has no control characters, and no marks that turn the direction of a name', () => {
    expect(headerText('Ines\u0000\r\nBcc: x\u202etxt.exe\u2066')).toBe('Ines Bcc: xtxt.exe');
    expect(headerText(' مرحبا\u200e Zoë ')).toBe('مرحبا\u200e Zoë');
  });
});

describe('what one person’s values make impossible', () => {
  it('is said of that person’s message, and thrown at nobody', () => {
    const body = 'At {{ sending moment | date: "%H:%M", zone }}.';
    const proof = proofOf({ body }, { zone: 'CET+1' });
    expect(proof.faults).toEqual(['The message could not be filled in: CET+1 is no time zone']);
    expect(proofOf({ body }, { zone: 'Europe/Dublin' }).faults).toEqual([]);
  });
});

describe('blank fields', () => {
  it('of a sender’s name and of a signature are gaps like those of the text', () => {
    expect(proofOf({ senderName: 'Ines for {{ company }}', body: 'x' }).blanks).toEqual(['company']);
    const signed = { ...messageValues(), signature: 'Ines, {{ desk phone }}' };
    const source = messageSource(readContent({ ...EMPTY_CONTENT, subject: 'x', body: '{{ signature }}' }), null);
    const compiled = compileMessage(source);
    expect(renderProof(compiled, recipientValues({}, signed)).blanks).toEqual(['desk phone']);
    expect(blanksOf(compiled, recipientValues({}, signed))).toEqual(['desk phone']);
    expect(blanksOf(compiled, recipientValues({ deskphone: '1' }, signed))).toEqual([]);
  });

  it('of copies and files are none: most people have no such', () => {
    expect(proofOf({ cc: '{{ cc }}', replyTo: '{{ owner }}', body: 'x' }).blanks).toEqual([]);
  });
});

it('names a picture whose file has an apostrophe so that it is found', () => {
  const body = { type: 'doc', content: [{ type: 'image', attrs: { src: '{{ picture }}', alt: '' } }] };
  const { html } = proofOf({ body }, { picture: "O'Neil 1.png" });
  const [, name = ''] = /src="cid:named\.([^"]+)"/.exec(html) ?? [];
  expect(decodeURIComponent(name)).toBe("O'Neil 1.png");
});
