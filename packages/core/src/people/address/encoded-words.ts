/** One encoded word (RFC 2047, section 2); those of one name follow each other with blanks between. */
const WORD = /=\?([\w-]{1,40})(?:\*[\w-]+)?\?([bq])\?([^?\s]*)\?=/gi;

interface WithDecoders {
  TextDecoder: new (encoding: string) => { decode(bytes: Uint8Array): string };
  atob(base64: string): string;
}
const { atob, TextDecoder } = globalThis as unknown as WithDecoders;

/** A name as it is read, of one as it stands in a message's header: `=?utf-8?Q?Zo=C3=AB?=` is Zoë (RFC 2047). */
export function decodeWords(text: string): string {
  if (!text.includes('=?')) return text;
  return text.replace(/\?=\s+=\?/g, '?==?').replace(WORD, (whole, charset: string, encoding: string, value: string) => {
    try {
      const bytes = encoding.toLowerCase() === 'b' ? atob(value) : fromQ(value);
      return new TextDecoder(charset).decode(Uint8Array.from(bytes, (c) => c.charCodeAt(0)));
    } catch {
      // An encoding that nobody knows, or no base64.
      return whole;
    }
  });
}

/** The bytes of a word in Q (RFC 2047, 4.2), one a letter. */
const fromQ = (value: string): string =>
  value.replace(/_/g, ' ').replace(/=([\dA-F]{2})/gi, (_, hex: string) => String.fromCharCode(parseInt(hex, 16)));
