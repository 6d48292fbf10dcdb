import { describe, expect, it } from 'vitest';
import { judgeDkim, judgeDmarc, judgeSpf, knownRecords, recordFaults } from './domain-records';

describe('records of a sender’s domain', () => {
  it.each([
    [[], 'bad', 'does not say'],
    [['some other text', 'v=spf1 include:mail.example -all'], 'good', 'which servers'],
    [['v=spf1 mx ~all'], 'good', 'which servers'],
    [['v=spf1 redirect=_spf.mail.example'], 'good', 'which servers'],
    [['v=spf1 -all', 'v=spf1 mx -all'], 'bad', 'several'],
    [['v=spf1 +all'], 'bad', 'every server'],
    [['v=spf1 mx'], 'look', '~all or -all'],
    [
      [`v=spf1 ${Array.from({ length: 11 }, (_, i) => `include:s${i}.example`).join(' ')} -all`],
      'bad',
      '11 further look-ups',
    ],
    [['v=spf10 -all'], 'bad', 'does not say'],
  ])('SPF %j is %s', (texts, state, words) => {
    expect(judgeSpf(texts)).toMatchObject({ state, words: expect.stringContaining(words) });
  });

  it('are not said to be missing where nobody answered', () => {
    const unknown = { state: 'unknown', words: expect.stringContaining('No answer came') as string, found: '' };
    expect(judgeSpf(null)).toEqual({ record: 'SPF', ...unknown });
    expect(judgeDmarc(null)).toEqual({ record: 'DMARC', ...unknown });
    expect(judgeDkim({ mail: [], s1: null })).toEqual({ record: 'DKIM', ...unknown });
    // One key is enough, whatever the others may be.
    expect(judgeDkim({ mail: ['v=DKIM1; p=MIGf'], s1: null }).state).toBe('good');
  });

  it('stay as they were found while nobody answers', () => {
    const found = [judgeSpf(['v=spf1 mx -all']), judgeDmarc([])];
    expect(knownRecords(found, [judgeSpf(null), judgeDmarc(['v=DMARC1; p=reject'])])).toEqual([
      found[0],
      judgeDmarc(['v=DMARC1; p=reject']),
    ]);
    expect(knownRecords(null, [judgeSpf(null)])).toEqual([judgeSpf(null)]);
  });

  it('are held against the domain only where they are missing or broken', () => {
    const findings = [judgeSpf(['v=spf1 mx']), judgeDkim({ mail: null }), judgeDmarc([])];
    expect(recordFaults('kelp.example', findings)).toEqual([
      'DMARC of kelp.example: there is no DMARC record; large receivers require one from bulk senders',
    ]);
  });

  it.each([
    [[], 'bad', 'no DMARC record'],
    [['v=DMARC1; p=none; rua=mailto:a@b.example'], 'look', 'only watches'],
    [['v=DMARC1;p=reject'], 'good', 'refuse'],
    [['v=DMARC1; sp=reject; p=quarantine'], 'good', 'set aside'],
    [['v=DMARC1; rua=mailto:a@b.example'], 'bad', 'no policy'],
    [['v=DMARC1; p=none', 'v=DMARC1; p=reject'], 'bad', 'several'],
  ])('DMARC %j is %s', (texts, state, words) => {
    expect(judgeDmarc(texts)).toMatchObject({ state, words: expect.stringContaining(words) });
  });

  it('DKIM: a key, a withdrawn key, none under the usual names', () => {
    expect(judgeDkim({ default: [], mail: ['v=DKIM1; k=rsa; p=MIGf MA0G'] })).toMatchObject({
      state: 'good',
      found: 'mail._domainkey',
    });
    expect(judgeDkim({ default: ['v=DKIM1; p='] })).toMatchObject({ state: 'bad' });
    expect(judgeDkim({ default: [], mail: ['unrelated'] })).toMatchObject({
      state: 'look',
      words: expect.stringContaining('default, mail'),
    });
  });
});
