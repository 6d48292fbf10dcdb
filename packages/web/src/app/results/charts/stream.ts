import { reachedOf, type ResultCounts } from '@baton/core';
import type { EChartsCoreOption } from 'echarts/core';
import { resultsTexts } from '../texts';
import type { ChartTheme } from '../../look/charts/chart-theme';

const texts = resultsTexts.stream;

/** Whom a stream of people from the first message to meetings is made of. */
export interface StreamPeople {
  counts: ResultCounts;
  silent: number;
  toCome: number;
}

/** How the stream divides: everybody is in one part after each division. */
export interface StreamParts {
  written: number;
  bounced: number;
  /** Who asked to be left alone without having replied. */
  left: number;
  reached: number;
  replied: number;
  interested: number;
  silent: number;
}

export function streamParts({ counts, silent }: StreamPeople): StreamParts {
  const { written, bounced, replied, interested } = counts;
  const reached = reachedOf(counts);
  return {
    ...{ written, bounced, reached, replied, interested, silent },
    left: Math.max(0, reached - replied - silent),
  };
}

/** The stream in words. */
export function streamWords({ counts, silent, toCome }: StreamPeople): string {
  const { written, bounced, replied, interested, meetings } = counts;
  return texts.spoken([
    texts.written(written),
    ...(bounced > 0 ? [texts.bounced(bounced)] : []),
    texts.reached(reachedOf(counts)),
    texts.replied(replied),
    texts.interested(interested, meetings),
    texts.silent(silent, toCome),
  ]);
}

/** Where the stream divides, as shares of the width. */
const AT = { bounce: 0.24, reached: 0.31, answers: 0.53, replied: 0.61, interest: 0.76, interested: 0.82 };
const TOP = 26;
const THICKEST = 112;
const GAP = 20;
const MOST_SILENT = 46;
/** Where anybody is, something is seen. */
const THINNEST = 2;

/** An area between two heights on the left and two on the right, with a bend between. */
function band(x0: number, top0: number, bottom0: number, x1: number, top1: number, bottom1: number): string {
  const middle = (x0 + x1) / 2;
  return `M${x0} ${top0}C${middle} ${top0} ${middle} ${top1} ${x1} ${top1}L${x1} ${bottom1}C${middle} ${bottom1} ${middle} ${bottom0} ${x0} ${bottom0}Z`;
}

interface Shape {
  path: string;
  fill: string;
  isHatched?: boolean;
}

interface Label {
  text: string;
  x: number;
  y: number;
  fill: string;
  align?: 'right';
  isBold?: boolean;
}

/** A band of people who are silent: hatched lines within its outline. */
function hatching(path: string, colour: string, width: number, bottom: number): object {
  const lines: string[] = [];
  for (let x = -bottom; x < width; x += 8) lines.push(`M${x} ${bottom}L${x + bottom} 0`);
  return {
    type: 'group',
    clipPath: { type: 'path', shape: { pathData: path } },
    children: [
      { type: 'path', shape: { pathData: lines.join('') }, style: { stroke: colour, fill: 'none', lineWidth: 1 } },
    ],
  };
}

/** From everybody written to down to meetings: a stream whose width is people. */
export function streamOption(people: StreamPeople, theme: ChartTheme, width: number): EChartsCoreOption {
  const places = placesOf(people, width);
  const [shapes, labels] = [areasOf(places, theme), labelsOf(people, places, theme)];
  const children = [
    ...shapes.map(({ path, fill }) => ({ type: 'path', shape: { pathData: path }, style: { fill } })),
    ...shapes.filter((s) => s.isHatched).map((s) => hatching(s.path, theme.sea, width, STREAM_HEIGHT)),
    ...labels.map(({ text, x, y, fill, align = 'left', isBold = false }) => ({
      type: 'text',
      style: {
        ...{ text, x, y, fill, align, verticalAlign: 'middle' },
        font: `${isBold ? 600 : 400} 14px ${theme.font}`,
      },
    })),
  ];
  return {
    series: [
      {
        ...{ type: 'custom', coordinateSystem: 'none', silent: true, data: [0] },
        renderItem: () => ({ type: 'group', children }),
      },
    ],
  };
}

export const STREAM_HEIGHT = 182;
/** In a narrower place words stand under each other at the side. */
const NARROW = 640;

/** Where the edges of the stream are, in pixels. */
interface Places {
  parts: StreamParts;
  width: number;
  x: (share: number) => number;
  thick: (people: number) => number;
  top: number;
  bottom: number;
  reachedBottom: number;
  repliedTop: number;
  repliedBottom: number;
  silentTop: number;
  silentBottom: number;
  bouncedTop: number;
}

function placesOf(people: StreamPeople, width: number): Places {
  const parts = streamParts(people);
  const thick = (n: number) => (n === 0 ? 0 : Math.max(THINNEST, (THICKEST * n) / Math.max(1, parts.written)));
  const bottom = TOP + thick(parts.written);
  const top = TOP + thick(parts.left);
  const reachedBottom = bottom - thick(parts.bounced);
  const repliedTop = top + (reachedBottom - top) * 0.3;
  const repliedBottom = repliedTop + thick(parts.replied);
  const silentTop = Math.max(repliedBottom + GAP, TOP + 72);
  return {
    ...{ parts, width, thick, top, bottom, reachedBottom, repliedTop, repliedBottom, silentTop },
    x: (share) => Math.round(share * width),
    silentBottom: silentTop + Math.min(thick(parts.silent), MOST_SILENT),
    bouncedTop: bottom + 14,
  };
}

const rect = (x0: number, x1: number, top: number, bottom: number): string =>
  `M${x0} ${top}L${x1} ${top}L${x1} ${bottom}L${x0} ${bottom}Z`;

function areasOf(places: Places, { seaSoft, brick, moss, sheet }: ChartTheme): Shape[] {
  const { parts, width, x, thick, top, bottom, reachedBottom, repliedTop, repliedBottom } = places;
  const { silentTop, silentBottom, bouncedTop } = places;
  const [bounce, reached, answers] = [x(AT.bounce), x(AT.reached), x(AT.answers)];
  const [replied, interest, interested] = [x(AT.replied), x(AT.interest), x(AT.interested)];
  const left = thick(parts.left);
  const interestedBottom = repliedTop + thick(parts.interested);
  const silentFrom = top + thick(parts.replied);
  return [
    { path: rect(0, bounce, TOP, bottom) + rect(bounce, answers, top, reachedBottom), fill: seaSoft },
    ...(left > 0 ? [{ path: band(bounce, TOP, top, reached, TOP - 4, TOP - 4 + left), fill: brick }] : []),
    ...(parts.bounced > 0
      ? [
          {
            path: band(bounce, reachedBottom, bottom, reached, bouncedTop, bouncedTop + thick(parts.bounced)),
            fill: brick,
          },
        ]
      : []),
    ...(parts.silent > 0
      ? [
          {
            path: `${band(answers, silentFrom, reachedBottom, replied, silentTop, silentBottom)}${rect(replied, width, silentTop, silentBottom)}`,
            ...{ fill: sheet, isHatched: true },
          },
        ]
      : []),
    {
      path: [
        band(answers, top, silentFrom, replied, repliedTop, repliedBottom),
        rect(replied, interest, repliedTop, repliedBottom),
        band(interest, repliedTop, repliedBottom, interested, repliedTop, interestedBottom),
        rect(interested, width, repliedTop, interestedBottom),
      ].join(''),
      fill: moss,
    },
  ];
}

function labelsOf({ counts, toCome }: StreamPeople, places: Places, { ink: fill, brick }: ChartTheme): Label[] {
  const { parts, width, x, thick, top, bottom, reachedBottom, repliedTop, silentBottom, bouncedTop } = places;
  const isNarrow = width < NARROW;
  const beside = x(AT.reached) + 8;
  const bold = { fill, isBold: true };
  const silent = texts.silent(parts.silent, isNarrow ? 0 : toCome);
  return [
    { text: texts.written(parts.written), x: 10, y: (TOP + bottom) / 2, ...bold },
    { text: texts.replied(parts.replied), x: x(AT.replied), y: repliedTop - 11, ...bold },
    ...(parts.left > 0 ? [{ text: texts.left(parts.left), x: beside, y: TOP - 12, fill: brick }] : []),
    ...(parts.bounced > 0
      ? [{ text: texts.bounced(parts.bounced), x: beside, y: bouncedTop + thick(parts.bounced) / 2, fill: brick }]
      : []),
    ...(parts.silent > 0 ? [{ text: silent, x: width, y: silentBottom + 13, fill, align: 'right' as const }] : []),
    ...(isNarrow
      ? []
      : [
          { text: texts.reached(parts.reached), x: beside, y: (top + reachedBottom) / 2, ...bold },
          {
            text: texts.interested(parts.interested, counts.meetings),
            ...{ x: width, y: repliedTop - 11, align: 'right' as const, ...bold },
          },
        ]),
  ];
}
