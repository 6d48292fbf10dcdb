/**
 * A plain letter's HTML part: paragraphs at blank lines, line breaks kept, `[text](address)` and bare web
 * addresses as links, everything else escaped. Takes the finished text, so no field can bring in markup.
 *
 * @param text the finished letter
 * @returns a fragment; '' for ''
 */
export function letterHtml(text: string): string {
  return text
    .replaceAll('\r\n', '\n')
    .split(/\n{2,}/)
    .filter((p) => p.trim() !== '')
    .map((p) => `<p>${inline(p.replace(/^\n+|\n+$/g, ''))}</p>`)
    .join('\n');
}

/** The same letter as plain text: a named link becomes `text: address`. */
export function letterText(text: string): string {
  return text.replace(NAMED_LINK, (_, label: string, url: string) => `${label}: ${url}`);
}

const NAMED_LINK = /\[([^\]\n]+)\]\(((?:https?:\/\/|mailto:|tel:)[^\s)]+)\)/g;
const LINK = /\[([^\]\n]+)\]\(((?:https?:\/\/|mailto:|tel:)[^\s)]+)\)|(https?:\/\/[^\s<>"]*[^\s<>".,;:!?)])/g;

function inline(paragraph: string): string {
  let html = '';
  let at = 0;
  for (const m of paragraph.matchAll(LINK)) {
    html += escapeHtml(paragraph.slice(at, m.index));
    const url = (m[2] ?? m[3]) as string;
    html += `<a href="${escapeHtml(url)}">${escapeHtml(m[1] ?? url)}</a>`;
    at = m.index + m[0].length;
  }
  return (html + escapeHtml(paragraph.slice(at))).replaceAll('\n', '<br>\n');
}

/** Escapes the five characters that mean something in HTML text and attributes. */
export function escapeHtml(text: string): string {
  return text.replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`);
}
