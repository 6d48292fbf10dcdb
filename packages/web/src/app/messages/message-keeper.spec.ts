import { TestBed } from '@angular/core/testing';
import type { MessageDraft } from '@baton/contract';
import { EMPTY_CONTENT } from '@baton/core';
import { Subject } from 'rxjs';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { LiveServer } from '../testing/live-server';
import { MessageKeeper } from './message-keeper';
import { MessagesService } from './messages-service';

const named = (name: string): MessageDraft => ({ name, content: EMPTY_CONTENT });

let answers: Subject<{ fault: null }>[];
const saved: string[] = [];
const onLeaving: string[] = [];
let keeper: MessageKeeper;

beforeEach(() => {
  vi.useFakeTimers();
  answers = [];
  saved.length = onLeaving.length = 0;
  TestBed.configureTestingModule({
    providers: [
      ...LiveServer.providers(),
      MessageKeeper,
      {
        provide: MessagesService,
        useValue: {
          save: (_: number, draft: MessageDraft) => {
            saved.push(draft.name);
            const answer = new Subject<{ fault: null }>();
            answers.push(answer);
            return answer;
          },
          saveOnLeaving: (_: number, draft: MessageDraft) => onLeaving.push(draft.name),
        },
      },
    ],
  });
  keeper = TestBed.inject(MessageKeeper);
});
afterEach(() => vi.useRealTimers());

const answer = async (i: number) => {
  answers[i]?.next({ fault: null });
  answers[i]?.complete();
  await vi.advanceTimersByTimeAsync(0);
};

describe('keeping a message', () => {
  it('saves after a pause, what was typed last', async () => {
    keeper.keep(1, named('a'));
    keeper.keep(1, named('ab'));
    await vi.advanceTimersByTimeAsync(700);
    expect(saved).toEqual(['ab']);
    await answer(0);
    expect(keeper.state()).toBe('saved');
  });

  it('does not say kept, and still saves on leaving, while something newer is typed', async () => {
    keeper.keep(1, named('a'));
    await vi.advanceTimersByTimeAsync(700);
    keeper.keep(1, named('ab'));
    await answer(0);
    expect(keeper.state()).toBe('editing …');
    keeper.closing();
    expect(onLeaving).toEqual(['ab']);
  });

  it('sends again on closing what is under way, and nothing that is confirmed', async () => {
    keeper.keep(1, named('a'));
    keeper.keep(2, named('other'));
    await vi.advanceTimersByTimeAsync(700);
    await answer(0);
    keeper.closing();
    expect(onLeaving).toEqual(['other']);
  });

  it('never lets an older save arrive after a newer one', async () => {
    keeper.keep(1, named('a'));
    await vi.advanceTimersByTimeAsync(700);
    keeper.keep(1, named('ab'));
    await vi.advanceTimersByTimeAsync(700);
    expect(saved).toEqual(['a']);
    await answer(0);
    expect(saved).toEqual(['a', 'ab']);
  });

  it('keeps a failed save to try again with the next change', async () => {
    keeper.keep(1, named('a'));
    await vi.advanceTimersByTimeAsync(700);
    answers[0]?.error(new Error('gone'));
    await vi.advanceTimersByTimeAsync(0);
    expect(keeper.state()).toBe('not saved');
    keeper.keep(1, named('abc'));
    await vi.advanceTimersByTimeAsync(700);
    await answer(1);
    expect([saved, keeper.state()]).toEqual([['a', 'abc'], 'saved']);
  });

  it('saves at once when the page is left', async () => {
    keeper.keep(1, named('a'));
    TestBed.resetTestingModule();
    await vi.advanceTimersByTimeAsync(0);
    expect(saved).toEqual(['a']);
  });
});
