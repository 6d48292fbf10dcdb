import { Parser } from 'htmlparser2';
import { fielded } from './letter-doc';
import { readRichDoc, type Inline, type ListItem, type Mark, type RichBlock, type RichDoc } from './rich-doc';
import { storableText } from '../storable-text';

const SKIPPED = new Set(['script', 'style', 'head', 'title', 'template', 'noscript']);
const MARKS: Readonly<Record<string, Mark['type']>> = {
  b: 'bold',
  strong: 'bold',
  i: 'italic',
  em: 'italic',
  u: 'underline',
};
/** What separates paragraphs. */
const BLOCKS = new Set([
  'p',
  'div',
  'td',
  'th',
  'tr',
  'table',
  'section',
  'article',
  'header',
  'footer',
  'center',
  'body',
]);

/**
 * Reads a text from HTML: paragraphs, headings, lists, quotations, links, pictures and the few marks that texts have.
 * What else is in it is left out, its text kept.
 *
 * @param pictureOf what a picture's source becomes; '' leaves the picture out
 */
export function htmlDoc(html: string, pictureOf: (src: string) => string = (src) => src): RichDoc {
  const builder = new Builder(pictureOf);
  const parser = new Parser(
    {
      onopentag: (name, attributes) => builder.open(name, attributes),
      ontext: (text) => builder.text(text),
      onclosetag: (name) => builder.close(name),
    },
    { decodeEntities: true },
  );
  parser.write(storableText(html));
  parser.end();
  return readRichDoc({ type: 'doc', content: builder.end() });
}

interface Frame {
  kind: 'doc' | 'list' | 'item' | 'quote';
  ordered: boolean;
  blocks: RichBlock[];
  items: ListItem[];
}

class Builder {
  private readonly frames: Frame[] = [{ kind: 'doc', ordered: false, blocks: [], items: [] }];
  private line: Inline[] = [];
  private heading: 1 | 2 | 3 | null = null;
  private readonly marks: { tag: string; mark: Mark | null }[] = [];
  private skipping = 0;

  constructor(private readonly pictureOf: (src: string) => string) {}

  open(tag: string, attributes: Record<string, string>): void {
    if (SKIPPED.has(tag)) this.skipping++;
    if (this.skipping > 0) return;
    const mark = MARKS[tag];
    if (mark !== undefined) this.marks.push({ tag, mark: { type: mark } as Mark });
    else if (tag === 'a') {
      const href = attributes['href'] ?? '';
      this.marks.push({ tag, mark: href === '' ? null : { type: 'link', attrs: { href } } });
    } else if (tag === 'br') this.line.push({ type: 'hardBreak' });
    else if (tag === 'img') this.image(attributes);
    else if (/^h[1-6]$/.test(tag)) {
      this.flush();
      this.heading = Math.min(3, Number(tag[1])) as 1 | 2 | 3;
    } else if (tag === 'ul' || tag === 'ol') this.push('list', tag === 'ol');
    else if (tag === 'li') this.push('item', false);
    else if (tag === 'blockquote') this.push('quote', false);
    else if (BLOCKS.has(tag)) this.flush();
  }

  text(text: string): void {
    if (this.skipping > 0) return;
    const flat = text.replace(/[\s\u00a0]+/g, ' ');
    if (flat === ' ' && this.line.length === 0) return;
    const marks = this.marks.flatMap((m) => m.mark ?? []);
    this.line.push(...fielded(this.line.length === 0 ? flat.trimStart() : flat, marks));
  }

  close(tag: string): void {
    if (SKIPPED.has(tag)) {
      this.skipping--;
      return;
    }
    if (this.skipping > 0) return;
    if (MARKS[tag] !== undefined || tag === 'a') {
      const at = this.marks.findLastIndex((m) => m.tag === tag);
      if (at >= 0) this.marks.splice(at, 1);
    } else if (/^h[1-6]$/.test(tag)) {
      this.flush();
      this.heading = null;
    } else if (tag === 'ul' || tag === 'ol') this.pop('list');
    else if (tag === 'li') this.pop('item');
    else if (tag === 'blockquote') this.pop('quote');
    else if (BLOCKS.has(tag)) this.flush();
  }

  end(): RichBlock[] {
    while (this.frames.length > 1) this.pop(this.top().kind);
    this.flush();
    return this.top().blocks;
  }

  private top(): Frame {
    return this.frames.at(-1) as Frame;
  }

  private push(kind: Frame['kind'], ordered: boolean): void {
    this.flush();
    this.frames.push({ kind, ordered, blocks: [], items: [] });
  }

  private pop(kind: Frame['kind']): void {
    this.flush();
    if (this.frames.length === 1 || this.top().kind !== kind) return;
    const frame = this.frames.pop() as Frame;
    const into = this.top();
    if (kind === 'item') {
      if (frame.blocks.length === 0) return;
      if (into.kind === 'list') into.items.push({ type: 'listItem', content: frame.blocks });
      else into.blocks.push(...frame.blocks);
    } else if (kind === 'list') {
      if (frame.items.length > 0)
        into.blocks.push({ type: frame.ordered ? 'orderedList' : 'bulletList', content: frame.items });
      into.blocks.push(...frame.blocks);
    } else if (frame.blocks.length > 0) into.blocks.push({ type: 'blockquote', content: frame.blocks });
  }

  private image({ src = '', alt = '', width = '' }: Record<string, string>): void {
    const source = this.pictureOf(src);
    // A picture of one pixel is there to be counted, not seen.
    if (source === '' || width === '1') return;
    this.flush();
    this.top().blocks.push({
      type: 'image',
      attrs: { src: source, alt, width: /^\d+$/.test(width) ? Number(width) : null },
    });
  }

  /** Ends the paragraph under way; two line breaks in a row end one too. */
  private flush(): void {
    const parts: Inline[][] = [[]];
    for (const [i, node] of this.line.entries()) {
      const isBreak = node.type === 'hardBreak';
      if (isBreak && this.line[i - 1]?.type === 'hardBreak') parts.push([]);
      else if (!isBreak || this.line[i + 1]?.type !== 'hardBreak') (parts.at(-1) as Inline[]).push(node);
    }
    this.line = [];
    for (const part of parts.map(trimmed)) {
      if (part.length === 0) continue;
      const { heading } = this;
      this.top().blocks.push(
        heading === null
          ? { type: 'paragraph', content: part }
          : { type: 'heading', attrs: { level: heading }, content: part },
      );
    }
  }
}

/** Without breaks and spaces at its ends. */
function trimmed(content: Inline[]): Inline[] {
  const isGap = (n: Inline | undefined) =>
    n !== undefined && (n.type === 'hardBreak' || (n.type === 'text' && n.text.trim() === ''));
  let [from, to] = [0, content.length];
  while (isGap(content[from]) && from < to) from++;
  while (to > from && isGap(content[to - 1])) to--;
  const kept = content.slice(from, to);
  const last = kept.at(-1);
  if (last?.type === 'text') kept[kept.length - 1] = { ...last, text: last.text.trimEnd() };
  return kept;
}
