import type { MailboxHistory } from '@baton/contract';
import type { EChartsCoreOption } from 'echarts/core';
import type { ChartTheme } from '../look/charts/chart-theme';
import { mailboxesTexts } from './texts';

const texts = mailboxesTexts.mailboxHistory;

export type HistoryDay = MailboxHistory['days'][number];

/** So many times as high as the most that left on a day is the scale at most, to make room for a quota. */
const MOST_ROOM = 3;
/** Where anything was troubled it is seen, in pixels below the line; and there is no room for more. */
const LEAST_BELOW = 3;
const MOST_BELOW = 12;
const LEFT = 40;
const BOTTOM = 44;
export const HISTORY_HEIGHT = 168;

/** Whether anything left on a day, or might have. */
export const hasAnything = ({ units, quota, health }: HistoryDay): boolean =>
  units > 0 || quota !== null || health !== null;

/** So many days are shown at least. */
const FEWEST_DAYS = 28;

/** The days from the first on which there was anything. */
export function daysToShow(days: readonly HistoryDay[]): readonly HistoryDay[] {
  const first = days.findIndex(hasAnything);
  return days.slice(Math.max(0, Math.min(first, days.length - FEWEST_DAYS)));
}

/** Messages of a day that bounced, were refused or were reported as spam. */
export const troubledOn = ({ health }: HistoryDay): number =>
  health === null ? 0 : health.bounces + health.refusals + health.complaints;

/** The most that left on one day. */
export const mostOn = (days: readonly HistoryDay[]): number => Math.max(0, ...days.map((d) => d.units));

/** Where the scale ends: what it might send stands on it, as far as that still shows what left. */
export function topOf(days: readonly HistoryDay[]): number {
  const most = mostOn(days);
  return Math.max(most, Math.min(Math.max(0, ...days.map((d) => d.quota ?? 0)), MOST_ROOM * most));
}

/** The chart in words. */
export const historyWords = (days: readonly HistoryDay[]): string =>
  texts.spoken(
    days.reduce((sum, d) => sum + d.units, 0),
    mostOn(days),
    days.reduce((sum, d) => sum + troubledOn(d), 0),
  );

interface RenderApi {
  coord(point: [number, number]): [number, number];
  size(of: [number, number]): [number, number];
}

/** A bar for each day as high as many left, a mark over it for what it might send, and below the line what was troubled. */
export function historyOption(
  days: readonly HistoryDay[],
  dayWords: (day: string) => string,
  theme: ChartTheme,
): EChartsCoreOption {
  const line = { lineStyle: { color: theme.hairline } };
  const top = topOf(days);
  return {
    textStyle: { fontFamily: theme.font, color: theme.ink },
    grid: { left: LEFT, right: 8, top: 10, bottom: BOTTOM },
    tooltip: {
      ...{ trigger: 'axis', axisPointer: { type: 'none' } },
      ...{ backgroundColor: theme.sheet, borderColor: theme.hairline, textStyle: { color: theme.ink } },
      formatter: ([point]: { dataIndex: number }[]) => {
        const day = days[point?.dataIndex ?? -1];
        return day === undefined ? '' : texts.ofDay(dayWords(day.day), day.units, day.quota, day.health);
      },
    },
    xAxis: {
      ...{ type: 'category', data: days.map((d) => dayWords(d.day)), axisTick: { show: false }, axisLine: line },
      axisLabel: { color: theme.quiet, margin: MOST_BELOW + 8, hideOverlap: true },
    },
    yAxis: {
      ...{ type: 'value', min: 0, max: top, minInterval: 1, splitNumber: 2, splitLine: line },
      axisLabel: { color: theme.quiet, showMaxLabel: true, hideOverlap: true },
    },
    series: [
      {
        ...{ type: 'custom', clip: false, data: days.map((d, i) => [i, d.units]) },
        renderItem: ({ dataIndex }: { dataIndex: number }, api: RenderApi) =>
          barOf(days[dataIndex] as HistoryDay, dataIndex, top, api, theme),
      },
    ],
  };
}

function barOf(day: HistoryDay, at: number, top: number, api: RenderApi, theme: ChartTheme): object {
  const [middle, y] = api.coord([at, day.units]);
  const [width, bottom] = [api.size([1, 0])[0], api.coord([at, 0])[1]];
  const [x, wide] = [middle - width / 2 + 1, Math.max(1, width - 2)];
  const troubled = troubledOn(day);
  const below = Math.min(MOST_BELOW, Math.max(LEAST_BELOW, bottom - api.coord([at, troubled])[1]));
  const rect = (top: number, height: number, fill: string, over = 0) => ({
    type: 'rect',
    shape: { x: x - over, y: top, width: wide + 2 * over, height },
    style: { fill },
  });
  return {
    type: 'group',
    children: [
      rect(y, bottom - y, theme.sea),
      // A quota beyond the scale is only said.
      ...(day.quota === null || day.quota > top ? [] : [rect(api.coord([at, day.quota])[1] - 1, 2, theme.ink, 1)]),
      ...(troubled === 0 ? [] : [rect(bottom, below, theme.brick)]),
    ],
  };
}
