import { addressCheck, parseAddress } from '@baton/core';
import { bestInTurn, print } from './row';

const ADDRESSES = 100_000;

/** Checking addresses, without DNS, against splitting them. */
export function checking(): Promise<void> {
  const addresses = Array.from(
    { length: ADDRESSES },
    (_, i) => `${['ana.reyes', 'bo', 'info', 'c.vidal+list'][i % 4]}${i}@grove${i % 9000}.example`,
  );
  let sink = 0;
  const [split, check] = bestInTurn(
    15,
    () => {
      for (const a of addresses) sink += a.split('@').length;
    },
    () => {
      const domains = new Map<string, number>();
      const read = addresses.map((a) => parseAddress(a));
      for (const a of read) if (a.ok) domains.set(a.value.domain, (domains.get(a.value.domain) ?? 0) + 1);
      const noted = addressCheck({ domains });
      for (const a of read) sink += a.ok ? noted(a.value).length : 1;
    },
  );
  print({
    name: `check ${ADDRESSES.toLocaleString('en')} addresses`,
    ratio: check / split,
    goal: 5,
    unit: 'times splitting them at the @ sign',
    milliseconds: Math.round(check),
    noted: sink > 0 ? 1 : 0,
  });
  return Promise.resolve();
}
