import { Parser } from 'htmlparser2';
import { htmlDoc } from './html-doc';
import { readLayout, type Layout } from './layout';
import type { RichDoc } from './rich-doc';
import { storableText } from '../storable-text';

interface Found {
  kind: 'text' | 'picture' | 'button' | 'divider' | 'space';
  attributes: Record<string, string>;
  /** Column of its section, 0-based. */
  column: number;
  inner: string;
}

const KINDS: Readonly<Record<string, Found['kind']>> = {
  'mj-text': 'text',
  'mj-image': 'picture',
  'mj-button': 'button',
  'mj-divider': 'divider',
  'mj-spacer': 'space',
};

/** What MJML says: its elements by sections, and how the whole looks. */
class Reading {
  readonly sections: Found[][] = [];
  theme: Record<string, unknown> = {};
  isMjml = false;
  private current: Found | null = null;
  private column = -1;

  open(name: string, attributes: Record<string, string>): void {
    if (name === 'mjml') this.isMjml = true;
    if (name === 'mj-body')
      this.theme = { ground: attributes['background-color'], width: parseInt(attributes['width'] ?? '', 10) };
    if (name === 'mj-section') {
      this.sections.push([]);
      this.column = -1;
    }
    if (name === 'mj-column') this.column++;
    const kind = KINDS[name];
    if (this.current) this.current.inner += tagOf(name, attributes);
    else if (kind) {
      this.current = { kind, attributes, column: Math.max(0, this.column), inner: '' };
      if (this.sections.length === 0) this.sections.push([]);
      this.sections.at(-1)?.push(this.current);
    }
  }

  text(text: string): void {
    if (this.current) this.current.inner += text.replaceAll('<', '&lt;');
  }

  close(name: string): void {
    if (KINDS[name]) this.current = null;
    else if (this.current && name !== 'br' && name !== 'img') this.current.inner += `</${name}>`;
  }
}

function tagOf(name: string, attributes: Record<string, string>): string {
  const written = Object.entries(attributes).map(([k, v]) => ` ${k}="${v.replaceAll('"', '&quot;')}"`);
  return `<${name}${written.join('')}>`;
}

/**
 * Reads a layout from MJML: texts, pictures, buttons, lines and spaces in sections of one or two columns. The first
 * text becomes the message's own.
 *
 * @returns the layout, and its text; null where there is no MJML
 */
export function mjmlLayout(mjml: string): { layout: Layout; letter: RichDoc | null } | null {
  const reading = new Reading();
  const parser = new Parser(
    {
      onopentag: (name, attributes) => reading.open(name, attributes),
      ontext: (text) => reading.text(text),
      onclosetag: (name) => reading.close(name),
    },
    { xmlMode: false, decodeEntities: true, recognizeSelfClosing: true },
  );
  parser.write(storableText(mjml));
  parser.end();
  if (!reading.isMjml) return null;
  const first = reading.sections.flat().find((f) => f.kind === 'text') ?? null;
  const asBlock = (found: Found): object => (found === first ? { kind: 'letter' } : blockOf(found));
  const blocks = reading.sections.flatMap((section): object[] => {
    if (!section.some((f) => f.column > 0)) return section.map(asBlock);
    const side = (right: boolean) => section.filter((f) => f.column > 0 === right).map(asBlock);
    return [{ kind: 'columns', left: side(false), right: side(true) }];
  });
  return { layout: readLayout({ theme: reading.theme, blocks }), letter: first && htmlDoc(first.inner) };
}

function blockOf({ kind, inner, attributes }: Found): object {
  const { src = '', alt = '', href = '', width = '', height = '' } = attributes;
  switch (kind) {
    case 'text':
      return { kind, doc: htmlDoc(inner) };
    case 'picture':
      return { kind, src, alt, href, width: parseInt(width, 10) };
    case 'button':
      return { kind, text: inner.replace(/<[^>]*>/g, '').trim(), href };
    case 'divider':
      return { kind };
    case 'space':
      return { kind, height: parseInt(height, 10) };
  }
}
