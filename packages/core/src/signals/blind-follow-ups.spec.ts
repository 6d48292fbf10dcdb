import { describe, expect, it } from 'vitest';
import { blindFollowUps, type WatchedStep } from './blind-follow-ups';

const step = (condition: WatchedStep['condition'], ...formats: WatchedStep['formats']): WatchedStep => ({
  ...{ condition, tellsClicked: false },
  formats,
});
const LETTERS = [step('no_reply', 'letter'), step('clicked', 'letter'), step('not_opened', 'letter')];

describe('a follow-up that depends on opens or clicks', () => {
  it('goes wrong where they are not counted before it', () => {
    expect(blindFollowUps(LETTERS, { watchesOpens: 'all', watchesClicks: 'layouts' }, true)).toEqual([
      'Whoever gets follow-up 1 depends on who has followed a link, but clicks are counted in none of the messages before it',
    ]);
    expect(blindFollowUps(LETTERS, { watchesOpens: 'none', watchesClicks: 'all' }, true)).toHaveLength(1);
    expect(blindFollowUps(LETTERS, { watchesOpens: 'all', watchesClicks: 'all' }, false)).toHaveLength(2);
  });

  it('is right where one message before it is counted', () => {
    expect(blindFollowUps(LETTERS, { watchesOpens: 'all', watchesClicks: 'all' }, true)).toEqual([]);
    const mixed = [step('no_reply', 'letter', 'layout'), step('clicked', 'letter')];
    expect(blindFollowUps(mixed, { watchesOpens: 'none', watchesClicks: 'layouts' }, true)).toEqual([]);
  });

  it('is one that has another text for whoever has followed a link', () =>
    expect(
      blindFollowUps(
        [step('no_reply', 'letter'), { ...step('no_reply', 'letter'), tellsClicked: true }],
        { watchesOpens: 'all', watchesClicks: 'none' },
        true,
      ),
    ).toEqual([
      'What people get as follow-up 1 depends on who has followed a link, but clicks are counted in none of the messages before it',
    ]));

  it('is none without a condition', () =>
    expect(
      blindFollowUps([step('no_reply'), step('no_reply')], { watchesOpens: 'none', watchesClicks: 'none' }, false),
    ).toEqual([]));
});
