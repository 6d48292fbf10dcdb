import { rateOf, type RateName, type RateRange } from '@baton/core';
import type { ResultGroup } from '@baton/contract';
import type { EChartsCoreOption } from 'echarts/core';
import { weekdays } from '../../look/language';
import { percentOf } from '../results-words';
import { resultsTexts } from '../texts';
import type { ChartTheme } from '../../look/charts/chart-theme';

const texts = resultsTexts.week;

/** People whose first message left in one hour of one day of the week. */
export interface WeekCell {
  /** 1 for Monday. */
  weekday: number;
  hour: number;
  range: RateRange;
}

/** Cells of the week in order, of groups by weekday and hour. */
export const weekCells = (groups: readonly ResultGroup[], rate: RateName): WeekCell[] =>
  groups
    .map(({ key, counts }) => ({
      weekday: Number(key[0]),
      hour: Number(key.slice(2)),
      range: rateOf(rate, counts),
    }))
    .filter((c) => c.range.of > 0)
    .sort((a, b) => a.weekday - b.weekday || a.hour - b.hour);

const ROW = 36;
const AXIS = 30;
const LEFT = 96;
export const weekHeight = (cells: readonly WeekCell[]): number => daysOf(cells).length * ROW + AXIS;

const daysOf = (cells: readonly WeekCell[]): number[] => [...new Set(cells.map((c) => c.weekday))];
const hoursOf = (cells: readonly WeekCell[]): number[] => {
  const hours = cells.map((c) => c.hour);
  const first = Math.min(...hours);
  return hours.length === 0 ? [] : Array.from({ length: Math.max(...hours) - first + 1 }, (_, i) => first + i);
};

const cellWords = ({ weekday, hour, range }: WeekCell): string =>
  texts.cell(weekdays('long')[weekday - 1] ?? '', hour, range.count, range.of);

/** The chart in words. */
export const weekWords = (cells: readonly WeekCell[]): string =>
  cells.length === 0 ? texts.nothing : texts.spoken(cells.map(cellWords));

interface RenderApi {
  value(at: number): number;
  coord(point: [number, number]): [number, number];
  size(of: [number, number]): [number, number];
}

/** Above this depth of colour, words on it are in that of the paper. */
const DARK = 0.55;
/** Wide enough for how many of how many; else there is the share in percent. */
const WIDE = 74;

/** A square for each hour of the week, its colour as strong as the rate is likely to be at least. */
export function weekOption(cells: readonly WeekCell[], theme: ChartTheme): EChartsCoreOption {
  const [days, hours] = [daysOf(cells), hoursOf(cells)];
  const strongest = Math.max(1e-9, ...cells.map((c) => c.range.low));
  const names = weekdays('long');
  const line = { show: false };
  return {
    textStyle: { fontFamily: theme.font, color: theme.ink },
    grid: { left: LEFT, right: 16, top: 4, bottom: AXIS - 4 },
    tooltip: {
      ...{ backgroundColor: theme.sheet, borderColor: theme.hairline, textStyle: { color: theme.ink } },
      formatter: ({ dataIndex }: { dataIndex: number }) => {
        const cell = cells[dataIndex];
        if (!cell) return '';
        return texts.likely(cellWords(cell), percentOf(cell.range.low), percentOf(cell.range.high));
      },
    },
    xAxis: {
      ...{ type: 'category', data: hours.map(texts.hour), axisTick: line, axisLine: line },
      axisLabel: { color: theme.quiet },
    },
    yAxis: {
      ...{ type: 'category', inverse: true, data: days.map((d) => names[d - 1]), axisTick: line, axisLine: line },
      axisLabel: { color: theme.ink, fontSize: 14 },
    },
    series: [
      {
        ...{ type: 'custom', encode: { x: 0, y: 1 } },
        data: cells.map((c) => [hours.indexOf(c.hour), days.indexOf(c.weekday)]),
        renderItem: ({ dataIndex }: { dataIndex: number }, api: RenderApi) => {
          const { range } = cells[dataIndex] as WeekCell;
          return square(api, range, range.low / strongest, theme);
        },
      },
    ],
  };
}

function square(api: RenderApi, { count, of, rate }: RateRange, depth: number, theme: ChartTheme): object {
  const [x, y] = api.coord([api.value(0), api.value(1)]);
  const [width, height] = api.size([1, 1]);
  const shape = { x: x - width / 2 + 1, y: y - height / 2 + 1, width: width - 2, height: height - 2 };
  const words = width >= WIDE ? texts.share(count, of) : percentOf(rate);
  return {
    type: 'group',
    children: [
      { type: 'rect', shape, style: { fill: theme.sheet, stroke: theme.hairline } },
      { type: 'rect', shape, style: { fill: theme.moss, opacity: depth } },
      {
        type: 'text',
        style: {
          ...{ text: words, x, y, align: 'center', verticalAlign: 'middle', font: `400 13px ${theme.font}` },
          fill: depth > DARK ? theme.sheet : theme.ink,
        },
      },
    ],
  };
}
