/** Colours of the page as the browser has them now, light or dark, for what draws outside of style sheets. */
export interface ChartTheme {
  ink: string;
  quiet: string;
  hairline: string;
  sheet: string;
  sea: string;
  seaSoft: string;
  brass: string;
  brick: string;
  moss: string;
  font: string;
}

const TOKENS: Readonly<Record<Exclude<keyof ChartTheme, 'font'>, string>> = {
  ink: '--ink',
  quiet: '--ink-2',
  hairline: '--hairline',
  sheet: '--sheet',
  sea: '--sea',
  seaSoft: '--sea-soft',
  brass: '--brass',
  brick: '--brick',
  moss: '--moss',
};

/** Reads the tokens of the page's style, as they apply to an element. */
export function readTheme(host: HTMLElement): ChartTheme {
  const probe = host.appendChild(document.createElement('span'));
  const colours = Object.entries(TOKENS).map(([name, token]) => {
    probe.style.color = `var(${token})`;
    return [name, getComputedStyle(probe).color] as const;
  });
  const { fontFamily: font } = getComputedStyle(probe);
  probe.remove();
  return { ...(Object.fromEntries(colours) as unknown as ChartTheme), font };
}
