/** What is found about one kind of record, and what it means for mail that leaves from the domain. */
export interface RecordFinding {
  record: 'SPF' | 'DKIM' | 'DMARC';
  /** `unknown`: nobody answered. */
  state: 'good' | 'look' | 'bad' | 'unknown';
  /** In a sentence. */
  words: string;
  /** The record as published, or '' if there is none. */
  found: string;
}

/** What is said of a record for which nobody answered: it may be there or not. */
const unanswered = (record: RecordFinding['record']): RecordFinding => ({
  ...{ record, state: 'unknown', found: '' },
  words: 'No answer came when the record was asked for, so nothing can be said about it. Look again in a while.',
});

/**
 * What is known after a domain has been looked at again: a record for which nobody answered this time is as it was found
 * before.
 *
 * @param before null where it was never looked at
 */
export const knownRecords = (before: readonly RecordFinding[] | null, now: readonly RecordFinding[]): RecordFinding[] =>
  now.map((f) => (f.state === 'unknown' ? (before?.find((b) => b.record === f.record) ?? f) : f));

/** What receivers hold against a domain, a line for each of its records that is missing or broken. */
export const recordFaults = (domain: string, findings: readonly RecordFinding[]): string[] =>
  findings
    .filter((f) => f.state === 'bad')
    .map((f) => `${f.record} of ${domain}: ${f.words.charAt(0).toLowerCase()}${f.words.slice(1).replace(/\.$/, '')}`);

/** Names under which a domain's DKIM key is usually kept. */
export const USUAL_SELECTORS = ['default', 'dkim', 'mail', 'smtp', 's1', 's2', 'k1', 'selector1', 'selector2'];

/** Most look-ups that a receiver makes for one SPF record (RFC 7208 4.6.4). */
const MOST_LOOKUPS = 10;

/**
 * Says who may send for the domain.
 *
 * Source: RFC 7208.
 *
 * @param texts the domain's TXT records; null where nobody answered
 */
export function judgeSpf(texts: readonly string[] | null): RecordFinding {
  if (texts === null) return unanswered('SPF');
  const own = texts.filter((t) => /^v=spf1(\s|$)/i.test(t.trim()));
  const found = own.join(' | ');
  const say = (state: RecordFinding['state'], words: string): RecordFinding => ({ record: 'SPF', state, words, found });
  if (own.length === 0)
    return say(
      'bad',
      'The domain does not say which servers may send for it (SPF); many receivers treat that as a sign of forgery.',
    );
  if (own.length > 1)
    return say('bad', 'There are several SPF records; receivers then treat them all as broken. Join them into one.');
  const terms = (own[0] ?? '').trim().toLowerCase().split(/\s+/).slice(1);
  const all = terms.find((t) => /^[+?~-]?all$/.test(t));
  const lookups = terms.filter((t) =>
    /^[+?~-]?(include:|a([:/]|$)|mx([:/]|$)|ptr([:/]|$)|exists:)|^redirect=/.test(t),
  ).length;
  if (lookups > MOST_LOOKUPS)
    return say(
      'bad',
      `It asks for ${lookups} further look-ups; receivers stop at ${MOST_LOOKUPS} and then treat it as broken.`,
    );
  if (all === '+all' || all === 'all') return say('bad', 'It lets every server in the world send for the domain.');
  if (all === '?all' || (all === undefined && !terms.some((t) => t.startsWith('redirect='))))
    return say(
      'look',
      'It does not say what to think of servers that it does not name. Expected ~all or -all at its end.',
    );
  return say('good', 'The domain says which servers may send for it.');
}

/**
 * Says what receivers are to do with mail that fails the other two, and whether anybody hears of it.
 *
 * Source: RFC 7489.
 *
 * @param texts TXT records of `_dmarc` under the domain; null where nobody answered
 */
export function judgeDmarc(texts: readonly string[] | null): RecordFinding {
  if (texts === null) return unanswered('DMARC');
  const own = texts.filter((t) => /^v=DMARC1(\s*;|\s*$)/i.test(t.trim()));
  const found = own.join(' | ');
  const say = (state: RecordFinding['state'], words: string): RecordFinding => ({
    record: 'DMARC',
    state,
    words,
    found,
  });
  if (own.length === 0) return say('bad', 'There is no DMARC record; large receivers require one from bulk senders.');
  if (own.length > 1) return say('bad', 'There are several DMARC records; receivers then heed none of them.');
  const policy = /(?:^|;)\s*p\s*=\s*(\w+)/i.exec(own[0] ?? '')?.[1]?.toLowerCase();
  if (policy !== 'none' && policy !== 'quarantine' && policy !== 'reject')
    return say('bad', 'It has no policy. Expected p=none, p=quarantine or p=reject.');
  if (policy === 'none')
    return say(
      'look',
      'It only watches (p=none). That is enough to begin with; quarantine or reject guards the name better.',
    );
  return say(
    'good',
    `Receivers ${policy === 'reject' ? 'refuse' : 'set aside'} what only pretends to come from the domain.`,
  );
}

/**
 * Says whether the domain has a key by which its mail is signed.
 *
 * Source: RFC 6376.
 *
 * @param keys TXT records by selector, of the selectors that were asked for; null where nobody answered
 */
export function judgeDkim(keys: Readonly<Record<string, readonly string[] | null>>): RecordFinding {
  const found = Object.entries(keys).flatMap(([selector, texts]) =>
    (texts ?? [])
      .filter((t) => /(?:^|;)\s*p\s*=/i.test(t))
      .map((t) => ({ selector, key: /(?:^|;)\s*p\s*=\s*([^;]*)/i.exec(t)?.[1]?.replace(/\s/g, '') ?? '' })),
  );
  const say = (state: RecordFinding['state'], words: string, of = ''): RecordFinding => ({
    record: 'DKIM',
    state,
    words,
    found: of,
  });
  const good = found.find((f) => f.key !== '');
  if (good) return say('good', `Mail can be signed with the key “${good.selector}”.`, `${good.selector}._domainkey`);
  if (Object.values(keys).includes(null)) return unanswered('DKIM');
  if (found[0])
    return say(
      'bad',
      `The key “${found[0].selector}” has been withdrawn (it is empty).`,
      `${found[0].selector}._domainkey`,
    );
  return say(
    'look',
    `No key stands under the usual names (${Object.keys(keys).join(', ')}). If the provider signs under another, all is well.`,
  );
}
