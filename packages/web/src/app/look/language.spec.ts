import { describe, expect, it } from 'vitest';
import { counted } from './counts';
import { fileSize } from './file-size';
import { formatNumber, listed, months, plural, say, weekdays } from './language';

describe('the language of the interface', () => {
  it('sets thousands apart', () => {
    expect([0, 999, 1000, 12_400, 1_000_000].map((n) => formatNumber(n))).toEqual([
      '0',
      '999',
      '1,000',
      '12,400',
      '1,000,000',
    ]);
  });

  it('keeps as many decimals as are asked for', () => {
    expect(formatNumber(50, 1)).toBe('50.0');
    expect(formatNumber(1234.56, 1)).toBe('1,234.6');
  });

  it('fills a sentence in: numbers in its own way, words as they are, nothing for what is not there', () => {
    expect(say`${1200} of ${'Growers \\ north'}${null}${undefined}.`).toBe('1,200 of Growers \\ north.');
  });

  it('says one and many', () => {
    const found = (n: number) => plural(n, { one: '1 row is', other: say`${n} rows are` });
    expect([0, 1, 2, 1001].map(found)).toEqual(['0 rows are', '1 row is', '2 rows are', '1,001 rows are']);
  });

  it('says one of everything that sentences count', () => {
    for (const words of Object.values(counted)) {
      expect(words(1)).toMatch(/^1 [a-z -]*[a-rt-z]$/);
      expect(words(1)).not.toBe(words(2).replace('2', '1'));
      expect(words(1200)).toMatch(/^1,200 /);
    }
  });

  it('joins words as they are spoken', () => {
    expect(listed(['Monday'])).toBe('Monday');
    expect(listed(['Monday', 'Friday'])).toBe('Monday and Friday');
    expect(listed(['Monday', 'Tuesday', 'Friday'])).toBe('Monday, Tuesday and Friday');
  });

  it('begins the week on Monday and the year in January', () => {
    expect(weekdays('short')).toEqual(['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun']);
    expect(weekdays('long')[6]).toBe('Sunday');
    expect(months()).toHaveLength(12);
    expect([months()[0], months()[11]]).toEqual(['Jan', 'Dec']);
  });

  it('gives a file size in whole kilobytes, or in megabytes with one decimal', () => {
    expect([1, 1024, 1025, 1024 * 1024, 52_428_800].map(fileSize)).toEqual([
      '1 kB',
      '1 kB',
      '2 kB',
      '1.0 MB',
      '50.0 MB',
    ]);
  });
});
