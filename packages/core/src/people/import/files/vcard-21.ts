import { decodeText, ENCODINGS, type Encoding } from './decode-text';

/** Parameters of version 2.1 that stand alone and name an encoding; all others name a type. */
const ENCODING_WORDS = /^(?:QUOTED-PRINTABLE|BASE64|8BIT|7BIT|B)$/i;

/**
 * A card of version 2.1 (versit vCard, 1996) as one of version 3: parameters without a name get theirs, quoted-printable
 * values are decoded in their character set, and commas in them, which part nothing there, are escaped.
 *
 * @param lines of the card, folded as they are in the file
 */
export function asVersion3(lines: readonly string[]): string[] {
  return unfolded(lines).map((line) => {
    const colon = line.indexOf(':');
    if (colon < 0) return line;
    const [name = '', ...parameters] = line.slice(0, colon).split(';');
    const value = line.slice(colon + 1);
    if (/^VERSION$/i.test(name)) return 'VERSION:3.0';
    const named = parameters.map((p) => (p.includes('=') ? p : `${ENCODING_WORDS.test(p) ? 'ENCODING' : 'TYPE'}=${p}`));
    const isQuoted = named.some((p) => /^ENCODING=QUOTED-PRINTABLE$/i.test(p));
    const charset = named.find((p) => /^CHARSET=/i.test(p))?.slice('CHARSET='.length) ?? '';
    const kept = named.filter((p) => !/^(?:ENCODING|CHARSET|LANGUAGE)=/i.test(p));
    const text = isQuoted ? decodeQuotedPrintable(value, charset) : value;
    return `${[name, ...kept].join(';')}:${escaped(text)}`;
  });
}

/** Lines that go on: after a soft line break of quoted-printable, or with a blank. */
function unfolded(lines: readonly string[]): string[] {
  const out: string[] = [];
  let goesOn = false;
  for (const line of lines) {
    const last = out.length - 1;
    if (goesOn) out[last] = (out[last] as string).slice(0, -1) + line.trimStart();
    else if (/^[ \t]/.test(line) && last >= 0) out[last] += line.slice(1);
    else out.push(line);
    goesOn = /;\s*(?:ENCODING=)?QUOTED-PRINTABLE[;:]/i.test(out.at(-1) as string) && line.endsWith('=');
  }
  return out;
}

function decodeQuotedPrintable(value: string, charset: string): string {
  const bytes: number[] = [];
  for (const [piece] of value.matchAll(/=[0-9A-F]{2}|[\s\S]/gi))
    if (piece.length === 3) bytes.push(parseInt(piece.slice(1), 16));
    else bytes.push(...utf8(piece));
  if (bytes.length === 0) return '';
  const name = charset.toLowerCase();
  const known = name === 'iso-8859-1' ? 'windows-1252' : name;
  return decodeText(Uint8Array.from(bytes), null, known in ENCODINGS ? (known as Encoding) : null).text;
}

const utf8 = (letter: string): number[] =>
  [...encodeURIComponent(letter.replace(/\p{Surrogate}/gu, '\ufffd')).matchAll(/%(..)|[\s\S]/g)].map(([all, hex]) =>
    hex === undefined ? all.charCodeAt(0) : parseInt(hex, 16),
  );

const escaped = (text: string): string => text.replace(/(?<!\\),/g, '\\,').replace(/\r\n?|\n/g, '\\n');
