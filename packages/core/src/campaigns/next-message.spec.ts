import { describe, expect, it } from 'vitest';
import { dayNumber, isoDate } from '../time/days';
import { workingCalendar } from '../time/working-calendar';
import { FOLLOW_UP_CONDITIONS } from './follow-up-condition';
import { nextMessage, onceSent, passOver, type RecipientProgress } from './next-message';
import { isOpen, RECIPIENT_STATES } from './states';

const steps = [{ delay: 0 }, { delay: 3 }, { delay: 5 }];
const thursday = dayNumber('2026-11-05');
const next = (over: Partial<RecipientProgress>, holidays: string[] = []) => {
  const progress: RecipientProgress = {
    state: 'in_progress',
    sent: 1,
    lastSentDay: thursday,
    notBefore: null,
    ...{ opened: false, clicked: false },
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
    const waiting: RecipientProgress = {
      ...{ state: 'waiting', sent: 0, lastSentDay: null, notBefore: null },
      ...{ opened: false, clicked: false },
    };
    expect(onceSent(waiting, { step: 0, day: thursday })).toMatchObject({ sent: 1, lastSentDay: thursday });
  });
});

describe('a follow-up with a condition', () => {
  const of = (condition: (typeof FOLLOW_UP_CONDITIONS)[number], facts: { opened?: boolean; clicked?: boolean }) => {
    const sequence = [{ delay: 0 }, { delay: 3, condition }, { delay: 5 }];
    const progress: RecipientProgress = {
      ...{ state: 'in_progress', sent: 1, lastSentDay: thursday, notBefore: null },
      ...{ opened: false, clicked: false, ...facts },
    };
    return nextMessage(progress, sequence, workingCalendar([1, 2, 3, 4, 5], []));
  };

  it.each([
    ['no_reply', {}, 'sent'],
    ['no_reply', { opened: true, clicked: true }, 'sent'],
    ['not_opened', {}, 'sent'],
    ['not_opened', { opened: true }, 'never'],
    ['not_clicked', { opened: true }, 'sent'],
    ['not_clicked', { opened: true, clicked: true }, 'never'],
    ['clicked', { opened: true }, 'open'],
    ['clicked', { opened: true, clicked: true }, 'sent'],
  ] as const)('%s with %j is %s', (condition, facts, expected) => {
    const next = of(condition, facts);
    expect(next === null ? 'never' : next.isOpen ? 'open' : 'sent').toBe(expected);
  });

  it('never goes to somebody for whom the campaign has ended', () => {
    const calendar = workingCalendar([1, 2, 3, 4, 5], []);
    for (const state of RECIPIENT_STATES.filter((s) => !isOpen(s)))
      for (const condition of FOLLOW_UP_CONDITIONS)
        for (const clicked of [false, true]) {
          const progress = { state, sent: 1, lastSentDay: thursday, notBefore: null, opened: true, clicked };
          expect(nextMessage(progress, [{ delay: 0 }, { delay: 3, condition }], calendar)).toBeNull();
        }
  });

  it('that is passed over holds up nothing: the one behind it comes when it would have', () => {
    const calendar = workingCalendar([1, 2, 3, 4, 5], []);
    const after = passOver({ sent: 1, lastSentDay: thursday }, steps, calendar);
    expect(after).toEqual({ sent: 2, lastSentDay: dayNumber('2026-11-10') });
    expect(next(after)).toEqual([2, '2026-11-17']);
  });
});
