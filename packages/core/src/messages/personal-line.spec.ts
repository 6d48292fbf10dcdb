import { describe, expect, it } from 'vitest';
import { EMPTY_CONTENT, readContent } from './message-content';
import { lineState, usesLine, whyLineKeepsBack } from './personal-line';

describe('a personal line', () => {
  it('is decided for its own text only', () => {
    const decided = { state: 'approved', line: 'Your terraces!' } as const;
    expect(lineState('Your terraces!', decided)).toBe('approved');
    expect(lineState('Your terraces?', decided)).toBe('written');
    expect(lineState('', null)).toBe('to_do');
    expect(lineState('', { state: 'rejected', line: '' })).toBe('rejected');
  });

  it.each([
    ['approved', true, null],
    ['written', true, 'the personal line has not been approved'],
    ['to_do', true, 'the personal line has not been approved'],
    ['written', false, null],
    ['rejected', false, 'the personal line is not good enough to send'],
  ] as const)('%s, approval needed %s: %s', (state, needed, why) => expect(whyLineKeepsBack(state, needed)).toBe(why));

  it('has a place where a message names it, in any spelling', () => {
    const uses = (body: string) => usesLine(readContent({ ...EMPTY_CONTENT, body }));
    expect(uses('{{ Personal_Line | default: "" }}')).toBe(true);
    expect(uses('{% if x %}{{ personal line }}{% endif %}')).toBe(true);
    expect(uses('a personal line')).toBe(false);
  });
});
