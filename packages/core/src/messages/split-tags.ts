const TAGS = /(\{\{(?:"[^"]*"|'[^']*'|(?!\}\})[^"'])*?\}\}|\{%(?:"[^"]*"|'[^']*'|(?!%\})[^"'])*?%\})/s;

/** A text in pieces: Liquid's outputs and tags, and the text between them; no piece is empty. */
export function splitTags(text: string): string[] {
  return text.split(TAGS).filter((piece) => piece !== '');
}

/** Whether a piece of {@link splitTags} is an output or a tag. */
export const isTag = (piece: string): boolean => /^\{[{%].*[}%]\}$/s.test(piece);
