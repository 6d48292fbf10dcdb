import type { EChartsCoreOption } from 'echarts/core';
import type { ChartTheme } from './chart-theme';

/** What a chart shows, in the colours of the page and for so much room. */
export type ChartOption = (theme: ChartTheme, width: number) => EChartsCoreOption;

/** A chart that can be saved, with the words that stand beside it on the page. */
export interface Picture {
  option: ChartOption;
  /** In pixels. */
  width: number;
  height: number;
  title: string;
  /** What its marks mean; '' for nothing. */
  legend: string;
}

/** Nothing moves: a picture is there at once, for whoever prints it too. */
export const still = (option: EChartsCoreOption): EChartsCoreOption => ({ animation: false, ...option });

/** A picture for paper and slides has twice as many points. */
const RATIO = 2;
/** Room around the chart. */
const PAD = 16;
/** Of the words above and below it: the height of a line, and the width of a letter, that of a wide one at most. */
const TITLE = { line: 24, letter: 10, font: '600 17px' };
const LEGEND = { line: 20, letter: 8, font: '400 13px' };
/** What no XML may hold (1.0, section 2.2), but names may. */
const NO_XML = /[^\t\n\r\u{20}-\u{D7FF}\u{E000}-\u{FFFD}\u{10000}-\u{10FFFF}]/gu;
const SVG = 'http://www.w3.org/2000/svg';

interface Words {
  text: string;
  y: number;
  font: string;
  fill: string;
}

interface Frame {
  /** Where the chart begins. */
  top: number;
  width: number;
  height: number;
  words: Words[];
}

/** Words in as many lines as they need; a word that is longer than a line is divided. */
function wrapped(text: string, letters: number): string[] {
  const lines = [''];
  for (const word of text.split(' ').flatMap((w) => w.match(new RegExp(`.{1,${letters}}`, 'gsu')) ?? [])) {
    const longer = `${lines.at(-1)} ${word}`.trimStart();
    if (longer.length <= letters) lines[lines.length - 1] = longer;
    else lines.push(word);
  }
  return lines;
}

function frameOf({ width, height, title, legend }: Picture, { font, ink, quiet }: ChartTheme): Frame {
  const above = wrapped(title, Math.floor(width / TITLE.letter));
  const below = legend === '' ? [] : wrapped(legend, Math.floor(width / LEGEND.letter));
  const top = PAD + above.length * TITLE.line;
  const words = (lines: string[], from: number, of: typeof TITLE, fill: string): Words[] =>
    lines.map((text, i) => ({ text, y: from + (i + 0.5) * of.line, font: `${of.font} ${font}`, fill }));
  return {
    ...{ top, width: width + 2 * PAD, height: top + height + below.length * LEGEND.line + PAD },
    words: [...words(above, PAD / 2, TITLE, ink), ...words(below, top + height + PAD / 2, LEGEND, quiet)],
  };
}

/** A chart as a PNG, in twice as many points as it has on the page. */
export async function pngOf(picture: Picture, theme: ChartTheme): Promise<Blob> {
  const { init } = await import('./echarts');
  const frame = frameOf(picture, theme);
  const { width, height } = picture;
  const drawn = init(document.createElement('div'), null, {
    ...{ renderer: 'canvas', devicePixelRatio: RATIO, width, height },
  });
  drawn.setOption(still(picture.option(theme, width)));
  const canvas = document.createElement('canvas');
  [canvas.width, canvas.height] = [frame.width * RATIO, frame.height * RATIO];
  const pen = canvas.getContext('2d');
  if (pen === null) throw new Error('This browser draws no pictures.');
  pen.scale(RATIO, RATIO);
  pen.fillStyle = theme.sheet;
  pen.fillRect(0, 0, frame.width, frame.height);
  pen.drawImage(drawn.renderToCanvas({ pixelRatio: RATIO }), PAD, frame.top, width, height);
  pen.textBaseline = 'middle';
  for (const { text, y, font, fill } of frame.words) {
    [pen.font, pen.fillStyle] = [font, fill];
    pen.fillText(text, PAD, y);
  }
  drawn.dispose();
  return new Promise((resolve, reject) =>
    canvas.toBlob((png) => (png === null ? reject(new Error('The picture is too large.')) : resolve(png)), 'image/png'),
  );
}

/** A chart as an SVG, which the page's own elements write: ECharts' text of it leaves a quotation mark in a font's name. */
export async function svgOf(picture: Picture, theme: ChartTheme): Promise<Blob> {
  const { init } = await import('./echarts');
  const frame = frameOf(picture, theme);
  const { width, height } = picture;
  const place = document.createElement('div');
  const drawn = init(place, null, { renderer: 'svg', width, height });
  drawn.setOption(still(picture.option(theme, width)));
  const chart = place.querySelector('svg');
  if (chart === null) throw new Error('This browser draws no pictures.');
  const whole = document.implementation.createDocument(SVG, 'svg');
  const make = (name: string, attributes: Record<string, string | number>): Element => {
    const made = whole.createElementNS(SVG, name);
    for (const [key, value] of Object.entries(attributes)) made.setAttribute(key, String(value));
    return whole.documentElement.appendChild(made);
  };
  whole.documentElement.setAttribute('width', String(frame.width));
  whole.documentElement.setAttribute('height', String(frame.height));
  make('rect', { width: frame.width, height: frame.height, fill: theme.sheet });
  for (const { text, y, font, fill } of frame.words)
    make('text', { x: PAD, y, fill, 'dominant-baseline': 'central', style: `font: ${font}` }).textContent = text;
  chart.setAttribute('x', String(PAD));
  chart.setAttribute('y', String(frame.top));
  whole.documentElement.appendChild(whole.importNode(chart, true));
  drawn.dispose();
  const svg = new XMLSerializer().serializeToString(whole).replace(NO_XML, '');
  return new Blob([svg], { type: 'image/svg+xml' });
}
