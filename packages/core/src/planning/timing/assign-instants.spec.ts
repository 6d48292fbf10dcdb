import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { assignInstants, type DayMessage } from './assign-instants';

const MINUTE = 60_000;
const HOUR = 60 * MINUTE;
const rules = { paceMs: 5 * MINUTE, lastMs: -Infinity, providerLimit24h: null, earlier: [] };
const open = (from: number, to: number) => [{ startMs: from * HOUR, endMs: to * HOUR }];
const messages = (n: number, spans = open(9, 17)): DayMessage[] =>
  Array.from({ length: n }, (_, id) => ({ id, units: 1, open: spans }));

describe('assignInstants', () => {
  it('spreads over the whole window and keeps the pace, differently for another seed', () => {
    const a = assignInstants(messages(20), rules, 1);
    expect(a.spilled).toEqual([]);
    const at = a.timed.map((t) => t.instant);
    expect((at.at(-1) as number) - (at[0] as number)).toBeGreaterThan(6.5 * HOUR);
    at.slice(1).forEach((t, i) => expect(t - (at[i] as number)).toBeGreaterThanOrEqual(rules.paceMs));
    expect(assignInstants(messages(20), rules, 1)).toEqual(a);
    expect(assignInstants(messages(20), rules, 2)).not.toEqual(a);
  });

  it('packs as many as the pace lets in, and spills the rest', () => {
    expect(assignInstants(messages(96), rules, 1).spilled).toEqual([]);
    expect(assignInstants(messages(97), rules, 1).spilled).toHaveLength(1);
  });

  it('waits for what was sent before: its pace, and the provider’s 24 hours', () => {
    const late = assignInstants(messages(1, open(9, 10)), { ...rules, lastMs: 9.9 * HOUR }, 1);
    expect(late.timed[0]?.instant).toBeGreaterThanOrEqual(9.9 * HOUR + rules.paceMs);
    const earlier = [{ instant: -10 * HOUR, units: 5 }];
    const limited = assignInstants(messages(3), { ...rules, providerLimit24h: 6, earlier }, 1);
    // One more fits until the five of the day before are a day old, at 14:00.
    expect(limited.timed.filter((t) => t.instant < 14 * HOUR)).toHaveLength(1);
    expect(limited.spilled).toEqual([]);
  });

  it('never breaks a rule, whatever the hours', () => {
    const span = fc.tuple(fc.integer({ min: 0, max: 20 }), fc.integer({ min: 1, max: 4 }));
    const message = fc.record({ from: span, units: fc.integer({ min: 1, max: 3 }) });
    fc.assert(
      fc.property(
        fc.array(message, { maxLength: 40 }),
        fc.integer({ min: 0, max: 30 }),
        fc.nat(),
        (list, limit, seed) => {
          const day = list.map(({ from: [h, n], units }, id): DayMessage => ({ id, units, open: open(h, h + n) }));
          const { timed, spilled } = assignInstants(day, { ...rules, providerLimit24h: limit }, seed);
          expect([...timed.map((t) => t.id), ...spilled].sort((a, b) => a - b)).toEqual(day.map((d) => d.id));
          let last = -Infinity;
          let units = 0;
          for (const t of timed) {
            const [s] = (day[t.id] as DayMessage).open;
            expect(t.instant >= (s?.startMs ?? 0) && t.instant < (s?.endMs ?? 0)).toBe(true);
            expect(t.instant - last).toBeGreaterThanOrEqual(rules.paceMs);
            last = t.instant;
            units += t.units;
          }
          expect(units).toBeLessThanOrEqual(limit);
        },
      ),
    );
  });
});
