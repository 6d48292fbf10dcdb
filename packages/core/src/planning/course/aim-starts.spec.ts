import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { entry } from '../../testing/entries';
import { mailbox, workspace } from '../../testing/plan-inputs';
import { aimStarts, withSlack, type Effort } from './aim-starts';
import { findGroups } from './groups';
import { forecastClassMix } from './class-mix';
import { PlanDays } from '../workspace/plan-days';

const EFFORT: Effort = { iterations: 1, classes: 3, shapes: 6, gap: 1e-3, bucketDays: 1, deviatesFrom: 0 };
const days = new PlanDays(workspace([0], { mailboxes: [mailbox()], horizonDays: 330 }));

const situations = fc
  .record({
    /** What each mailbox takes on the first day, and how much more each day. */
    mailboxes: fc.array(fc.record({ first: fc.integer({ min: 12, max: 40 }), more: fc.constantFrom(0, 0, 1, 2) }), {
      minLength: 1,
      maxLength: 4,
    }),
    entries: fc.array(
      fc.record({
        units: fc.integer({ min: 20, max: 250 }),
        steps: fc.array(
          fc.record({ delay: fc.integer({ min: 1, max: 5 }), tolerance: fc.integer({ min: 0, max: 3 }) }),
          {
            maxLength: 2,
          },
        ),
      }),
      { minLength: 1, maxLength: 3 },
    ),
  })
  .map(({ mailboxes, entries }) => {
    const all = mailboxes.map((_, m) => m);
    const waiting = entries.map(({ units, steps }) =>
      entry(days, units, all, { steps: [{ delay: 0, tolerance: 0 }, ...steps] }),
    );
    const capacity = mailboxes.map(({ first, more }) =>
      Float64Array.from({ length: days.count }, (_, i) => (i % 7 < 5 ? first + more * Math.min(20, i) : 0)),
    );
    const groups = findGroups(waiting, capacity);
    const units = groups.map(() => waiting.map((e) => e.units));
    const classes = forecastClassMix(days, waiting, groups, units, null, EFFORT.classes);
    const coursesOf = (bucketDays: number) => aimStarts(days, groups, classes, capacity, { ...EFFORT, bucketDays });
    return { capacity, groups, classes, coursesOf };
  });

describe('the course through some mailboxes', () => {
  it('asks no more of a day than each mailbox has, takes nobody back, and starts all there are', () => {
    fc.assert(
      fc.property(
        situations,
        fc.integer({ min: 1, max: 4 }),
        ({ capacity, groups, classes, coursesOf }, bucketDays) => {
          const courses = coursesOf(bucketDays);
          let [over, back] = [0, 0];
          groups.forEach(({ mailboxes }, g) => {
            let started = 0;
            mailboxes.forEach((m, at) => {
              const left = capacity[m]!.slice();
              for (const steps of courses[g]!.aims[at]!) {
                started += steps[0]!.at(-1)!;
                for (const curve of steps)
                  for (let i = 0; i < days.count; i++) {
                    const own = curve[i]! - (i === 0 ? 0 : curve[i - 1]!);
                    back = Math.min(back, own);
                    left[i]! -= own;
                  }
              }
              over = Math.max(over, ...left.map((units) => -units));
            });
            const all = classes[g]!.reduce((sum, { units }) => sum + units, 0);
            expect(started / withSlack(all, mailboxes.length)).toBeGreaterThan(0.99);
          });
          expect(over).toBeLessThan(0.05);
          expect(back).toBeGreaterThan(-1e-9);
        },
      ),
      { numRuns: 30 },
    );
  });

  it('sends as many follow-ups as first messages, none before its delay and none after its tolerance', () => {
    fc.assert(
      fc.property(situations, ({ groups, classes, coursesOf }) => {
        const courses = coursesOf(1);
        let [early, late, missing] = [0, 0, 0];
        const look = (before: Float64Array, own: Float64Array, delay: number, tolerance: number) => {
          const by = (i: number, waited: number) => before[days.lastWith(days.workday[i]! - waited)] ?? 0;
          missing = Math.max(missing, before.at(-1)! - own.at(-1)!);
          for (let i = 0; i < days.count; i++) {
            early = Math.max(early, own[i]! - by(i, delay));
            late = Math.max(late, by(i, delay + tolerance + 1) - own[i]!);
          }
        };
        groups.forEach((_, g) => {
          for (const curves of courses[g]!.aims)
            classes[g]!.forEach(({ steps }, k) =>
              steps.forEach(({ delay, tolerance }, s) => {
                if (s > 0) look(curves[k]![s - 1]!, curves[k]![s]!, delay, tolerance);
              }),
            );
        });
        for (const wrong of [early, late, missing]) expect(wrong).toBeLessThan(0.05);
      }),
      { numRuns: 30 },
    );
  });
});
