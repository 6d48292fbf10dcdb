/** An email address that real mail servers accept. */
export interface Address {
  /** As written, without surrounding space, name or brackets; domain in lower case. */
  address: string;
  /** What makes two spellings one person: all lower case, domain as ASCII (RFC 5891). */
  key: string;
  /** The domain as in `key`. */
  domain: string;
}

export type AddressResult = { ok: true; value: Address } | { ok: false; reason: string };

/** RFC 5321 4.5.3.1: local part 64 octets, domain 255, path 256 with its two brackets. */
const MAX_LOCAL_BYTES = 64;
const MAX_ADDRESS_BYTES = 254;
const MAX_LABEL_BYTES = 63;

/**
 * Reads one address out of a cell: `ana@x.example`, `Ana Reyes <ana@x.example>`, `mailto:ana@x.example`.
 * Accepts dot-atoms (RFC 5322 3.2.3) and internationalised local parts and domains (RFC 6531); not quoted
 * local parts nor address literals, which no mail server of real people uses.
 *
 * @param text any text; more than one address is refused, not split
 * @returns the address, or a reason in words that names what is wrong
 */
export function parseAddress(text: string): AddressResult {
  return plainAddress(text) ?? readAddress(text);
}

/** Longer ones, and those that may be internationalised, are read character by character. */
const PLAIN_LENGTH = 60;

/** What a letter of a plain address is. */
const OTHER = 0;
const LETTER = 1;
const DIGIT = 2;
const CAPITAL = 3;
/** `.` and `+`, which separate the words beside them. */
const PART = 4;
/** `-` and `_`. */
const DASH = 5;
const AT = 6;
const CLASSES = new Uint8Array(128);
for (let c = 97; c <= 122; c++) CLASSES[c] = LETTER;
for (let c = 65; c <= 90; c++) CLASSES[c] = CAPITAL;
for (let c = 48; c <= 57; c++) CLASSES[c] = DIGIT;
for (const [text, kind] of [
  ['.+', PART],
  ['-_', DASH],
  ['@', AT],
] as const)
  for (const c of text) CLASSES[c.charCodeAt(0)] = kind;

/**
 * What nearly all addresses are: ASCII, nothing around it, nothing odd in it. One pass, no copies where none is needed.
 */
function plainAddress(text: string): AddressResult | null {
  if (text.length > PLAIN_LENGTH) return null;
  const at = scanPlain(text);
  if (at === 0) return null;
  if (at > 0) return { ok: true, value: { address: text, key: text, domain: text.slice(at + 1) } };
  const key = text.toLowerCase();
  const domain = key.slice(1 - at);
  return { ok: true, value: { address: text.slice(0, 1 - at) + domain, key, domain } };
}

/** Place of the sign, negative where there are capitals; 0 for what is not a plain address. */
function scanPlain(text: string): number {
  let at = -1;
  // Where the last label began, and what came before: an edge, or a letter.
  let label = 0;
  let before = PART;
  let onlyLetters = true;
  let hasCapitals = false;
  for (let i = 0; i < text.length; i++) {
    const code = text.charCodeAt(i);
    const kind = code < 128 ? (CLASSES[code] as number) : OTHER;
    switch (kind) {
      case CAPITAL:
        hasCapitals = true;
        break;
      case LETTER:
        break;
      case DIGIT:
        onlyLetters = false;
        break;
      case DASH:
        // Two in a row may be a domain that is written in other letters (`xn--`).
        if (at >= 0 && (before === PART || code === 95 || before === DASH)) return 0;
        onlyLetters = false;
        break;
      case PART:
      case AT:
        if (before === PART || (at >= 0 && (before === DASH || code !== 46))) return 0;
        if (kind === AT) at = i;
        label = i + 1;
        onlyLetters = true;
        before = PART;
        continue;
      default:
        return 0;
    }
    before = kind;
  }
  const isEnd = before !== PART && before !== DASH && onlyLetters && text.length - label >= 2;
  if (at <= 0 || label <= at + 1 || !isEnd) return 0;
  return hasCapitals ? -at : at;
}

/** Around an address, as programs leave them: blanks, zero-width signs, marks of direction, control characters. */
const AROUND = /^[\s\p{Cc}\p{Cf}]+|[\s\p{Cc}\p{Cf}]+$/gu;

/** Brackets and quotation marks, each with the one that closes it. */
const PAIRS = ['()', '[]', '{}', '""', "''", '‘’', '“”', '„“', '«»', '»«'];

/** An address without the pair that stands around it, or the apostrophe before a text of a spreadsheet. */
function unquoted(text: string): string {
  const isAround = ([open = '', close = '']: string) =>
    text.length > 2 && text.startsWith(open) && text.endsWith(close);
  if (PAIRS.some(isAround)) return text.slice(1, -1).trim();
  return text.startsWith("'") ? text.slice(1) : text;
}

/** Letters of double width, as keyboards for East Asian scripts write them: each is the ASCII one. */
const narrow = (text: string): string =>
  text.replace(/[\uff01-\uff5e]/g, (c) => String.fromCharCode(c.charCodeAt(0) - 0xfee0));

function readAddress(text: string): AddressResult {
  const trimmed = narrow(text.normalize('NFC').replace(AROUND, ''));
  const bracketed = /<([^<>]*)>[\s,;]*$/u.exec(trimmed) ?? /\]\(([^()\s]*)\)$/.exec(trimmed);
  const bare = ofMailto(unquoted((bracketed?.[1] ?? trimmed).replace(AROUND, '')))
    .replace(/[,;]+$/, '')
    .replace(/^([^\s@]+)\s*@\s*([^\s@]+)$/u, '$1@$2');

  if (bare === '') return no('No address in this row');
  const signs = bare.split('@').length - 1;
  if (signs === 0) return no(`“${short(bare)}” has no @ sign`);
  if (signs > 1)
    return no(
      /[,;\s]/.test(bare) ? `“${short(bare)}” is more than one address` : `“${short(bare)}” has ${signs} @ signs`,
    );
  const at = bare.indexOf('@');
  const local = bare.slice(0, at);
  // The dot of the root, which nobody writes but some programs do; and the full stops of East Asia (UTS 46, 2.3).
  const written = bare
    .slice(at + 1)
    .toLowerCase()
    .replace(/[\u3002\uff0e\uff61]/g, '.')
    .replace(/(?<=[^.])\.$/, '');
  const wrong = wrongLocal(local, bare) ?? wrongDomain(written, bare);
  if (wrong) return no(wrong);
  const domain = domainToAscii(written);
  if (domain === null) return no(`The domain of “${short(bare)}” is none that can be looked up`);
  if (domain.split('.').some((label) => label.length > MAX_LABEL_BYTES))
    return no(`The domain of “${short(bare)}” has a part longer than 63 letters`);
  if (utf8Length(local) + 1 + domain.length > MAX_ADDRESS_BYTES)
    return no(`“${short(bare)}” is longer than 254 letters`);
  return {
    ok: true,
    value: { address: `${local}@${written}`, key: `${local.toLowerCase()}@${domain}`, domain },
  };
}

/** The address of a link to write to (RFC 6068), its signs decoded; another text as it is. */
function ofMailto(text: string): string {
  const [, to] = /^mailto:([^?]*)/i.exec(text) ?? [];
  if (to === undefined) return text;
  try {
    return decodeURIComponent(to).trim();
  } catch {
    return to;
  }
}

interface WithUrl {
  URL: new (address: string) => { hostname: string };
}

/** A domain in A-labels (UTS 46, RFC 5890); null for what is no domain. */
function domainToAscii(domain: string): string | null {
  if (/^[a-z\d.-]+$/.test(domain) && !/(?:^|\.)xn--/.test(domain)) return domain;
  try {
    const { hostname } = new (globalThis as unknown as WithUrl).URL(`http://${domain}`);
    return /^[a-z\d.-]+$/.test(hostname) && !/(?:^|\.)(?:-|\.|$)|-\./.test(hostname) ? hostname : null;
  } catch {
    return null;
  }
}

/**
 * An address as it goes to a mail server: its domain in A-labels (RFC 5890), which every server takes.
 *
 * @param address as {@link parseAddress} gives it
 */
export function envelopeAddress(address: string): string {
  const at = address.lastIndexOf('@');
  return `${address.slice(0, at)}@${domainToAscii(address.slice(at + 1)) ?? address.slice(at + 1)}`;
}

/** Whether a mail server must take letters beyond ASCII before the @ (SMTPUTF8, RFC 6531). */
export const needsUtf8 = (address: string): boolean => /[^\p{ASCII}]/u.test(address.slice(0, address.lastIndexOf('@')));

function wrongLocal(local: string, bare: string): string | null {
  if (local === '') return `“${short(bare)}” has nothing before the @`;
  if (utf8Length(local) > MAX_LOCAL_BYTES) return `“${short(bare)}” has more than 64 letters before the @`;
  if (/^\.|\.$|\.\./.test(local)) return `“${short(bare)}” has a dot too many before the @`;
  const odd = /[^\p{L}\p{N}\p{M}!#$%&'*+\-/=?^_`{|}~.]/u.exec(local);
  return odd ? `“${short(bare)}” has ${nameOf(odd[0])} before the @` : null;
}

function wrongDomain(domain: string, bare: string): string | null {
  if (domain === '') return `“${short(bare)}” has nothing after the @`;
  if (!domain.includes('.')) return `The domain of “${short(bare)}” has no dot`;
  if (/^\.|\.$|\.\./.test(domain)) return `The domain of “${short(bare)}” has a dot too many`;
  const odd = /[^\p{L}\p{N}\p{M}.-]/u.exec(domain);
  if (odd) return `The domain of “${short(bare)}” has ${nameOf(odd[0])}`;
  if (domain.split('.').some((label) => label.startsWith('-') || label.endsWith('-')))
    return `The domain of “${short(bare)}” has a hyphen at an edge`;
  const top = domain.slice(domain.lastIndexOf('.') + 1);
  return /^[\p{N}]+$/u.test(top) || [...top].length < 2
    ? `The domain of “${short(bare)}” ends in “${short(top)}”, which is not a domain`
    : null;
}

const no = (reason: string): AddressResult => ({ ok: false, reason });
function nameOf(c: string): string {
  if (/\s/u.test(c)) return 'a space';
  const code = (c.codePointAt(0) as number).toString(16).toUpperCase().padStart(4, '0');
  return /\p{C}/u.test(c) ? `an invisible character (U+${code})` : `the character “${c}”`;
}
const short = (text: string) => (text.length > 60 ? `${text.slice(0, 57)}…` : text);

/** Bytes of a text in UTF-8. */
function utf8Length(text: string): number {
  let n = 0;
  for (const c of text) {
    const p = c.codePointAt(0) as number;
    n += p < 0x80 ? 1 : p < 0x800 ? 2 : p < 0x10000 ? 3 : 4;
  }
  return n;
}
