import { decodeLines } from './decode-text';
import { ENCODINGS, type Encoding } from './guess-encoding';

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
  const properties: string[][] = [];
  let isQuoted = false;
  let goesOn = false;
  for (const line of lines) {
    const pieces = properties.at(-1);
    if (pieces && goesOn) pieces.push(line.trimStart());
    else if (pieces && /^[ \t]/.test(line)) pieces.push(line.slice(1));
    else {
      properties.push([line]);
      isQuoted = /;\s*(?:ENCODING=)?QUOTED-PRINTABLE[;:]/i.test(line);
    }
    goesOn = isQuoted && line.endsWith('=');
    if (goesOn) properties.at(-1)!.push(properties.at(-1)!.pop()!.slice(0, -1));
  }
  return properties.map((pieces) => pieces.join(''));
}

/** Encodings of cards whose letters are those of one that is known. */
const SAME_LETTERS: ReadonlyMap<string, Encoding> = new Map([
  ['iso-8859-1', 'windows-1252'],
  ['iso-8859-15', 'windows-1252'],
  ['iso-8859-9', 'windows-1254'],
  ['koi8-r', 'koi8-u'],
]);

function decodeQuotedPrintable(value: string, charset: string): string {
  const name = charset.toLowerCase();
  const known = SAME_LETTERS.get(name) ?? name;
  const encoding = Object.hasOwn(ENCODINGS, known) ? (known as Encoding) : null;
  return value.replace(/(?:=[0-9A-F]{2}|\p{ASCII})+/giu, (run) => {
    const bytes = [...run.matchAll(/=([0-9A-F]{2})|[^]/gi)].map(([letter, hex]) =>
      hex === undefined ? letter.charCodeAt(0) : parseInt(hex, 16),
    );
    return decodeLines(Uint8Array.from(bytes), encoding).text;
  });
}

const escaped = (text: string): string => text.replace(/(?<!\\),/g, '\\,').replace(/\r\n?|\n/g, '\\n');
