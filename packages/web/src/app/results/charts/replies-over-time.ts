import type { StepResults } from '@baton/contract';
import { DAY_MS } from '@baton/core';
import type { EChartsCoreOption } from 'echarts/core';
import { resultsTexts } from '../texts';
import type { ChartTheme } from '../../look/charts/chart-theme';

const texts = resultsTexts.answers;

const ROW = 40;
const AXIS = 34;
export const repliesHeight = (steps: readonly StepResults[]): number => steps.length * ROW + AXIS;

/** What a line of the chart is called. */
export const lineName = (place: number): string => (place === 0 ? texts.firstMessage : texts.followUp(place));

/** The chart in words. @param dayOf a day in words */
export const repliesWords = (steps: readonly StepResults[], dayOf: (instant: number) => string): string =>
  texts.spoken(steps.map((s) => texts.step(lineName(s.place), s.replied, dayOf(s.firstSentAt), dayOf(s.lastSentAt))));

/** A day of a message: how many of it left, and how many of the replies that are known by their time it brought. */
export interface DayOfMessage {
  message: string;
  day: string;
  left: number;
  replied: number;
}

/** The chart in figures: every day on which a message left or brought a reply. @param dayOf a day as an ISO date */
export function messagesByDay(steps: readonly StepResults[], dayOf: (instant: number) => string): DayOfMessage[] {
  return steps.flatMap(({ place, name, days, repliedAt }) => {
    const message = `${lineName(place)}: ${name}`;
    const found = new Map<string, DayOfMessage>();
    const on = (at: number): DayOfMessage => {
      const day = dayOf(at);
      const known = found.get(day) ?? { message, day, left: 0, replied: 0 };
      found.set(day, known);
      return known;
    };
    for (const { from, sent } of days) on(from).left += sent;
    for (const at of repliedAt) on(at).replied++;
    return [...found.values()].sort((a, b) => (a.day < b.day ? -1 : 1));
  });
}

interface RenderApi {
  value(at: number): number;
  coord(point: [number, number]): [number, number];
}

/** What the chart is made of. */
export interface RepliesOverTime {
  steps: readonly StepResults[];
  now: number;
  /** An instant's day, and day and time, in words. */
  dayOf: (at: number) => string;
  timeOf: (at: number) => string;
}

/** A line for each message: a bar for each day on which it left, as high as many did, a dot for each reply that it brought. */
export function repliesOption({ steps, now, dayOf, timeOf }: RepliesOverTime, theme: ChartTheme): EChartsCoreOption {
  const line = { lineStyle: { color: theme.hairline } };
  const most = Math.max(1, ...steps.flatMap((s) => s.days.map((d) => d.sent)));
  return {
    textStyle: { fontFamily: theme.font, color: theme.ink },
    grid: { left: 108, right: 20, top: 10, bottom: AXIS - 8 },
    tooltip: { backgroundColor: theme.sheet, borderColor: theme.hairline, textStyle: { color: theme.ink } },
    xAxis: {
      ...{ type: 'time', min: Math.min(...steps.map((s) => s.firstSentAt)), max: now, minInterval: DAY_MS },
      axisLabel: { color: theme.quiet, formatter: dayOf, hideOverlap: true },
      ...{ splitLine: { show: false }, axisLine: line, axisTick: line },
    },
    yAxis: {
      ...{ type: 'category', inverse: true, data: steps.map((s) => lineName(s.place)) },
      axisLabel: { color: theme.ink, fontSize: 14 },
      ...{ axisTick: { show: false }, axisLine: { show: false } },
      splitLine: { show: true, ...line, interval: 0 },
    },
    series: [
      {
        ...{ type: 'custom', encode: { x: [1, 2], y: 0 } },
        tooltip: {
          formatter: ({ value }: { value: [number, number, number, number] }) => texts.ofDay(dayOf(value[1]), value[3]),
        },
        renderItem: (_: unknown, api: RenderApi) => barOf(api, most, theme),
        data: steps.flatMap((s, i) => s.days.map((d) => [i, d.from, d.to, d.sent])),
      },
      {
        ...{ type: 'scatter', symbolSize: 9, itemStyle: { color: theme.moss, borderColor: theme.sheet } },
        tooltip: { formatter: ({ value }: { value: [number, number] }) => timeOf(value[0]) },
        data: steps.flatMap((s, i) => s.repliedAt.map((at) => [at, i])),
      },
      {
        ...{ type: 'custom', silent: true, encode: { x: 0 }, data: [[now, 0]] },
        renderItem: (_: unknown, api: RenderApi) => lineOfNow(api, steps.length, theme),
      },
    ],
  };
}

const HIGHEST = 28;
const LOWEST = 3;
const NARROWEST = 3;

/** A day on which a message left. @param most messages on any day */
function barOf(api: RenderApi, most: number, { seaSoft }: ChartTheme): object {
  const [x, y] = api.coord([api.value(1), api.value(0)]);
  const [to] = api.coord([api.value(2), api.value(0)]);
  const height = Math.max(LOWEST, (HIGHEST * api.value(3)) / most);
  const shape = { x, y: y - height / 2, width: Math.max(NARROWEST, to - x), height };
  return { type: 'rect', shape, style: { fill: seaSoft } };
}

function lineOfNow(api: RenderApi, lines: number, { brass, font }: ChartTheme): object {
  const [x, top] = api.coord([api.value(0), 0]);
  const [, bottom] = api.coord([api.value(0), lines - 1]);
  const shape = { x1: x, y1: top - 20, x2: x, y2: bottom + 18 };
  const words = { text: texts.now, x: x - 5, y: top - 14, align: 'right', fill: brass, font: `400 12px ${font}` };
  return {
    type: 'group',
    children: [
      { type: 'line', shape, style: { stroke: brass, lineWidth: 2 } },
      { type: 'text', style: words },
    ],
  };
}
