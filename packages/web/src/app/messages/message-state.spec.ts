import { describe, expect, it, vi } from 'vitest';
import { MessageState, NEW_CONTENT } from './message-state';

const state = () => {
  const s = new MessageState();
  s.open(NEW_CONTENT);
  return s;
};

describe('MessageState', () => {
  it('undoes and does again, step by step', () => {
    const s = state();
    s.change({ subject: 'One' }, 'subject');
    s.change({ preview: 'Two' }, 'preview');
    s.change({ format: 'layout' }, 'as layout');
    expect(s.undo()).toBe(true);
    expect(s.content()).toMatchObject({ subject: 'One', preview: 'Two', format: 'letter' });
    s.undo();
    s.undo();
    expect(s.content()).toEqual(NEW_CONTENT);
    expect(s.undo()).toBe(false);
    s.redo();
    s.redo();
    expect(s.content()).toMatchObject({ subject: 'One', preview: 'Two' });
    s.change({ preview: 'Other' }, 'preview');
    expect(s.canRedo()).toBe(false);
  });

  it('takes typing without a pause for one step, and a pause for the end of it', () => {
    let now = 1000;
    const clock = vi.spyOn(performance, 'now').mockImplementation(() => now);
    const s = state();
    for (const subject of ['K', 'Ke', 'Kelp']) {
      now += 100;
      s.change({ subject }, 'subject');
    }
    now += 5000;
    s.change({ subject: 'Kelp!' }, 'subject');
    s.undo();
    expect(s.content().subject).toBe('Kelp');
    s.undo();
    expect(s.content().subject).toBe('');
    clock.mockRestore();
  });

  it('makes no step of what changes nothing', () => {
    const s = state();
    s.change((c) => ({ ...c }), 'nothing');
    expect(s.canUndo()).toBe(false);
  });
});
