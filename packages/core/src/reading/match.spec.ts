import { describe, expect, it } from 'vitest';
import { eventOfMatch, matchOf, type MatchCandidate, type ToMatch } from './match';

const sent = (address: string, over: Partial<MatchCandidate> = {}): MatchCandidate => ({
  ...{ isNamed: false, address, subject: 'Kelp trial for your vines', sentAt: 0 },
  ...over,
});
const mail = (over: Partial<ToMatch> = {}): ToMatch => ({
  ...{ kind: 'reply', concerns: [over.from ?? 'ana@vines.example'], from: 'ana@vines.example', subject: 'Hello' },
  isShared: (domain) => domain === 'post.example',
  ...over,
});
const toWhom = (m: ToMatch, candidates: MatchCandidate[]) => {
  const match = matchOf(m, candidates);
  return match && [match.to.address, match.sureness];
};

describe('a message that came in belongs', () => {
  it.each<[string, ToMatch, MatchCandidate[], [string, string] | null]>([
    [
      'to what it names, whoever wrote it',
      mail({ from: 'bo@hills.example' }),
      [sent('ana@vines.example'), sent('cy@x.example', { isNamed: true })],
      ['cy@x.example', 'sure'],
    ],
    [
      'to the last one to its sender',
      mail(),
      [sent('cy@x.example'), sent('ana@vines.example')],
      ['ana@vines.example', 'sure'],
    ],
    [
      'to whom a report is about',
      mail({ kind: 'bounce', from: 'mailer-daemon@mx.example', concerns: ['ana@vines.example'] }),
      [sent('ana@vines.example')],
      ['ana@vines.example', 'sure'],
    ],
    [
      'perhaps to a colleague’s',
      mail({ from: 'bo@vines.example' }),
      [sent('ana@vines.example')],
      ['ana@vines.example', 'unsure'],
    ],
    [
      'perhaps to the colleague’s whose subject it has',
      mail({ from: 'bo@vines.example', subject: 'AW: Kelp for terraces' }),
      [sent('ana@vines.example'), sent('cy@vines.example', { subject: 'Kelp for terraces' })],
      ['cy@vines.example', 'unsure'],
    ],
    [
      'perhaps to the only one of its subject',
      mail({ from: 'ana.reyes@post.example', subject: 'Re: [EXTERNAL] Kelp trial for your  vines' }),
      [sent('ana@vines.example')],
      ['ana@vines.example', 'unsure'],
    ],
    [
      'to none by a subject that several have',
      mail({ from: 'ana.reyes@post.example', subject: 'Re: Kelp trial for your vines' }),
      [sent('ana@vines.example'), sent('bo@hills.example')],
      null,
    ],
    ['to none of others at a provider of many', mail({ from: 'ana@post.example' }), [sent('bo@post.example')], null],
    [
      'to none, as a report, by company or subject',
      mail({ kind: 'bounce', from: 'mailer-daemon@vines.example', concerns: ['x@vines.example'] }),
      [sent('ana@vines.example')],
      null,
    ],
    [
      'to none, as an absence, by company',
      mail({ kind: 'auto_reply', from: 'bo@vines.example' }),
      [sent('ana@vines.example')],
      null,
    ],
  ])('%s', (_, m, candidates, expected) => expect(toWhom(m, candidates)).toEqual(expected));
});

it('suppresses nobody for what may not be theirs', () => {
  expect(eventOfMatch('unsubscribe', null, 'sure')).toBe('unsubscribe');
  expect(eventOfMatch('unsubscribe', null, 'unsure')).toBe('reply');
  expect(eventOfMatch('left', null, 'unsure')).toBe('left');
  expect(eventOfMatch('noise', null, 'unsure')).toBe(null);
});
