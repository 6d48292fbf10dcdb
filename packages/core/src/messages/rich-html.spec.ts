import fc from 'fast-check';
import { Parser } from 'htmlparser2';
import { describe, expect, it } from 'vitest';
import { messageValues } from '../testing/message-values';
import { anyRichDoc } from '../testing/rich-docs';
import { contentFault } from './content-fault';
import { htmlDoc } from './html-doc';
import { EMPTY_CONTENT, readContent } from './message-content';
import { messageSource } from './message-source';
import { recipientValues } from './message-values';
import { compileMessage, renderProof } from './proof';
import { readRichDoc } from './rich-doc';
import { richHtml } from './rich-html';
import { richText } from './rich-text';
import { isTag, splitTags } from './split-tags';

const STYLE = { ink: '#17261f', accent: '#0b5d57' };
const TAGS = ['p', 'br', 'a', 'b', 'i', 'u', 'span', 'h1', 'h2', 'h3', 'ul', 'ol', 'li', 'blockquote', 'img'];
const ATTRIBUTES: Record<string, string[]> = {
  a: ['href', 'style'],
  img: ['src', 'alt', 'width', 'style'],
};
const PAGE = ['!doctype', 'html', 'head', 'meta', 'title', 'body'];

/** Every element of a page with its attributes, as a mail program's parser sees them. */
function elementsOf(html: string): { tag: string; attributes: Record<string, string> }[] {
  const found: { tag: string; attributes: Record<string, string> }[] = [];
  const parser = new Parser({ onopentag: (tag, attributes) => found.push({ tag, attributes }) });
  parser.end(html);
  return found;
}

describe('a text from anywhere', () => {
  it('is read into what the editor knows, and reading that again changes nothing', () => {
    fc.assert(
      fc.property(anyRichDoc, (doc) => {
        const read = readRichDoc(doc);
        expect(readRichDoc(JSON.parse(JSON.stringify(read)))).toEqual(read);
      }),
    );
  });

  it('becomes a message whose HTML holds nothing but what a text may, whatever the value', () => {
    fc.assert(
      fc.property(anyRichDoc, fc.string({ unit: 'grapheme' }), (doc, value) => {
        const content = readContent({ ...EMPTY_CONTENT, subject: 'x', body: doc });
        if (contentFault(content)) return;
        const { html } = renderProof(
          compileMessage(messageSource(content, null)),
          recipientValues({ company: `${value}"><img src=x onerror=y>` }, messageValues()),
        );
        for (const { tag, attributes } of elementsOf(html)) {
          if (PAGE.includes(tag)) continue;
          expect(TAGS).toContain(tag);
          const allowed = ATTRIBUTES[tag] ?? ['style'];
          for (const name of Object.keys(attributes)) expect(allowed).toContain(name);
          if (tag === 'a') expect(attributes['href']).toMatch(/^(?:https?|mailto|tel):/i);
          if (tag === 'img') expect(attributes['src']).toMatch(/^(?:https?|cid):/i);
        }
      }),
    );
  });

  it('has every element that it opens closed again, in order', () => {
    const voids = ['br', 'img'];
    fc.assert(
      fc.property(anyRichDoc, (doc) => {
        const body = readRichDoc(doc);
        if (contentFault({ ...EMPTY_CONTENT, body })) return;
        const open: string[] = [];
        // What stands in a tag of Liquid is escaped when it is put in.
        const pieces = splitTags(richHtml(body, STYLE));
        const html = pieces.filter((piece) => !isTag(piece)).join('');
        for (const [, close, tag] of html.matchAll(/<(\/?)([a-z]+\d?)[^>]*>/g)) {
          if (voids.includes(tag as string)) continue;
          if (close === '') open.push(tag as string);
          else expect(open.pop()).toBe(tag);
        }
        expect(open).toEqual([]);
      }),
    );
  });
});

describe('an address or a description that does not parse', () => {
  it.each([
    [{ type: 'image', attrs: { src: 'https://x.example/{{ picture', alt: '' } }],
    [{ type: 'image', attrs: { src: 'asset:7', alt: 'Rows of {{ {{ company }}' } }],
    [
      {
        type: 'paragraph',
        content: [{ type: 'text', text: 'x', marks: [{ type: 'link', attrs: { href: '{{ a | }}' } }] }],
      },
    ],
  ])('is a fault of the message, not first of the one who gets it: %j', (block) => {
    const body = readRichDoc({ type: 'doc', content: [block] });
    expect(contentFault({ ...EMPTY_CONTENT, body })).toMatchObject({ place: 'body' });
  });

  it('is found in a layout’s blocks too', () => {
    const blocks = [{ kind: 'button', text: 'Go', href: '{{ site | nonsense }}' }];
    const content = readContent({ ...EMPTY_CONTENT, format: 'layout', layout: { blocks } });
    expect(contentFault(content)?.message).toContain('nonsense');
  });
});

describe('a text as HTML', () => {
  const doc = (...content: unknown[]) => readRichDoc({ type: 'doc', content });
  const p = (...content: unknown[]) => ({ type: 'paragraph', content });
  const t = (text: string, ...marks: unknown[]) => ({ type: 'text', text, marks });
  const html = (...content: unknown[]) => richHtml(doc(...content), STYLE);

  it('is one link where letters of one link differ', () => {
    const href = 'https://tidewaterkelp.example/trial';
    const link = { type: 'link', attrs: { href } };
    const shown = html(p(t('see '), t('the ', link), t('trial', link, { type: 'bold' }), t('.')));
    expect(shown.match(/<a /g)).toHaveLength(1);
    expect(shown).toContain(`<a href="${href}" style="color:#0b5d57">the <b>trial</b></a>.`);
  });

  it('keeps the space of an empty paragraph, and none around an item of one paragraph', () => {
    expect(html(p())).toBe('<p style="margin:0 0 16px"><br></p>');
    const item = (...content: unknown[]) => ({ type: 'bulletList', content: [{ type: 'listItem', content }] });
    expect(html(item(p(t('one'))))).toContain('<li style="margin:0 0 4px">one</li>');
    expect(html(item(p(t('one')), p(t('more'))))).toContain('<li style="margin:0 0 4px"><p');
  });

  it('lets a condition alone in its paragraph open and close others', () => {
    const shown = html(p(t('{% if acres %}')), p(t('With your acres.')), p(t('{% endif %}')));
    expect(shown).toBe('{% if acres %}\n<p style="margin:0 0 16px">With your acres.</p>\n{% endif %}');
  });

  it('encodes each value of an address for its place', () => {
    const link = (href: string) => html(p(t('x', { type: 'link', attrs: { href } })));
    expect(link('{{ site }}')).toContain('href="{{ site | url_whole }}"');
    expect(link('https://x.example/{{ q }}?r={{ r }}')).toContain(
      'href="https://x.example/{{ q | url_part }}?r={{ r | url_part }}"',
    );
    expect(link('{{ site }}/trial')).toContain('href="{{ site | url_whole }}/trial"');
    expect(link('javascript:{{ site }}')).not.toContain('<a');
  });

  it('is the same text when it is brought in again', () => {
    const given = doc(
      { type: 'heading', attrs: { level: 1 }, content: [t('Kelp & vines')] },
      p(t('Hello '), { type: 'field', attrs: { name: 'given name', fallback: 'there', filters: '' } }, t(',')),
      { type: 'orderedList', content: [{ type: 'listItem', content: [p(t('two rows', { type: 'italic' }))] }] },
      { type: 'blockquote', content: [p(t('a < b'))] },
    );
    const again = htmlDoc(richHtml(given, STYLE));
    expect(richText(again)).toBe(richText(given));
  });
});
