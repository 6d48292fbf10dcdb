/** Relative luminance of a colour, 0 black to 1 white (WCAG 2.2). @param colour as `#rrggbb` */
export function luminance(colour: string): number {
  const [r, g, b] = [1, 3, 5].map((i) => {
    const share = parseInt(colour.slice(i, i + 2), 16) / 255;
    return share <= 0.04045 ? share / 12.92 : ((share + 0.055) / 1.055) ** 2.4;
  }) as [number, number, number];
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
}

/** How well two colours are told apart: 1 not at all, to 21 (WCAG 2.2, contrast ratio). */
export function contrast(one: string, other: string): number {
  const [light, dark] = [luminance(one), luminance(other)].sort((a, b) => b - a) as [number, number];
  return (light + 0.05) / (dark + 0.05);
}

/** Text of usual size can be read from here on (WCAG 2.2, 1.4.3). */
export const LEAST_CONTRAST = 4.5;
