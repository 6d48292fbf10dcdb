import { describe, expect, it } from 'vitest';
import { cleanPaste } from './clean-paste';

const flat = (html: string) => cleanPaste(html).replace(/\s+/g, ' ').trim();

describe('cleanPaste', () => {
  it('leaves out what stands for space', () => {
    expect(flat('<p>a</p><p>&nbsp;</p><p><o:p></o:p></p><p>b</p>')).toBe('<p>a</p><p>b</p>');
    expect(flat('<div>a<br><br>b<br>c</div>')).toBe('<p>a</p><p>b<br>c</p>');
  });

  it('leaves out styles, scripts and comments', () => {
    expect(flat('<!--StartFragment--><style>p{}</style><p>a<!-- x --></p><script>x()</script>')).toBe('<p>a</p>');
  });

  it('makes lists of a word processor’s paragraphs', () => {
    const list = ['one', 'two']
      .map(
        (t) => `<p class="MsoListParagraph" style="mso-list:l0"><span style="mso-list:Ignore">·&nbsp;</span>${t}</p>`,
      )
      .join('');
    expect(flat(list)).toBe('<ul><li>one</li><li>two</li></ul>');
    expect(flat('<p class="MsoListParagraph">1.&nbsp; first</p><p class="MsoListParagraph">2. second</p>')).toBe(
      '<ol><li>first</li><li>second</li></ol>',
    );
  });

  it('keeps pictures and fields, though they have no text', () => {
    expect(flat('<p><img src="https://x.example/a.png"></p>')).toContain('<img');
    expect(flat('<p><span data-field="company"></span></p>')).toContain('data-field');
  });
});
