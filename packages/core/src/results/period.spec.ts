import { expect, it } from 'vitest';
import { lastDaysOf, periodBefore } from './period';

it('a period is as long as the one before it, which ends the day before', () => {
  expect(lastDaysOf('2026-03-01', 2)).toEqual({ from: '2026-02-28', to: '2026-03-01' });
  expect(periodBefore({ from: '2026-03-01', to: '2026-03-31' })).toEqual({ from: '2026-01-29', to: '2026-02-28' });
  expect(periodBefore({ from: '2026-03-01', to: '2026-03-01' })).toEqual({ from: '2026-02-28', to: '2026-02-28' });
});
