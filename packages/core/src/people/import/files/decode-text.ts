import { DomainError } from '../../../errors';
import { ENCODINGS, likeliestEncoding, type Encoding } from './guess-encoding';

/** What a decoder must do; browsers and Node both have it, the language's own library does not name it. */
type Decode = (bytes: Uint8Array, encoding: string, fatal: boolean) => string;

interface WithTextDecoder {
  TextDecoder: new (encoding: string, options: { fatal: boolean }) => { decode(bytes: Uint8Array): string };
}
const decoders = new Map<string, { decode(bytes: Uint8Array): string }>();
const decode: Decode = (bytes, encoding, fatal) => {
  const name = `${encoding} ${fatal}`;
  let decoder = decoders.get(name);
  if (!decoder)
    decoders.set(name, (decoder = new (globalThis as unknown as WithTextDecoder).TextDecoder(encoding, { fatal })));
  return decoder.decode(bytes);
};

export interface DecodedText {
  text: string;
  /** In words for the person: `UTF-8`, `UTF-16`, `Windows-1252`, or `UTF-8 and Windows-1252 mixed`. */
  encoding: string;
  /** In a mixed file, how many lines were not UTF-8. */
  otherLines: number;
}

/** The part looked at, and how many control characters it may hold: a few, and this share of its bytes. */
const SAMPLE_BYTES = 64 * 1024;
const CONTROLS_ALLOWED = 2;
const CONTROL_SHARE = 0.001;

/**
 * Turns the bytes of a text file into text: UTF-8 with or without byte order mark, UTF-16 of either order
 * (by its mark, or by where its zero bytes are), else Windows-1252; a file that mixes UTF-8 lines with
 * others is decoded line by line.
 *
 * @param utf16 of a piece of a file: what its beginning showed
 * @param encoding what was said; null where it is to be detected
 * @throws DomainError `empty_file` for no bytes; `not_text` for a workbook, archive, picture or other binary
 */
export function decodeText(
  bytes: Uint8Array,
  utf16: Utf16Order | null = utf16Order(bytes),
  encoding: Encoding | null = null,
): DecodedText {
  if (bytes.length === 0)
    throw new DomainError('empty_file', 'The file is empty. Expected a header row and one row per person.');
  if (utf16) return { text: decode(bytes, utf16, false).replace(/^\ufeff/, ''), encoding: 'UTF-16', otherLines: 0 };
  const own = withoutPadding(withoutEnd(bytes));
  rejectBinary(own);
  if (encoding === null) return decodeLines(own);
  return { text: decode8(own, encoding), encoding: ENCODINGS[encoding], otherLines: 1 };
}

/** The sign that ends a file of old programs is none of its text. */
function withoutEnd(bytes: Uint8Array): Uint8Array {
  const last = bytes.findLastIndex((b) => b !== 0 && b !== 0x0a && b !== 0x0d && b !== 0x20);
  return bytes[last] === 0x1a ? bytes.subarray(0, last) : bytes;
}

/** Zero bytes with which programs fill up cells, lines and files; those anywhere else stay. */
function withoutPadding(bytes: Uint8Array): Uint8Array {
  if (!bytes.includes(0)) return bytes;
  const out = new Uint8Array(bytes.length);
  let n = 0;
  for (let at = 0; at < bytes.length; at++) {
    if (bytes[at] !== 0) {
      out[n++] = bytes[at] as number;
      continue;
    }
    let end = at;
    while (end < bytes.length && bytes[end] === 0) end++;
    if (end < bytes.length && !AFTER_PADDING.has(bytes[end] as number)) n += end - at;
    at = end - 1;
  }
  return out.subarray(0, n);
}

/** Line breaks, delimiters and quotation marks. */
const AFTER_PADDING: ReadonlySet<number> = new Set([...'\r\n,;\t|"'].map((c) => c.charCodeAt(0)));

function decode8(bytes: Uint8Array, encoding: Encoding): string {
  return encoding === 'windows-1252' ? decodeWindows1252(bytes) : decode(bytes, encoding, false);
}

/**
 * The same for whole lines that are known to be text, and not UTF-16.
 *
 * @param other the encoding of what is not UTF-8; null where it is to be detected
 */
export function decodeLines(bytes: Uint8Array, other: Encoding | null = null): DecodedText {
  try {
    return { text: decode(bytes, 'utf-8', true), encoding: 'UTF-8', otherLines: 0 };
  } catch {
    return decodeByLine(bytes, other);
  }
}

/** ASCII, where every byte is a character. */
export const decodeAscii = (bytes: Uint8Array): string => decode(bytes, 'utf-8', false);

export type Utf16Order = 'utf-16le' | 'utf-16be';

/** The order of a file's UTF-16, detected from its mark or by where its zero bytes are; null for another encoding. */
export function utf16Order(bytes: Uint8Array): Utf16Order | null {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return 'utf-16le';
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return 'utf-16be';
  let evenZeros = 0;
  let oddZeros = 0;
  const n = Math.min(bytes.length, 2048) & ~1;
  for (let i = 0; i < n; i += 2) {
    if (bytes[i] === 0) evenZeros++;
    if (bytes[i + 1] === 0) oddZeros++;
  }
  if (n >= 8 && oddZeros > n * 0.35 && evenZeros === 0) return 'utf-16le';
  if (n >= 8 && evenZeros > n * 0.35 && oddZeros === 0) return 'utf-16be';
  return null;
}

/** @throws DomainError `not_text` for what is not a text */
export function rejectBinary(bytes: Uint8Array): void {
  const starts = (...magic: number[]) => magic.every((b, i) => bytes[i] === b);
  if (starts(0x25, 0x50, 0x44, 0x46))
    throw new DomainError(
      'not_text',
      'This is a PDF, not a text file. Expected CSV: a header row and one row per person.',
    );
  const n = Math.min(bytes.length, SAMPLE_BYTES);
  let controls = 0;
  for (let i = 0; i < n; i++) {
    const b = bytes[i] as number;
    if (b < 0x09 || (b > 0x0d && b < 0x20 && b !== 0x1b)) controls++;
    // One that strayed into a cell is taken out later; many are no text.
    if (controls > CONTROLS_ALLOWED + n * CONTROL_SHARE) {
      throw new DomainError(
        'not_text',
        `This is not a text file: byte ${i + 1} of it is a control code (${b}). Expected CSV: a header row and one row per person.`,
      );
    }
  }
}

function decodeByLine(bytes: Uint8Array, other: Encoding | null): DecodedText {
  const lines: string[] = [];
  let otherLines = 0;
  let beyondAscii = 0;
  for (let start = 0; start < bytes.length;) {
    const newline = bytes.indexOf(0x0a, start);
    const end = newline < 0 ? bytes.length : newline + 1;
    const line = bytes.subarray(start, end);
    if (line.some((b) => b >= 0x80)) beyondAscii++;
    try {
      lines.push(decode(line, 'utf-8', true));
    } catch {
      lines.push(decode8(line, other ?? 'windows-1252'));
      otherLines++;
    }
    start = end;
  }
  if (otherLines < beyondAscii) return { text: lines.join(''), encoding: 'UTF-8 and Windows-1252 mixed', otherLines };
  const encoding = other ?? likeliestEncoding((one) => decode8(bytes.subarray(0, BYTES_LOOKED_AT), one));
  const text = encoding === (other ?? 'windows-1252') ? lines.join('') : decode8(bytes, encoding);
  return { text, encoding: ENCODINGS[encoding], otherLines };
}

/** What is looked at to tell the encoding. */
const BYTES_LOOKED_AT = 1_000_000;

/**
 * What Windows-1252 has at 0x80 to 0x9F; the rest is Latin-1. Unassigned places stay control codes, as WHATWG has it.
 */
const HIGH = '€\u0081‚ƒ„…†‡ˆ‰Š‹Œ\u008dŽ\u008f\u0090‘’“”•–—˜™š›œ\u009džŸ';

/** Not left to TextDecoder: Node.js 20 decodes 0x80 to 0x9F as control codes. */
function decodeWindows1252(bytes: Uint8Array): string {
  let out = '';
  for (const b of bytes) out += b >= 0x80 && b <= 0x9f ? (HIGH[b - 0x80] as string) : String.fromCharCode(b);
  return out;
}
