import { fieldKey } from '../messages/field-name';
import { parseAddress } from '../people/address/address';
import { readDelimited } from '../people/import/files/read-delimited';

export type Security = 'tls' | 'starttls' | 'none';

/** A mailbox as a row of a file names it; what the row leaves open is null. */
export interface MailboxLine {
  /** 1-based line of the file. */
  line: number;
  address: string;
  password: string;
  senderName: string | null;
  username: string | null;
  smtpHost: string | null;
  smtpPort: number | null;
  smtpSecurity: Security | null;
  imapHost: string | null;
  imapPort: number | null;
  imapSecurity: Security | null;
  dailyQuota: number | null;
  providerLimit: number | null;
  paceSeconds: number | null;
  zone: string | null;
  signature: string | null;
}

/** Headers by which each column goes, as {@link fieldKey} writes them. */
const HEADERS: Record<Exclude<keyof MailboxLine, 'line'>, readonly string[]> = {
  address: ['address', 'email', 'emailaddress', 'mailbox', 'mail'],
  password: ['password', 'apppassword'],
  senderName: ['sendername', 'name', 'sender', 'fromname', 'displayname'],
  username: ['username', 'user', 'login'],
  smtpHost: ['smtphost', 'smtpserver', 'smtp'],
  smtpPort: ['smtpport'],
  smtpSecurity: ['smtpsecurity'],
  imapHost: ['imaphost', 'imapserver', 'imap'],
  imapPort: ['imapport'],
  imapSecurity: ['imapsecurity'],
  dailyQuota: ['dailyquota', 'quota', 'aday'],
  providerLimit: ['providerlimit', 'limitin24hours', 'providerslimit'],
  paceSeconds: ['paceseconds', 'pace', 'secondsbetweentwomessages'],
  zone: ['zone', 'timezone'],
  signature: ['signature'],
};

/** What each number is called, and its bounds. */
const NUMBERS = {
  smtpPort: { words: 'SMTP port', least: 1, most: 65_535 },
  imapPort: { words: 'IMAP port', least: 1, most: 65_535 },
  dailyQuota: { words: 'daily quota', least: 0, most: 100_000 },
  providerLimit: { words: 'provider’s limit', least: 1, most: 1_000_000 },
  paceSeconds: { words: 'pace in seconds', least: 0, most: 86_400 },
} as const;

/**
 * Reads a file of mailboxes: delimited text with a header, a row each; columns in any order, others are skipped.
 *
 * @returns rows that can be tried, and those that cannot, each with its reason in a sentence
 * @throws DomainError as {@link readDelimited}
 */
export function readMailboxFile(text: string): {
  mailboxes: MailboxLine[];
  aside: { line: number; address: string; reason: string }[];
} {
  const { header, rows } = readDelimited(text);
  const keys = header.map(fieldKey);
  const at = (field: keyof typeof HEADERS) => keys.findIndex((k) => HEADERS[field].includes(k));
  const mailboxes: MailboxLine[] = [];
  const aside: { line: number; address: string; reason: string }[] = [];
  const seen = new Map<string, number>();
  for (const { line, cells } of rows) {
    const cell = (field: keyof typeof HEADERS) => (cells[at(field)] ?? '').trim();
    const read = readLine(line, cell);
    const known = typeof read === 'string' ? undefined : seen.get(read.address.toLowerCase());
    if (typeof read === 'string') aside.push({ line, address: cell('address'), reason: read });
    else if (known !== undefined)
      aside.push({ line, address: read.address, reason: `It is already in line ${known}.` });
    else {
      seen.set(read.address.toLowerCase(), line);
      mailboxes.push(read);
    }
  }
  return { mailboxes, aside };
}

function readLine(line: number, cell: (field: keyof typeof HEADERS) => string): MailboxLine | string {
  const parsed = parseAddress(cell('address'));
  if (!parsed.ok) return `${parsed.reason}.`;
  if (cell('password') === '') return 'The password is missing; it belongs in a column called password.';
  const numbers: Record<keyof typeof NUMBERS, number | null> = {
    ...{ smtpPort: null, imapPort: null, dailyQuota: null, providerLimit: null, paceSeconds: null },
  };
  for (const field of Object.keys(NUMBERS) as (keyof typeof NUMBERS)[]) {
    const { words, least, most } = NUMBERS[field];
    const text = cell(field);
    if (text === '') continue;
    const n = Number(text);
    if (!Number.isInteger(n) || n < least || n > most)
      return `“${text}” is not a ${words}. Expected a whole number from ${least} to ${most}.`;
    numbers[field] = n;
  }
  const security = (field: 'smtpSecurity' | 'imapSecurity') => cell(field).toLowerCase();
  for (const field of ['smtpSecurity', 'imapSecurity'] as const)
    if (!['', 'tls', 'starttls', 'none'].includes(security(field)))
      return `“${cell(field)}” is not a kind of security. Expected tls, starttls or none.`;
  const orNull = (field: keyof typeof HEADERS) => (cell(field) === '' ? null : cell(field));
  return {
    ...numbers,
    ...{ line, address: parsed.value.address, password: cell('password') },
    ...{ senderName: orNull('senderName'), username: orNull('username'), zone: orNull('zone') },
    ...{ smtpHost: orNull('smtpHost'), imapHost: orNull('imapHost'), signature: orNull('signature') },
    smtpSecurity: (security('smtpSecurity') || null) as Security | null,
    imapSecurity: (security('imapSecurity') || null) as Security | null,
  };
}
