import { escapeHtml } from '@baton/core';

/** A page outside of the web app: one sentence and a button or two. */
export interface SmallPage {
  title: string;
  text: string;
  /** Where each button posts to, and what it says; the first is the one that is meant. */
  buttons?: readonly { action: string; label: string }[];
  /** ISO 639-1; English where it is not named. */
  language?: string;
}

const STYLE = `
  body { margin: 0; min-height: 100vh; display: grid; place-items: center; background: #f3f0e7; color: #17261f; font: 17px/1.5 Georgia, serif; }
  main { max-width: 30rem; margin: 24px; padding: 32px 36px; background: #fffdf8; border: 1px solid #ded8c9; }
  h1 { margin: 0 0 12px; font-size: 24px; line-height: 1.25; }
  p { margin: 0 0 20px; }
  button { font: 600 16px/1 sans-serif; padding: 12px 18px; border: 0; background: #0b5d57; color: #fffdf8; cursor: pointer; }
  form + form { margin-top: 12px; }
  button.other { padding: 0; background: none; color: #0b5d57; text-decoration: underline; }
  button:focus-visible { outline: 2px solid #8f620f; outline-offset: 2px; }
  footer { margin-top: 28px; padding-top: 14px; border-top: 1px solid #ded8c9; font: 14px/1.4 sans-serif; color: #55635c; }
`;

/** @param footer whose page it is */
export function smallPage(page: SmallPage, footer: string): string {
  const title = escapeHtml(page.title);
  const form = (page.buttons ?? [])
    .map(
      ({ action, label }, i) =>
        `<form method="post" action="${escapeHtml(action)}"><button${i > 0 ? ' class="other"' : ''}>${escapeHtml(label)}</button></form>`,
    )
    .join('');
  return `<!doctype html>
<html lang="${page.language ?? 'en'}">
<head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><meta name="robots" content="noindex"><title>${title}</title><style>${STYLE}</style></head>
<body><main><h1>${title}</h1><p>${escapeHtml(page.text)}</p>${form}<footer>${escapeHtml(footer)}</footer></main></body>
</html>`;
}
