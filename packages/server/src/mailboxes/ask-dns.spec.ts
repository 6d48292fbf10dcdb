import { describe, expect, it } from 'vitest';
import { textsBy } from './ask-dns';

const failing = (code: string) => () => Promise.reject(Object.assign(new Error(code), { code }));

describe('records that are asked for', () => {
  it('come as one text each, however they were cut', async () =>
    expect(await textsBy(() => Promise.resolve([['v=spf1 ', 'mx -all'], ['other']]), 'x.example')).toEqual([
      'v=spf1 mx -all',
      'other',
    ]));

  it.each(['ENODATA', 'ENOTFOUND'])('are none where the resolver says so: %s', async (code) =>
    expect(await textsBy(failing(code), 'x.example')).toEqual([]),
  );

  it.each(['ETIMEOUT', 'ESERVFAIL', 'ECONNREFUSED', 'EREFUSED', 'ECANCELLED'])('are unknown after %s', async (code) =>
    expect(await textsBy(failing(code), 'x.example')).toBeNull(),
  );
});
