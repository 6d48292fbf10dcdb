import { describe, expect, it } from 'vitest';
import { dayNumber, isoDate } from '../time/days';
import { workingCalendar } from '../time/working-calendar';
import { nextMessage, onceSent, type RecipientProgress } from './next-message';
import { isOpen, RECIPIENT_STATES } from './states';

const steps = [{ delay: 0 }, { delay: 3 }, { delay: 5 }];
const thursday = dayNumber('2026-11-05');
const next = (over: Partial<RecipientProgress>, holidays: string[] = []) => {
  const progress: RecipientProgress = {
    state: 'in_progress',
    sent: 1,
    lastSentDay: thursday,
    notBefore: null,
    ...over,
  };
  const found = nextMessage(progress, steps, workingCalendar([1, 2, 3, 4, 5], holidays));
  return found && [found.step, found.dueDay === null ? null : isoDate(found.dueDay)];
};

describe('nextMessage', () => {
  it('leaves the day of a first message to the plan', () =>
    expect(next({ state: 'waiting', sent: 0, lastSentDay: null, notBefore: thursday })).toEqual([0, null]));

  it('counts the delay in working days from the last message', () => {
    expect(next({})).toEqual([1, '2026-11-10']);
    expect(next({}, ['2026-11-09'])).toEqual([1, '2026-11-11']);
    expect(next({ sent: 2 })).toEqual([2, '2026-11-12']);
  });

  it('waits for somebody who is away, if that is later', () => {
    expect(next({ notBefore: dayNumber('2026-11-20') })).toEqual([1, '2026-11-20']);
    expect(next({ notBefore: dayNumber('2026-11-06') })).toEqual([1, '2026-11-10']);
  });

  it('gives nothing after the last message', () => expect(next({ sent: 3 })).toBeNull());

  it.each(RECIPIENT_STATES.filter((s) => !isOpen(s)))('gives nothing to whoever is %s', (state) =>
    expect(next({ state })).toBeNull(),
  );

  it('counts a message on its way as sent', () => {
    const waiting: RecipientProgress = { state: 'waiting', sent: 0, lastSentDay: null, notBefore: null };
    expect(onceSent(waiting, { step: 0, day: thursday })).toMatchObject({ sent: 1, lastSentDay: thursday });
  });
});
