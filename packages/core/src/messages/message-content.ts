import { DomainError } from '../errors';
import { fieldKey } from './field-name';
import { fieldTag, readFieldTag } from './field-tag';
import { readLayout, type Layout, type LayoutBlock, type SimpleBlock } from './layout';
import { letterDoc } from './letter-doc';
import { renameField } from './rename-field';
import { readRichDoc, type Inline, type Mark, type RichBlock, type RichDoc } from './rich-doc';
import { setFallback } from './template';

/** An attachment: for all, or one per person by the name that a value makes of a file of the library. */
export type Attachment = { kind: 'asset'; assetId: number } | { kind: 'named'; name: string };

/** What is written once for all recipients. Texts are Liquid; '' is the mailbox's own value, or none. */
export interface MessageContent {
  subject: string;
  /** What lists of messages show beside the subject. */
  preview: string;
  body: RichDoc;
  format: 'letter' | 'layout';
  /** Kept while the message is a letter, so that nothing is lost by trying. */
  layout: Layout | null;
  /** The plain part where it is written by hand; null: made of the text. */
  plain: string | null;
  senderName: string;
  replyTo: string;
  cc: string;
  bcc: string;
  attachments: Attachment[];
}

export const EMPTY_CONTENT: MessageContent = {
  subject: '',
  preview: '',
  body: { type: 'doc', content: [{ type: 'paragraph' }] },
  format: 'letter',
  layout: null,
  plain: null,
  senderName: '',
  replyTo: '',
  cc: '',
  bcc: '',
  attachments: [],
};

const MOST_HEADER = 2000;
const MOST_PLAIN = 200_000;
const MOST_ATTACHMENTS = 20;

/**
 * Reads a message of unknown origin. Its text may be a plain one, with fields as Liquid and links as `[text](address)`.
 *
 * @throws DomainError `invalid`, `too_large`
 */
export function readContent(value: unknown): MessageContent {
  if (typeof value !== 'object' || value === null) throw new DomainError('invalid', 'This is not a message.');
  const given = value as Record<string, unknown>;
  const header = (key: keyof MessageContent): string => {
    const text = typeof given[key] === 'string' ? given[key] : '';
    if (text.length > MOST_HEADER)
      throw new DomainError('too_large', `${key} has ${text.length} letters; at most ${MOST_HEADER} are kept.`);
    return text;
  };
  const { body, plain, layout } = given;
  if (typeof plain === 'string' && plain.length > MOST_PLAIN)
    throw new DomainError('too_large', `The plain text has more than ${MOST_PLAIN.toLocaleString('en')} letters.`);
  return {
    subject: header('subject'),
    preview: header('preview'),
    body: typeof body === 'string' ? letterDoc(body) : readRichDoc(body),
    format: given['format'] === 'layout' && layout ? 'layout' : 'letter',
    layout: layout ? readLayout(layout) : null,
    plain: typeof plain === 'string' ? plain : null,
    senderName: header('senderName'),
    replyTo: header('replyTo'),
    cc: header('cc'),
    bcc: header('bcc'),
    attachments: readAttachments(given['attachments']),
  };
}

function readAttachments(value: unknown): Attachment[] {
  if (!Array.isArray(value)) return [];
  return value.slice(0, MOST_ATTACHMENTS).flatMap((a: unknown): Attachment[] => {
    const given = (typeof a === 'object' && a !== null ? a : {}) as Record<string, unknown>;
    if (given['kind'] === 'asset' && Number.isInteger(given['assetId']))
      return [{ kind: 'asset', assetId: given['assetId'] as number }];
    const name = given['name'];
    return given['kind'] === 'named' && typeof name === 'string' ? [{ kind: 'named', name: name.slice(0, 500) }] : [];
  });
}

/** @param isWhole whether the text stands by itself, as addresses do, and is no part of a longer one */
type Change = (liquid: string, isWhole?: boolean) => string;

/** Changes every text that may hold Liquid, fields and links included. */
export function mapContent(content: MessageContent, change: Change): MessageContent {
  const map = new Mapping(change);
  return {
    ...content,
    subject: change(content.subject),
    preview: change(content.preview),
    body: map.doc(content.body),
    layout: content.layout && { ...content.layout, blocks: content.layout.blocks.map((b) => map.block(b)) },
    plain: content.plain === null ? null : change(content.plain),
    senderName: change(content.senderName),
    replyTo: change(content.replyTo),
    cc: change(content.cc),
    bcc: change(content.bcc),
    attachments: content.attachments.map((a) => (a.kind === 'named' ? { ...a, name: change(a.name) } : a)),
  };
}

class Mapping {
  constructor(private readonly change: Change) {}

  doc(doc: RichDoc): RichDoc {
    return { type: 'doc', content: this.blocks(doc.content) };
  }

  block(block: LayoutBlock): LayoutBlock {
    if (block.kind !== 'columns') return this.simple(block);
    const side = (blocks: SimpleBlock[]) => blocks.map((b) => this.simple(b));
    return { ...block, left: side(block.left), right: side(block.right) };
  }

  private simple(block: SimpleBlock): SimpleBlock {
    const to = this.change;
    switch (block.kind) {
      case 'text':
      case 'footer':
        return { ...block, doc: this.doc(block.doc) };
      case 'heading':
        return { ...block, text: to(block.text) };
      case 'button':
        return { ...block, text: to(block.text), href: to(block.href, true) };
      case 'picture':
        return { ...block, src: to(block.src, true), alt: to(block.alt, true), href: to(block.href, true) };
      case 'header':
        return {
          ...block,
          picture: to(block.picture, true),
          alt: to(block.alt, true),
          href: to(block.href, true),
          text: to(block.text),
        };
      default:
        return block;
    }
  }

  private blocks(blocks: readonly RichBlock[]): RichBlock[] {
    return blocks.map((block): RichBlock => {
      switch (block.type) {
        case 'paragraph':
        case 'heading':
          return block.content ? { ...block, content: block.content.map((c) => this.inline(c)) } : block;
        case 'bulletList':
        case 'orderedList':
          return { ...block, content: block.content.map((i) => ({ ...i, content: this.blocks(i.content) })) };
        case 'blockquote':
          return { ...block, content: this.blocks(block.content) };
        case 'image':
          return {
            ...block,
            attrs: { ...block.attrs, src: this.change(block.attrs.src, true), alt: this.change(block.attrs.alt, true) },
          };
      }
    });
  }

  private inline(node: Inline): Inline {
    if (node.type === 'hardBreak') return node;
    const marks = node.marks ? { marks: node.marks.map((m) => this.mark(m)) } : {};
    switch (node.type) {
      case 'text':
        return { ...node, text: this.change(node.text), ...marks };
      case 'field':
        return { ...node, attrs: readFieldTag(this.change(fieldTag(node.attrs))) ?? node.attrs, ...marks };
      case 'either': {
        const { field, filled, blank } = node.attrs;
        const named = readFieldTag(this.change(fieldTag({ name: field, fallback: null, filters: '' })));
        const attrs = { field: named?.name ?? field, filled: this.change(filled), blank: this.change(blank) };
        return { ...node, attrs, ...marks };
      }
    }
  }

  private mark(mark: Mark): Mark {
    return mark.type === 'link' ? { ...mark, attrs: { href: this.change(mark.attrs.href, true) } } : mark;
  }
}

/** Numbers of the library's files that a message uses, as attachments and as pictures. */
export function assetsOf(content: MessageContent): number[] {
  const out = new Set<number>();
  mapAssets(content, (id) => {
    out.add(id);
    return id;
  });
  return [...out];
}

/** A message whose files of the library have other numbers. */
export function mapAssets(content: MessageContent, change: (assetId: number) => number): MessageContent {
  const mapped = mapContent(content, (text) => {
    const asset = /^\s*asset:(\d+)\s*$/.exec(text);
    return asset ? `asset:${change(Number(asset[1]))}` : text;
  });
  const attachments = mapped.attachments.map((a) => (a.kind === 'asset' ? { ...a, assetId: change(a.assetId) } : a));
  return { ...mapped, attachments };
}

/** The place of a text with Liquid in a message. */
export type Place = 'subject' | 'preview' | 'body' | 'plain' | 'senderName' | 'replyTo' | 'cc' | 'bcc' | 'attachments';

/** A text with Liquid, and where it stands. */
export interface LiquidText {
  place: Place;
  text: string;
  /** Whether it is no part of a longer text. */
  isWhole: boolean;
}

/** Every text of a message that may hold Liquid, with its place; of a layout that is not used, none. */
export function liquidTexts(content: MessageContent): LiquidText[] {
  const out: LiquidText[] = [];
  for (const place of ['subject', 'preview', 'senderName', 'replyTo', 'cc', 'bcc', 'plain'] as const)
    if (content[place]) out.push({ place, text: content[place], isWhole: true });
  const take =
    (place: Place) =>
    (text: string, isWhole = false) => {
      if (text !== '') out.push({ place, text, isWhole });
      return text;
    };
  const inBody = new Mapping(take('body'));
  inBody.doc(content.body);
  if (content.format === 'layout') for (const b of content.layout?.blocks ?? []) inBody.block(b);
  for (const a of content.attachments) if (a.kind === 'named') take('attachments')(a.name, true);
  return out;
}

/** A message that follows a field to its new name. @param key of the old one */
export function renameInContent(content: MessageContent, key: string, newName: string): MessageContent {
  return mapContent(content, (text) => renameField(text, key, newName));
}

/** A message whose uses of a field have a fallback, or none; see {@link setFallback}. */
export function fallBackInContent(
  content: MessageContent,
  name: string,
  fallback: string,
  which: 'all' | 'missing',
): MessageContent {
  const key = fieldKey(name);
  return mapContent(content, (text) => setFallback(text, key, fallback, which));
}
