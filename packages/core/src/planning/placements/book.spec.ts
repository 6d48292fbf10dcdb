import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { anyWorkspace, campaign, mailbox, workspace } from '../../testing/plan-inputs';
import type { Book } from './book';
import type { PlanInput } from '../workspace/plan-input';
import { noPlacements } from './placements';

/** A message to a person on a day of a mailbox. */
interface Written {
  p: number;
  m: number;
  i: number;
}

/** Whether one more fits, counted from all that was written. */
function fits(input: PlanInput, book: Book, written: readonly Written[], { p, m, i }: Written): boolean {
  const { campaign: campaignOf, units, domain } = input.recipients;
  const here = written.filter((w) => w.m === m && w.i === i);
  const at = m * book.days + i;
  if (here.reduce((sum, w) => sum + units[w.p]!, units[p]!) > book.open.capacity[at]!) return false;
  if (here.length >= book.open.room[at]!) return false;
  if (input.domainCap !== null && here.filter((w) => domain[w.p] === domain[p]).length >= input.domainCap) return false;
  const { dailyLimit, alreadySent = [] } = input.campaigns[campaignOf[p]!]!;
  const sent = alreadySent.reduce((sum, s) => sum + (s.day === book.open.days.base + i ? s.messages : 0), 0);
  const ofCampaign = written.filter((w) => w.i === i && campaignOf[w.p] === campaignOf[p]).length;
  if (dailyLimit !== null && sent + ofCampaign >= dailyLimit) return false;
  const { hourClass } = book.people;
  if (hourClass[p] === 0) return true;
  const room = book.open.roomIn(book.open.open(m, i, hourClass[p]!), m);
  return here.filter((w) => hourClass[w.p] === hourClass[p]).length < room;
}

describe('the book of a plan', () => {
  const tries = fc.array(fc.record({ p: fc.nat(), m: fc.nat(), i: fc.nat({ max: 6 }), takesBack: fc.boolean() }), {
    minLength: 20,
    maxLength: 120,
  });

  it('lets in what is found by counting all that was written, and takes back', () => {
    fc.assert(
      fc.property(anyWorkspace, tries, (input, list) => {
        const { book } = noPlacements(input);
        const written: Written[] = [];
        if (book.people.count === 0) return;
        for (const { takesBack, ...own } of list) {
          const one = { p: own.p % book.people.count, m: own.m % book.mailboxes, i: own.i };
          // Nobody has two messages on a day, and is not asked about.
          if (!written.some((w) => w.p === one.p && w.i === one.i)) {
            const mayFit = fits(input, book, written, one);
            expect(book.fits(one.p, one.m, one.i)).toBe(mayFit);
            if (!mayFit) continue;
            book.put(one.p, one.m, one.i);
            written.push(one);
          } else if (takesBack && written.length > 0) {
            const [back] = written.splice(own.p % written.length, 1) as [Written];
            book.put(back.p, back.m, back.i, -1);
          }
        }
      }),
      { numRuns: 100 },
    );
  });

  it('counts how many more are let in, by quota and by what the hours hold', () => {
    const roomy = workspace([30], { mailboxes: [mailbox({ capacity: { quota: 10 } })] });
    roomy.recipients.units.fill(3);
    const { book } = noPlacements(roomy);
    expect(book.howMany(0, 0, 1)).toBe(3);
    book.put(0, 0, 1, 2);
    expect([book.howMany(2, 0, 1), book.left(0, 1), book.fits(2, 0, 1)]).toEqual([1, 4, true]);
    book.put(2, 0, 1);
    expect([book.howMany(3, 0, 1), book.left(0, 1), book.fits(3, 0, 1)]).toEqual([0, 1, false]);
    // Eight hours hold eight at an hour apart.
    const slow = noPlacements(workspace([30], { mailboxes: [mailbox({ paceSeconds: 3600 })] })).book;
    expect(slow.howMany(0, 0, 1)).toBe(8);
    slow.put(0, 0, 1, 8);
    expect([slow.left(0, 1), slow.fits(9, 0, 1)]).toEqual([-1, false]);
    // Where a limit has a say too, one at a time.
    const limited = workspace([30], { campaigns: [campaign({ dailyLimit: 20 })] });
    expect(noPlacements(limited).book.howMany(0, 0, 1)).toBe(1);
  });
});
