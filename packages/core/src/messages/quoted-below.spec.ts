import { describe, expect, it } from 'vitest';
import { quotedBelow } from './quoted-below';

const page = (body: string) => `<html><head><style>p{}</style></head><body class="x">${body}</body></html>`;
const BY = 'Ines Marchetti <ines@tidewaterkelp.example>, 2026-11-24 10:42:';

describe('a message with the one before it below', () => {
  it('has it as mail programs quote, in both forms', () => {
    const { text, html } = quotedBelow(
      { text: 'Any news?\n', html: page('<p>Any news?</p>') },
      { text: 'Hello Ana,\n\nkelp?\n\n', html: page('<p>Hello <b>Ana</b></p>') },
      BY,
    );
    expect(text).toBe(`Any news?\n\n${BY}\n> Hello Ana,\n>\n> kelp?\n`);
    expect(html).toContain(
      '<p>Any news?</p><p>Ines Marchetti &#60;ines@tidewaterkelp.example&#62;, 2026-11-24 10:42:</p>',
    );
    expect(html).toMatch(/<blockquote type="cite"[^>]*><p>Hello <b>Ana<\/b><\/p><\/blockquote><\/body><\/html>$/);
    expect(html.match(/<style>/g)).toHaveLength(1);
  });

  it('keeps what that one quoted, a level deeper (RFC 3676, 4.5)', () => {
    const { text } = quotedBelow({ text: 'C', html: '' }, { text: 'B\n\n> A\n>> older', html: '' }, BY);
    expect(text).toBe(`C\n\n${BY}\n> B\n>\n>> A\n>>> older\n`);
  });

  it('is put at the end where there is no page around it', () => {
    const { html } = quotedBelow({ text: '', html: '<p>C</p>' }, { text: '', html: '<p>B</p>' }, 'x & y');
    expect(html).toMatch(/^<p>C<\/p><p>x &#38; y<\/p><blockquote[^>]*><p>B<\/p><\/blockquote>$/);
  });
});
