import { escapeHtml } from './escape-html';

/** The two forms of a message's body. */
export interface BodyForms {
  text: string;
  html: string;
}

/** As mail programs set off what they quote. */
const QUOTE = 'margin:0 0 0 8px;padding-left:10px;border-left:2px solid #b8b2a4';
/** RFC 3676, 4.5: a quoted line begins with this; one that is quoted already gets one more and no space. */
const quotedLine = (line: string): string => (line.startsWith('>') ? `>${line}` : line === '' ? '>' : `> ${line}`);

const BODY = /<body[^>]*>([\s\S]*)<\/body>/i;

/**
 * A message with an earlier one below it, as a mail program quotes what it answers.
 *
 * @param attribution who wrote it and when, in a line of its own
 */
export function quotedBelow({ text, html }: BodyForms, earlier: BodyForms, attribution: string): BodyForms {
  const quoted = earlier.text.trimEnd().split('\n').map(quotedLine).join('\n');
  const inner = BODY.exec(earlier.html)?.[1] ?? earlier.html;
  const below = `<p>${escapeHtml(attribution)}</p><blockquote type="cite" style="${QUOTE}">${inner}</blockquote>`;
  const end = html.search(/<\/body>(?![\s\S]*<\/body>)/i);
  return {
    text: `${text.trimEnd()}\n\n${attribution}\n${quoted}\n`,
    html: end < 0 ? `${html}${below}` : `${html.slice(0, end)}${below}${html.slice(end)}`,
  };
}
