/** A tag of Liquid in a text: half-open range in UTF-16 units. */
export interface Tag {
  start: number;
  end: number;
  /** `{{ … }}`, which puts a value in; otherwise `{% … %}`. */
  isOutput: boolean;
}

const QUOTES = '"\'';
const WORD = /[\p{L}\p{N}]/u;

/**
 * Finds Liquid's outputs and tags in order. What is quoted inside one may hold anything, its closing braces too; an
 * apostrophe after a letter is part of a name. What is opened and not closed is text. Takes time linear in the text:
 * two searches that meet outside of quotes end the same way, so where one has failed no other goes on.
 */
export function findTags(text: string): Tag[] {
  const tags: Tag[] = [];
  const failed = { '}}': new Set<number>(), '%}': new Set<number>() };
  for (let at = text.indexOf('{'); at >= 0; at = text.indexOf('{', at)) {
    const second = text[at + 1];
    const end =
      second === '{' ? endOf(text, at + 2, '}}', failed) : second === '%' ? endOf(text, at + 2, '%}', failed) : -1;
    if (end >= 0) tags.push({ start: at, end, isOutput: second === '{' });
    at = end >= 0 ? end : at + 1;
  }
  return tags;
}

function endOf(text: string, from: number, close: '}}' | '%}', failed: Record<'}}' | '%}', Set<number>>): number {
  const seen = failed[close];
  const visited: number[] = [];
  for (let at = from; at < text.length && !seen.has(at); at++) {
    if (text.startsWith(close, at)) return at + 2;
    // Searches begin after a brace and go on from quotation marks; other places need not be remembered.
    if (text[at] === '{') visited.push(at + 1);
    if (!opensQuote(text, at)) continue;
    visited.push(at);
    const closing = text.indexOf(text[at] as string, at + 1);
    if (closing < 0) break;
    at = closing;
  }
  for (const at of visited) seen.add(at);
  return -1;
}

/** Whether a quotation mark begins a quoted text: not one inside a name, as in `Customer's name`. */
export function opensQuote(text: string, at: number): boolean {
  return QUOTES.includes(text[at] as string) && !(text[at] === "'" && WORD.test(text[at - 1] ?? ''));
}

/** A text in pieces: Liquid's outputs and tags, and the text between them; no piece is empty. */
export function splitTags(text: string): string[] {
  const pieces: string[] = [];
  let at = 0;
  for (const { start, end } of findTags(text)) {
    if (start > at) pieces.push(text.slice(at, start));
    pieces.push(text.slice(start, end));
    at = end;
  }
  if (at < text.length) pieces.push(text.slice(at));
  return pieces;
}

/** Whether a piece of {@link splitTags} is an output or a tag. */
export const isTag = (piece: string): boolean => /^\{[{%].*[}%]\}$/s.test(piece);

/** A text without its tags. */
export const proseOf = (text: string): string =>
  splitTags(text)
    .map((piece) => (isTag(piece) ? ' ' : piece))
    .join('');
