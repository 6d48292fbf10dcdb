import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { watchedHtml } from './watched-html';
import { isWatched, WATCHES, watchWords } from './watches';

const onward = (html: string, picture: string | null = null, hidden: string | null = null) => {
  const seen: [string, number][] = [];
  const link = (url: string, of: number) => {
    seen.push([url, of]);
    return `https://b.example/c/${seen.length}`;
  };
  return { page: watchedHtml(html, { link, picture, hidden }), seen };
};

describe('watchedHtml', () => {
  it('leads links over Baton, however they are written, and leaves the rest as it is', () => {
    const html =
      '<P Class=x>1 &lt; 2<a\n href = \'https://k.example/a?b=1&amp;c=2\' >a</a><A HREF=https://k.example/d>d</A><area shape="rect" href="https://k.example/e"/></p>';
    const { page, seen } = onward(html);
    expect(seen).toEqual([
      ['https://k.example/a?b=1&c=2', 3],
      ['https://k.example/d', 3],
      ['https://k.example/e', 3],
    ]);
    expect(page).toBe(
      '<P Class=x>1 &lt; 2<a\n href = "https://b.example/c/1" >a</a><A HREF="https://b.example/c/2">d</A><area shape="rect" href="https://b.example/c/3"/></p>',
    );
  });

  it('leaves alone what leads to no page, and what only looks like a link', () => {
    const html =
      '<!-- <a href="https://k.example/x"> --><a href="mailto:ana@vines.example">m</a><a href="#top">t</a><a name=x>n</a><a href="">e</a>' +
      '<a href="https://">h</a><a data-href="https://k.example/">d</a><link href="https://k.example/s.css"><img src="https://k.example/p.png">' +
      `<a href="https://k.example/${'x'.repeat(1500)}">long</a><a href="javascript:alert(1)">j</a>`;
    expect(onward(html)).toEqual({ page: html, seen: [] });
  });

  it('takes the first of two addresses of one link, as browsers do', () =>
    expect(onward('<a href="https://k.example/1" href="https://k.example/2">x</a>').page).toBe(
      '<a href="https://b.example/c/1" href="https://k.example/2">x</a>',
    ));

  it('puts picture and hidden link at the end of the page', () => {
    const { page } = onward(
      '<body><a href="https://k.example/">x</a></body></html>',
      'https://b.example/o/1',
      'https://b.example/c/h',
    );
    expect(page).toMatch(
      /^<body><a href="https:\/\/b.example\/c\/1">x<\/a><a href="https:\/\/b.example\/c\/h"[^>]*><\/a><img src="https:\/\/b.example\/o\/1"[^>]*><\/body><\/html>$/,
    );
    // Without a link to watch, nobody could follow the hidden one by mistake.
    expect(onward('<p>x</p>', 'https://b.example/o/1', 'https://b.example/c/h').page).toMatch(/^<p>x<\/p><img [^>]*>$/);
  });

  it('changes nothing where nothing is watched, whatever the page', () => {
    fc.assert(
      fc.property(
        fc.string({ unit: fc.constantFrom('<', '>', 'a', ' ', 'href', '=', '"', "'", '&', 'https://x.y', '/') }),
        (html) => {
          expect(watchedHtml(html, { link: () => null, picture: null, hidden: null })).toBe(html);
        },
      ),
    );
  });
});

describe('what is watched', () => {
  it('is said in a sentence', () => {
    const said = WATCHES.flatMap((watchesOpens) =>
      WATCHES.map((watchesClicks) => watchWords({ watchesOpens, watchesClicks, watchesPlaces: false }, true)),
    );
    expect(new Set(said).size).toBe(9);
    expect(said[0]).toBe('Neither opens nor clicks are counted.');
    const clicks = { watchesOpens: 'none', watchesClicks: 'layouts', watchesPlaces: false } as const;
    const words = 'Clicks are counted in messages with a layout, opens are not, once there is a public address.';
    expect(watchWords(clicks, false)).toBe(words);
    expect(watchWords({ ...clicks, watchesPlaces: true }, false)).toBe(`${words} Of a click the country is kept too.`);
    // Where no click is counted no country is kept.
    const opens = { watchesOpens: 'all', watchesClicks: 'none' } as const;
    expect(watchWords({ ...opens, watchesPlaces: true }, true)).toBe(
      watchWords({ ...opens, watchesPlaces: false }, true),
    );
  });

  it('is off in plain letters unless it is on for all', () => {
    expect(WATCHES.map((w) => isWatched(w, 'letter'))).toEqual([false, false, true]);
    expect(WATCHES.map((w) => isWatched(w, 'layout'))).toEqual([false, true, true]);
  });
});
