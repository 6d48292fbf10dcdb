import { describe, expect, it } from 'vitest';
import { firstWords } from './first-words';

describe('the first words of a reply', () => {
  it('are the first line that its writer wrote, also below what they quote', () => {
    const text =
      'On Tue, 24 Nov 2026, ines@tidewaterkelp.example wrote:\n> Hello Maud,\n> kelp?\n\nIn March, before the buds.\n\nMaud';
    expect(firstWords(text, 120)).toBe('In March, before the buds.');
  });

  it('say where they are cut', () => {
    expect(firstWords('Kelp for the whole of the northern slope, please', 20)).toBe('Kelp for the whole…');
  });

  it('are quoted ones where there are no others, and nothing where there is nothing', () => {
    expect(firstWords('> Hello Maud,\n> kelp?', 40)).toBe('> Hello Maud,');
    expect(firstWords(' \n', 40)).toBe('');
  });
});
