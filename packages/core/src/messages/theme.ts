/** What a message looks like: colours, type and width. */
export interface Theme {
  /** Around the sheet, the sheet itself, its text, and what is pressed. */
  ground: string;
  sheet: string;
  ink: string;
  accent: string;
  font: keyof typeof FONTS;
  /** Pixels. */
  size: number;
  /** Of the sheet, in pixels. */
  width: number;
}

/** Type that every mail program has: nothing is fetched to read a message. */
export const FONTS = {
  sans: 'Helvetica, Arial, sans-serif',
  serif: 'Georgia, Times, serif',
  mono: 'Menlo, Consolas, monospace',
} as const;

export const PLAIN_THEME: Theme = {
  ground: '#ffffff',
  sheet: '#ffffff',
  ink: '#1c2622',
  accent: '#0b5d57',
  font: 'sans',
  size: 15,
  width: 600,
};

/** The few colours that text may have, beside its own. */
export const TEXT_COLOURS = ['#0b5d57', '#996811', '#a33a28', '#4f7136', '#55635c'] as const;

/** `#rrggbb`: what every mail program reads. */
export function isColour(value: unknown): value is string {
  return typeof value === 'string' && /^#[0-9a-f]{6}$/i.test(value);
}

/** Reads a theme of unknown origin; what is missing or out of bounds is as in the plain one. */
export function readTheme(value: unknown): Theme {
  const given = (typeof value === 'object' && value !== null ? value : {}) as Record<string, unknown>;
  const colour = (key: 'ground' | 'sheet' | 'ink' | 'accent') =>
    isColour(given[key]) ? given[key].toLowerCase() : PLAIN_THEME[key];
  const whole = (key: 'size' | 'width', least: number, most: number) => {
    const n = Math.round(Number(given[key]));
    return n >= least && n <= most ? n : PLAIN_THEME[key];
  };
  return {
    ground: colour('ground'),
    sheet: colour('sheet'),
    ink: colour('ink'),
    accent: colour('accent'),
    font:
      typeof given['font'] === 'string' && Object.hasOwn(FONTS, given['font'])
        ? (given['font'] as Theme['font'])
        : 'sans',
    size: whole('size', 11, 24),
    width: whole('width', 320, 800),
  };
}
