import { readFieldTag } from './field-tag';
import { isTag, splitTags } from './split-tags';
import type { Inline, Mark, RichBlock, RichDoc } from './rich-doc';
import { storableText } from '../storable-text';

const LINK = /\[([^\]\n]+)\]\(((?:\{\{(?:"[^"]*"|[^}])*\}\}|[^\s()])+)\)|(https?:\/\/[^\s<>"{}]*[^\s<>"{}.,;:!?)])/g;

/**
 * A letter from plain text: paragraphs at blank lines, line breaks kept, fields as nodes, `[text](address)` and bare
 * web addresses as links.
 */
export function letterDoc(text: string): RichDoc {
  const content = storableText(text)
    .replaceAll(/\r\n?/g, '\n')
    .split(/\n{2,}/)
    .map((p) => p.replace(/^\n+|\n+$/g, ''))
    .filter((p) => p.trim() !== '')
    .map((p): RichBlock => ({ type: 'paragraph', content: lines(p) }));
  return { type: 'doc', content: content.length === 0 ? [{ type: 'paragraph' }] : content };
}

function lines(paragraph: string): Inline[] {
  return paragraph
    .split('\n')
    .flatMap((line, i): Inline[] => (i === 0 ? linked(line) : [{ type: 'hardBreak' }, ...linked(line)]));
}

function linked(line: string): Inline[] {
  const out: Inline[] = [];
  let at = 0;
  for (const m of line.matchAll(LINK)) {
    const href = (m[2] ?? m[3]) as string;
    out.push(...fielded(line.slice(at, m.index), []), ...fielded(m[1] ?? href, [{ type: 'link', attrs: { href } }]));
    at = m.index + m[0].length;
  }
  return [...out, ...fielded(line.slice(at), [])];
}

/** Text with its fields as nodes; Liquid that is more than a field stays as it is written. */
export function fielded(text: string, marks: Mark[]): Inline[] {
  const marked = marks.length === 0 ? {} : { marks };
  return splitTags(text).map((piece): Inline => {
    const field = isTag(piece) ? readFieldTag(piece) : null;
    return field ? { type: 'field', attrs: field, ...marked } : { type: 'text', text: piece, ...marked };
  });
}
