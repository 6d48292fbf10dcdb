import { describe, expect, it } from 'vitest';
import { ProgressLine } from './progress-line';

const FROM = Date.UTC(2026, 9, 26);
const TO = Date.UTC(2026, 10, 23);
const day = (n: number) => FROM + n * 86_400_000;

function outputOf(isTTY: boolean, moments: number[]): string {
  const written: string[] = [];
  const line = new ProgressLine({ write: (t) => written.push(t), isTTY }, FROM, TO);
  for (const m of moments) line.show(m);
  return written.join('');
}

describe('ProgressLine', () => {
  it('rewrites one line on a terminal, and ends it when all is done', () => {
    const text = outputOf(true, [day(0), day(14), day(28), day(28)]);
    expect(text.split('\r').map((t) => t.replace(/[█░]+/, '').trim())).toEqual([
      '',
      '0 %  Mon 26 Oct',
      '50 %  Mon 9 Nov',
      '100 %  Mon 23 Nov',
    ]);
    expect(text.match(/\n/g)).toHaveLength(1);
    expect(text.endsWith('\n')).toBe(true);
  });

  it('adds a line for each quarter where nothing can be rewritten', () => {
    const lines = outputOf(
      false,
      Array.from({ length: 29 }, (_, n) => day(n)),
    )
      .trimEnd()
      .split('\n');
    expect(lines.map((l) => / (\d+) %/.exec(l)?.[1])).toEqual(['25', '50', '75', '100']);
  });

  it('stays within the bar when the clock is before or past what it goes through', () => {
    expect(outputOf(true, [day(-3)])).toContain('░'.repeat(24));
    expect(outputOf(true, [day(40)])).toContain('█'.repeat(24));
  });
});
