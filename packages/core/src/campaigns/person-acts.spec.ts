import { describe, expect, it } from 'vitest';
import { actWords, eventOfAct, PERSON_ACTS, whyNotAct } from './person-acts';
import { stateAfter } from './recipient-events';
import { isOpen, RECIPIENT_STATES } from './states';

describe('what a person does about a recipient', () => {
  it('is nothing where nothing more is to come', () => {
    for (const state of RECIPIENT_STATES.filter((s) => !isOpen(s)))
      for (const act of PERSON_ACTS)
        expect(whyNotAct(act, { state, sent: 1, steps: 3, isPlanned: true })).toContain('nothing more');
  });

  it('depends on how far they are', () => {
    const first = { state: 'waiting', sent: 0, steps: 2, isPlanned: true } as const;
    const later = { state: 'in_progress', sent: 1, steps: 2, isPlanned: false } as const;
    const can = (facts: typeof first | typeof later) => PERSON_ACTS.filter((act) => whyNotAct(act, facts) === null);
    expect(can(first)).toEqual(['end', 'postpone', 'move', 'send_now']);
    expect(can(later)).toEqual(['end', 'skip', 'postpone']);
  });

  it('is in their history, and leads to the state that the table has', () => {
    expect(eventOfAct('skip', { sent: 1, steps: 3 })).toBe('skipped');
    expect(eventOfAct('skip', { sent: 2, steps: 3 })).toBe('skipped_last');
    expect(stateAfter('in_progress', 'skipped_last', true)).toBe('done');
    expect(stateAfter('in_progress', 'skipped', true)).toBe('in_progress');
    expect(stateAfter('waiting', 'ended_by_hand', true)).toBe('stopped');
    expect(eventOfAct('send_now', { sent: 0, steps: 1 })).toBeNull();
  });

  it('is said in a sentence', () => {
    expect(actWords('end', { people: 1, address: 'ana@x.example' }, '')).toBe(
      'The campaign was ended for ana@x.example.',
    );
    expect(actWords('postpone', { people: 1200, address: '' }, 'Mon 7 Dec')).toBe(
      'What follows for 1,200 people was postponed to Mon 7 Dec.',
    );
    expect(actWords('postpone', { people: 2, address: '' }, '')).toBe(
      'What follows for 2 people is no longer postponed.',
    );
  });
});
