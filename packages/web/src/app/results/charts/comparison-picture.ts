import type { EChartsCoreOption } from 'echarts/core';
import type { ChartTheme } from '../../look/charts/chart-theme';
import { formatNumber } from '../../look/language';
import { scaleMarks, type ComparedLine } from '../results-words';

/** What the picture of a comparison is made of. */
export interface PicturedComparison {
  what: string;
  people: string;
  rate: string;
  /** The share at which the scale ends. */
  end: number;
  lines: readonly ComparedLine[];
}

/** Wide enough for a slide or half a page. */
export const COMPARISON_WIDTH = 960;
const NAME = { x: 0, width: 270 };
const PEOPLE = 350;
const SHARE = 460;
const SCALE = { left: 500, right: 728 };
const SO_FAR = { x: 764, width: COMPARISON_WIDTH - 764 };
const HEAD = 32;
const LINE = 18;
const ROOM = 20;
/** So many letters of 14 px fit these columns, one of the scripts with wide letters counted twice. */
const LETTERS_OF_A_NAME = 30;
const LETTERS_OF_WORDS = 20;

const nameOf = ({ name, second }: ComparedLine): string => (second ? `${name}\n${second}` : name);
const wordsOf = ({ soFar, kinds }: ComparedLine): string => (soFar && kinds ? `${soFar}\n${kinds}` : soFar || kinds);
const lettersOf = (text: string): number => [...text].reduce((sum, c) => sum + (c >= '\u1100' ? 2 : 1), 0);
const textLines = (text: string, letters: number): number =>
  text.split('\n').reduce((sum, part) => sum + Math.max(1, Math.ceil(lettersOf(part) / letters)), 0);

/** The height of every row: that which the longest words need. */
const rowHeight = (lines: readonly ComparedLine[]): number =>
  ROOM +
  LINE *
    Math.max(
      1,
      ...lines.flatMap((l) => [textLines(nameOf(l), LETTERS_OF_A_NAME), textLines(wordsOf(l), LETTERS_OF_WORDS)]),
    );

export const comparisonHeight = (lines: readonly ComparedLine[]): number => HEAD + lines.length * rowHeight(lines);

interface RenderApi {
  coord(point: [number, number]): [number, number];
}

/** Rates as dots with their ranges on one scale, with names and figures beside them: a comparison as it stands on the page. */
export function comparisonOption(comparison: PicturedComparison, theme: ChartTheme): EChartsCoreOption {
  const { lines, end } = comparison;
  const row = rowHeight(lines);
  const heads = headsOf(comparison, theme);
  const hidden = { show: false };
  return {
    textStyle: { fontFamily: theme.font, color: theme.ink },
    grid: { left: SCALE.left, width: SCALE.right - SCALE.left, top: HEAD, height: lines.length * row },
    xAxis: {
      ...{ type: 'value', min: 0, max: end, axisLine: hidden, axisTick: hidden, axisLabel: hidden, splitLine: hidden },
    },
    yAxis: {
      ...{ type: 'category', inverse: true, data: lines.map((_, i) => i) },
      ...{ axisLine: hidden, axisTick: hidden, axisLabel: hidden },
    },
    series: [
      {
        ...{ type: 'custom', silent: true, data: lines.map((l, i) => [l.range.rate, i]) },
        renderItem: ({ dataIndex }: { dataIndex: number }, api: RenderApi) => {
          const at = (share: number) => api.coord([Math.min(share, end), dataIndex])[0];
          const y = api.coord([0, dataIndex])[1];
          const line = lines[dataIndex] as ComparedLine;
          return { type: 'group', children: [...rowOf(line, y, row, theme), ...dotOf(line, at, y, theme)] };
        },
      },
      {
        ...{ type: 'custom', coordinateSystem: 'none', silent: true, data: [0] },
        renderItem: () => ({ type: 'group', children: heads }),
      },
    ],
  };
}

interface Words {
  text: string;
  x: number;
  y: number;
  fill: string;
  align?: 'right' | 'center';
  width?: number;
}

const words = (style: Words, { font }: ChartTheme): object => ({
  type: 'text',
  style: { ...style, verticalAlign: 'middle', overflow: 'break', lineHeight: LINE, font: `400 14px ${font}` },
});

/** A word at the head of a column begins with a capital. */
const atTheHead = (words: string): string => words.charAt(0).toUpperCase() + words.slice(1);

/** The heads of the columns, with the marks of the scale. */
function headsOf(c: PicturedComparison, theme: ChartTheme): object[] {
  const fill = theme.quiet;
  const y = HEAD - 16;
  const marks = scaleMarks(c.end);
  const room = (SCALE.right - SCALE.left) / (100 * c.end);
  const all: Words[] = [
    { text: atTheHead(c.what), ...NAME, y, fill },
    { text: c.people, x: PEOPLE, y, fill, align: 'right' },
    { text: atTheHead(c.rate), x: SHARE, y, fill, align: 'right' },
    ...marks.map((percent, i) => ({
      ...{ text: i === marks.length - 1 ? `${percent} %` : String(percent), y, fill },
      ...{ x: SCALE.left + percent * room, align: 'center' as const },
    })),
  ];
  return all.map((w) => words(w, theme));
}

/** A line in words and figures, with a hairline above it. */
function rowOf(line: ComparedLine, y: number, height: number, theme: ChartTheme): object[] {
  const fill = line.isPast ? theme.quiet : theme.ink;
  const top = Math.round(y - height / 2) + 0.5;
  const all: Words[] = [
    { text: nameOf(line), ...NAME, y, fill },
    { text: formatNumber(line.range.of), x: PEOPLE, y, fill, align: 'right' },
    { text: line.share, x: SHARE, y, fill, align: 'right' },
    { text: wordsOf(line), ...SO_FAR, y, fill: line.mayBeChance ? theme.brass : fill },
  ];
  return [
    {
      type: 'line',
      shape: { x1: 0, x2: COMPARISON_WIDTH, y1: top, y2: top },
      style: { stroke: theme.hairline },
    },
    ...all.map((w) => words(w, theme)),
  ];
}

const END = 5;

/** The rate as a dot, its range as a bar; nothing where there was nobody. */
function dotOf({ range, isPast }: ComparedLine, at: (share: number) => number, y: number, theme: ChartTheme): object[] {
  if (range.of === 0) return [];
  const [low, high] = [at(range.low), at(range.high)];
  const stroke = isPast ? theme.quiet : theme.sea;
  const bar = (x1: number, x2: number, half: number) => ({
    type: 'line',
    shape: { x1, x2, y1: y - half, y2: y + half },
    style: { stroke, lineWidth: 1.5 },
  });
  return [
    ...[bar(low, high, 0), bar(low, low, END), bar(high, high, END)],
    {
      ...{ type: 'circle', shape: { cx: at(range.rate), cy: y, r: 5 } },
      style: isPast ? { fill: theme.sheet, stroke, lineWidth: 1.5 } : { fill: theme.sea, stroke: theme.sheet },
    },
  ];
}
