import { TestBed } from '@angular/core/testing';
import { provideRouter } from '@angular/router';
import { NO_RESULTS } from '@baton/core';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { settle } from '../testing/live-server';
import { keepSavedFiles, rowsOfCsv, textOfFile } from '../testing/saved-files';
import { Comparison } from './comparison';
import { pastLine, rateLines } from './results-words';

let saved: Map<string, Blob>;
beforeEach(() => {
  saved = keepSavedFiles();
  // Widths of words are estimated where there is no canvas.
  vi.spyOn(HTMLCanvasElement.prototype, 'getContext').mockReturnValue(null);
  TestBed.configureTestingModule({ providers: [provideRouter([])] });
});
afterEach(() => vi.restoreAllMocks());

const group = (key: string, name: string, written: number, replied: number) => ({
  ...{ key, name },
  counts: { ...NO_RESULTS, written, replied },
});
const LONG = 'Garden centres and nurseries along the whole of the northern coast and second pressing of the autumn';
const PAST = pastLine('past', 'All together', { ...NO_RESULTS, written: 181, replied: 19 }, 'replied');

async function show(inputs: Record<string, unknown> = {}) {
  const fixture = TestBed.createComponent(Comparison);
  const groups = [
    group('1', LONG, 90, 9),
    group('2', '=Vineyards "and\u0001 more"', 91, 10),
    group('3', 'Nobody yet', 0, 0),
  ];
  const all = {
    lines: [...rateLines(groups, 'replied'), PAST],
    rate: 'replied',
    what: 'Campaign',
    name: 'Side by side',
  };
  for (const [name, value] of Object.entries({ ...all, ...inputs })) fixture.componentRef.setInput(name, value);
  await settle(fixture);
  const host = fixture.nativeElement as HTMLElement;
  const press = async (words: string, file: string): Promise<string> => {
    [...host.querySelectorAll('button')].find((b) => b.textContent.trim() === words)!.click();
    await vi.waitFor(() => expect([...saved.keys()]).toContain(file), 60_000);
    return textOfFile(saved.get(file));
  };
  return { host, press };
}

describe('a comparison', () => {
  it('says as many of the same rate only, also where chance could bring any difference', async () => {
    const groups = [group('1', 'A', 2, 1), group('2', 'B', 8, 4), group('3', 'C', 2, 0)];
    const { host } = await show({ lines: rateLines(groups, 'replied') });
    const words = [...host.querySelectorAll('tbody tr')].map((tr) => tr.lastElementChild?.textContent.trim());
    expect(words).toEqual(['as many', 'the most', expect.stringMatching(/^may be chance \(p /)]);
  });

  it('is saved as a picture with every name, figure and range that stands on the page', async () => {
    const { press } = await show();
    const svg = await press('Save as SVG', 'Side by side.svg');
    const drawn = new DOMParser().parseFromString(svg, 'image/svg+xml');
    expect(drawn.querySelector('parsererror')).toBeNull();
    const words = [...drawn.querySelectorAll('text')].map((t) => t.textContent).join(' ');
    for (const part of [
      'Side by side',
      '=Vineyards "and more"',
      '9 · 10 %',
      '10 · 11 %',
      'the most',
      'All together',
      '181',
    ])
      expect(words).toContain(part);
    expect(words.replace(/\s+/g, ' ')).toContain(LONG);
    expect(words).toContain('of those reached, with the 95 % range');
    expect(svg).not.toMatch(/NaN|undefined/);
  });

  it('has a bar with its two ends where anybody was reached', async () => {
    const { press } = await show();
    const svg = await press('Save as SVG', 'Side by side.svg');
    const drawn = new DOMParser().parseFromString(svg, 'image/svg+xml');
    const bars = [...drawn.querySelectorAll('path')].filter((p) => p.getAttribute('stroke-width') === '1.5');
    // The ring of what they are seen beside is drawn with the same line; a dot is not.
    expect(bars).toHaveLength(3 * 3 + 1);
  });

  it('wraps a title that is longer than its picture, and leaves room for every line of it', async () => {
    const { press } = await show({ name: `${LONG}, ${LONG}` });
    const svg = await press('Save as SVG', `${LONG}, ${LONG}.svg`);
    const drawn = new DOMParser().parseFromString(svg, 'image/svg+xml');
    const lines = [...drawn.querySelectorAll('svg > text')].filter((t) => t.getAttribute('style')?.includes('600'));
    expect(lines.length).toBeGreaterThan(1);
    expect(lines.map((t) => t.textContent).join(' ')).toBe(`${LONG}, ${LONG}`);
    const chartFrom = Number(drawn.querySelector('svg > svg')?.getAttribute('y'));
    expect(Math.max(...lines.map((t) => Number(t.getAttribute('y'))))).toBeLessThan(chartFrom);
  });

  it('is saved in figures, without what it is seen beside', async () => {
    const { press } = await show();
    await press('Save as CSV', 'Side by side.csv');
    const [header, ...rows] = await rowsOfCsv(saved.get('Side by side.csv'));
    expect(header?.slice(0, 4)).toEqual(['Campaign', 'reached', 'written to', 'replied']);
    expect(header?.slice(-3)).toEqual(['replied (%)', 'Likely from (%)', 'Likely to (%)']);
    expect(rows.map((row) => [row[0], row[1], ...row.slice(-3)])).toEqual([
      [LONG, '90', '10', '5.4', '18'],
      // A spreadsheet would run it.
      [`"'=Vineyards ""and\u0001 more"""`, '91', '11', '6.1', '19'],
      ['Nobody yet', '0', '', '', ''],
    ]);
  });
});
