import type { SilenceStep } from '@baton/core';
import type { EChartsCoreOption } from 'echarts/core';
import { percentOf } from '../results-words';
import { resultsTexts } from '../texts';
import type { ChartTheme } from '../../look/charts/chart-theme';

const texts = resultsTexts.silence;
const HOURS = 24;
/** Steps of the scale. */
const MARKS = 4;

/** The curve in words. */
export function silenceWords(curve: readonly SilenceStep[]): string {
  const last = curve.at(-1);
  return last === undefined ? '' : texts.spoken(percentOf(last.share), Math.ceil(last.from / HOURS));
}

/** The share still silent by days, as a falling line of steps; its axis begins where there is something to see. */
export function silenceOption(curve: readonly SilenceStep[], upTo: number, theme: ChartTheme): EChartsCoreOption {
  const lowest = Math.floor(Math.min(...curve.map((s) => s.share)) * 10 - 1e-9) / 10;
  const days = Math.max(1, Math.ceil(Math.max(upTo, curve.at(-1)?.from ?? 0) / HOURS));
  const points = [...curve, { from: Math.max(upTo, curve.at(-1)?.from ?? 0), share: curve.at(-1)?.share ?? 1 }];
  const axis = { axisLine: { lineStyle: { color: theme.hairline } }, axisLabel: { color: theme.quiet } };
  return {
    textStyle: { fontFamily: theme.font, color: theme.ink },
    grid: { left: 52, right: 20, top: 12, bottom: 30 },
    tooltip: {
      ...{
        trigger: 'axis',
        backgroundColor: theme.sheet,
        borderColor: theme.hairline,
        textStyle: { color: theme.ink },
      },
      formatter: ([point]: { value: [number, number] }[]) =>
        point === undefined ? '' : texts.spoken(percentOf(point.value[1]), Math.ceil(point.value[0])),
    },
    xAxis: {
      type: 'value',
      min: 0,
      max: days,
      ...axis,
      axisLabel: { color: theme.quiet, formatter: texts.day },
      splitLine: { show: false },
    },
    yAxis: {
      ...{ type: 'value', max: 1, min: lowest, interval: (1 - lowest) / MARKS, ...axis },
      axisLabel: { color: theme.quiet, formatter: (share: number) => `${percentOf(share)} %` },
      splitLine: { lineStyle: { color: theme.hairline } },
    },
    series: [
      {
        ...{ type: 'line', step: 'end', showSymbol: false, lineStyle: { color: theme.sea, width: 2 } },
        areaStyle: { color: theme.seaSoft },
        data: points.map((s) => [s.from / HOURS, s.share]),
      },
    ],
  };
}
