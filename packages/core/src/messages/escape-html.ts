/** Escapes the five characters that mean something in HTML text and attributes. */
export function escapeHtml(text: string): string {
  return MEANT.test(text) ? text.replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`) : text;
}

const MEANT = /[&<>"']/;
