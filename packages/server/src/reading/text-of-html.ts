import { compile } from 'html-to-text';

/** As deep as elements are looked into, and as much as is read of a page. */
const LIMITS = { maxDepth: 100, maxInputLength: 300_000, maxChildNodes: 20_000 };

const asWritten = { uppercase: false };
const convert = compile({
  wordwrap: false,
  limits: LIMITS,
  selectors: [
    { selector: 'a', options: { ignoreHref: true } },
    { selector: 'img', format: 'skip' },
    // Cells are read one below the other.
    ...['td', 'th'].map((selector) => ({ selector, format: 'block' })),
    ...['h1', 'h2', 'h3', 'h4', 'h5', 'h6'].map((selector) => ({ selector, options: asWritten })),
  ],
});

/** What a person reads of a page: a line a paragraph, what is in a block quote behind ">" as in plain text. */
export const textOfHtml = (html: string): string => convert(html);

/** A page says more than the text beside it where that is a remark only (“your program shows no pages”). */
const MUCH_MORE = 4;

/**
 * The readable text of a message: its plain text; where it has none, or as good as none, that of its page.
 */
export function readableText(plain: string, html: string | false | undefined): string {
  if (!html || plain.length * MUCH_MORE > html.length) return plain;
  const page = textOfHtml(html);
  return plain.trim().length * MUCH_MORE < page.trim().length ? page : plain;
}
