import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { anyWorkspace, campaign, workspace } from '../../testing/plan-inputs';
import { dayNumber } from '../../time/days';
import { readPeople } from './people';
import { PlanDays } from '../workspace/plan-days';

const read = (input: ReturnType<typeof workspace>) => readPeople(input, new PlanDays(input));

describe('what the planner asks of people', () => {
  it('tells those apart who differ in what matters to their days, and numbers them as they come', () => {
    fc.assert(
      fc.property(anyWorkspace, (input) => {
        const people = read(input);
        const { campaign: of, units, bound, earliest, hourClass, domain } = people;
        const numbers = new Map<string, number>();
        for (let p = 0; p < people.count; p++) {
          const key = [of, units, bound, earliest, hourClass, domain].map((column) => column[p]).join();
          if (!numbers.has(key)) numbers.set(key, numbers.size);
          expect(people.kind[p]).toBe(numbers.get(key));
        }
        expect(people.kinds).toBe(numbers.size);
      }),
      { numRuns: 60 },
    );
  });

  it('waits for the campaign, for a date of their own and for what is due', () => {
    const input = workspace([4], { campaigns: [campaign({ startDate: '2026-10-21' })] });
    const today = dayNumber('2026-10-19');
    Object.assign(input.recipients, {
      notBefore: [-1, today + 1, today + 5, today + 1],
      nextStep: [0, 0, 0, 1],
      dueDay: [-1, -1, -1, today + 3],
    });
    const { earliest, dueWorkday } = read(input);
    expect([...earliest]).toEqual([2, 2, 5, 3]);
    expect(dueWorkday[3]).toBe(new PlanDays(input).workdayOf(today + 3));
  });

  it('looks at domains only of which more are waiting than may be written to on a day', () => {
    const input = workspace([6], { domainCap: 2 });
    input.recipients.domain = [7, 7, 8, 8, 7, 9];
    const { domain, domains } = read(input);
    expect([...domain]).toEqual([0, 0, -1, -1, 0, -1]);
    expect(domains).toBe(1);
    expect(read({ ...input, domainCap: 3 }).domains).toBe(0);
    expect(read({ ...input, domainCap: null }).domains).toBe(0);
  });
});
