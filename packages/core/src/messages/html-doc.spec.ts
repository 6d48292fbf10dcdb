import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { htmlDoc } from './html-doc';
import { layoutText } from './layout-mjml';
import { mjmlLayout } from './mjml-layout';
import { richHtml } from './rich-html';
import { richText } from './rich-text';
import { PLAIN_THEME } from './theme';

describe('htmlDoc', () => {
  it.each([
    ['<p>a <b>b</b></p><p>c</p>', 'a b\n\nc'],
    ['a<br>b<br><br>c', 'a\nb\n\nc'],
    ['<div>a</div><div>&nbsp;</div><div>b</div>', 'a\n\nb'],
    ['<h1>Head</h1><ul><li>x<li><p>y</p></ul><ol><li>z</ol>', 'Head\n\n- x\n- y\n\n1. z'],
    ['<blockquote><p>q</p></blockquote>', '> q'],
    ['<table><tr><td>a</td><td>b</td></tr></table>', 'a\n\nb'],
    ['<head><title>t</title></head><script>x()</script><p>kept</p><style>p{}</style>', 'kept'],
    ['<p>Dear {{ First Name | default: "friend" }},</p>', 'Dear {{ First Name | default: "friend" }},'],
    ['<a href="https://x.example/?a=1&amp;b=2">here</a>', 'here: https://x.example/?a=1&b=2'],
    ['<p>unclosed <i>all <a href="https://x.example">the way', 'unclosed all the way: https://x.example'],
    ['', ''],
  ])('%s', (html, text) => expect(richText(htmlDoc(html))).toBe(text));

  it('reads what it writes, whatever the text', () => {
    const words = fc.array(fc.stringMatching(/^[a-z&<>"' ]{1,12}$/), { minLength: 1, maxLength: 4 });
    fc.assert(
      fc.property(words, (texts) => {
        const content = texts
          .map((t) => t.trim().replace(/ +/g, ' '))
          .filter((t) => t !== '')
          .map((text) => ({ type: 'paragraph' as const, content: [{ type: 'text' as const, text }] }));
        const doc = { type: 'doc' as const, content };
        expect(richText(htmlDoc(richHtml(doc, PLAIN_THEME)))).toBe(richText(doc));
      }),
    );
  });

  it('takes pictures as it is told, and none that only counts', () => {
    const html = '<img src="cid:1" alt="Rows" width="200"><img src="https://t.example/o.gif" width="1">';
    expect(htmlDoc(html, (src) => (src === 'cid:1' ? 'asset:7' : src)).content).toEqual([
      { type: 'image', attrs: { src: 'asset:7', alt: 'Rows', width: 200 } },
    ]);
  });
});

describe('mjmlLayout', () => {
  it('reads sections of one and two columns; the first text is the message’s', () => {
    const read = mjmlLayout(`<mjml><mj-body background-color="#EEEEEE" width="560px">
      <mj-section><mj-column><mj-image src="https://x.example/a.png" alt="Rows" width="100px" />
        <mj-text><p>Hello <b>{{ name }}</b></p></mj-text></mj-column></mj-section>
      <mj-section><mj-column><mj-text>left &amp; more</mj-text></mj-column><mj-column><mj-button href="https://x.example">Go</mj-button></mj-column></mj-section>
      <mj-section><mj-column><mj-divider /><mj-spacer height="30px" /></mj-column></mj-section>
    </mj-body></mjml>`);
    expect(read?.layout.theme).toMatchObject({ ground: '#eeeeee', width: 560 });
    expect(read?.layout.blocks.map((b) => b.kind)).toEqual(['picture', 'letter', 'columns', 'divider', 'space']);
    expect(read?.layout.blocks.at(-1)).toMatchObject({ height: 30 });
    expect(read?.letter && layoutText(read.layout, read.letter)).toBe(
      '[Rows]\n\nHello {{ name }}\n\nleft & more\n\nGo: https://x.example\n\n---',
    );
    expect(mjmlLayout('<p>no</p>')).toBeNull();
  });
});
