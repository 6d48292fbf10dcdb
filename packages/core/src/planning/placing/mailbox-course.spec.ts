import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { campaign, mailbox, workspace } from '../../testing/plan-inputs';
import { findEntries } from '../course/entries';
import { MailboxCourse } from './mailbox-course';
import { noPlacements } from '../placements/placements';
import { StartTurns, type Claim, type Starting } from './start-turns';

/** Lets nobody start together with another. */
class OneByOne extends StartTurns {
  override next(claims: readonly Claim[], m: number, i: number, place: Starting): boolean {
    return super.next(claims, m, i, (people, from) => place(people, from, 1));
  }
}

const PEOPLE = 90;
const shapes = fc.record({
  quota: fc.integer({ min: 1, max: 30 }),
  units: fc.integer({ min: 1, max: 3 }),
  perDay: fc.double({ min: 0.7, max: 12, noNaN: true }),
  steps: fc.array(fc.record({ delay: fc.integer({ min: 1, max: 4 }), tolerance: fc.integer({ min: 0, max: 3 }) }), {
    maxLength: 3,
  }),
  bound: fc.array(fc.integer({ min: 0, max: PEOPLE - 1 }), { maxLength: 5 }),
  cap: fc.option(fc.integer({ min: 1, max: 4 })),
});

describe('the course of a mailbox', () => {
  it('starts the same people on the same days together as one by one', () => {
    fc.assert(
      fc.property(shapes, ({ quota, units, perDay, steps, bound, cap }) => {
        const all = [{ delay: 0, tolerance: 0 }, ...steps];
        const input = workspace([PEOPLE], {
          mailboxes: [mailbox({ capacity: { quota } })],
          campaigns: [campaign({ mailboxes: [0], steps: all, dailyLimit: cap })],
          horizonDays: 60,
        });
        input.recipients.units.fill(units);
        for (const p of bound) input.recipients.boundMailbox[p] = 0;
        const [together, apart] = [StartTurns, OneByOne].map((Turns) => {
          const placements = noPlacements(input);
          const turns = new Turns(placements, findEntries(placements, null));
          const claims = turns.turns.map((turn) => ({ turn, free: 0.8 * PEOPLE * units }));
          let offset = 0;
          const aims = all.map(({ delay }) => {
            offset += delay;
            const from = offset;
            return Float64Array.from({ length: placements.days.count }, (_, i) =>
              Math.min(PEOPLE * units, Math.max(0, perDay * (i + 1 - from))),
            );
          });
          const course = new MailboxCourse(placements, turns, 0, [{ steps: all, aims, factor: 1, claims }]);
          for (let i = 0; i < placements.days.count; i++) course.start(i);
          return placements;
        });
        expect(together!.day).toEqual(apart!.day);
        expect(together!.mailbox).toEqual(apart!.mailbox);
        expect(together!.book.used).toEqual(apart!.book.used);
      }),
      { numRuns: 150 },
    );
  });
});
