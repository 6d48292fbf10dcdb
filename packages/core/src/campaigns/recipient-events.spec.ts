import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import {
  BOUNCE_EVENTS,
  eventRule,
  eventsCounting,
  isRecorded,
  RECIPIENT_EVENTS,
  stateAfter,
  type RecipientEventKind,
} from './recipient-events';
import { isOpen, RECIPIENT_STATES } from './states';

const kinds = Object.keys(RECIPIENT_EVENTS) as RecipientEventKind[];

describe('stateAfter', () => {
  it.each([
    ['waiting', 'sent', 'in_progress'],
    ['in_progress', 'sent', 'in_progress'],
    ['waiting', 'sent_last', 'done'],
    ['replied', 'sent_last', 'replied'],
    ['in_progress', 'reply', 'replied'],
    ['done', 'reply', 'replied'],
    ['unsubscribed', 'reply', 'unsubscribed'],
    ['replied', 'unsubscribe', 'unsubscribed'],
    ['replied', 'hard_bounce', 'replied'],
    ['done', 'hard_bounce', 'bounced'],
    ['in_progress', 'auto_reply', 'in_progress'],
    ['waiting', 'unfit', 'left_out'],
    ['in_progress', 'unfit', 'stopped'],
  ] as const)('of somebody %s on %s is %s', (state, event, after) =>
    expect(stateAfter(state, event, true)).toBe(after),
  );

  it('ends other campaigns only where they are open, and only for what concerns the person', () => {
    expect(stateAfter('in_progress', 'reply', false)).toBe('replied');
    expect(stateAfter('done', 'reply', false)).toBe('done');
    expect(stateAfter('in_progress', 'reply', false, true)).toBe('in_progress');
    expect(stateAfter('in_progress', 'reply', true, true)).toBe('replied');
    expect(stateAfter('in_progress', 'unsubscribe', false, true)).toBe('unsubscribed');
    expect(stateAfter('waiting', 'unsubscribe', false)).toBe('unsubscribed');
    expect(stateAfter('in_progress', 'soft_bounce', false)).toBe('in_progress');
    expect(stateAfter('in_progress', 'unfit', false)).toBe('in_progress');
  });

  it('opens again what has ended for a message only that is sent once more', () => {
    expect(stateAfter('done', 'returned', true)).toBe('in_progress');
    expect(stateAfter('done', 'returned', false)).toBe('done');
    for (const state of RECIPIENT_STATES.filter((s) => s !== 'done'))
      expect(stateAfter(state, 'returned', true)).toBe(state);
  });

  it('never opens again what has ended otherwise', () => {
    for (const kind of kinds.filter((k) => k !== 'returned'))
      for (const state of RECIPIENT_STATES.filter((s) => !isOpen(s)))
        for (const isCause of [true, false])
          expect(isOpen(stateAfter(state, kind, isCause)), `${state} ${kind}`).toBe(false);
  });
});

describe('RECIPIENT_EVENTS', () => {
  it('stops everything for whoever goes on the suppression list', () => {
    for (const kind of kinds.filter((k) => eventRule(k).suppresses !== null)) {
      expect(eventRule(kind).others, kind).toBe('end');
      expect(isOpen(stateAfter('in_progress', kind, true)), kind).toBe(false);
    }
  });

  it('records whatever counts in a mailbox’s health', () => {
    for (const kind of kinds.filter((k) => eventRule(k).counts !== null)) expect(isRecorded(kind), kind).toBe(true);
    expect(BOUNCE_EVENTS).toEqual(['hard_bounce', 'returned', 'returned_late', 'soft_bounce', 'blocked']);
    expect(eventsCounting('reply')).toEqual(['reply']);
  });

  it('is what docs/recipients.md draws', () => {
    const page = readFileSync(new URL('../../../../docs/recipients.md', import.meta.url), 'utf8');
    const drawn = [...page.matchAll(/^ {2}(\w+) --> (\w+): (.+)$/gm)].flatMap(([, from, to, by]) =>
      (by as string).split(', ').map((event) => `${from} ${event} ${to}`),
    );
    const decided = kinds.flatMap((kind) =>
      RECIPIENT_STATES.filter((s) => stateAfter(s, kind, true) !== s).map(
        (s) => `${s} ${kind} ${stateAfter(s, kind, true)}`,
      ),
    );
    expect(drawn.sort()).toEqual(decided.sort());
  });
});
