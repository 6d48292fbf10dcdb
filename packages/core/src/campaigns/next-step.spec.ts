import { describe, expect, it } from 'vitest';
import { dayNumber, isoDate } from '../time/days';
import { workingCalendar } from '../time/working-calendar';
import { nextStep } from './next-step';
import { RECIPIENT_STATES, isOpen } from './states';

const calendar = workingCalendar([1, 2, 3, 4, 5], []);
const steps = [{ delay: 0 }, { delay: 3 }, { delay: 5 }];
const thursday = dayNumber('2026-11-05');

describe('nextStep', () => {
  it('gives the first message, whose day the plan chooses', () => {
    expect(nextStep({ state: 'waiting', sent: 0, lastSentDay: null }, steps, calendar)).toEqual({
      kind: 'message',
      step: 0,
      dueDay: null,
    });
  });

  it('counts the delay in working days from the last message', () => {
    const next = nextStep({ state: 'in_progress', sent: 1, lastSentDay: thursday }, steps, calendar);
    expect(next).toMatchObject({ kind: 'message', step: 1 });
    expect(isoDate((next as { dueDay: number }).dueDay)).toBe('2026-11-10');
  });

  it('gives nothing after the last message', () => {
    expect(nextStep({ state: 'in_progress', sent: 3, lastSentDay: thursday }, steps, calendar)).toEqual({
      kind: 'none',
      state: 'done',
    });
  });

  it.each(RECIPIENT_STATES.filter((s) => !isOpen(s)))('gives nothing to whoever is %s', (state) => {
    expect(nextStep({ state, sent: 1, lastSentDay: thursday }, steps, calendar)).toEqual({ kind: 'none', state });
  });
});
