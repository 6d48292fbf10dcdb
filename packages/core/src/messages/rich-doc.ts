import { DomainError } from '../errors';
import { isColour } from './theme';

/*
 * Formatted text, as the editor has it (the document model of ProseMirror, in JSON). Text may hold Liquid; a field
 * and a choice between two texts are nodes of their own.
 */

export type Mark =
  | { type: 'bold' | 'italic' | 'underline' }
  | { type: 'link'; attrs: { href: string } }
  | { type: 'colour'; attrs: { colour: string } };

/** A field: its name as people write it, its fallback, and its filters in Liquid's syntax. */
export interface FieldNode {
  type: 'field';
  attrs: { name: string; fallback: string | null; filters: string };
  marks?: Mark[];
}

/** One text where a field is filled, another where it is blank; both may hold fields. */
export interface EitherNode {
  type: 'either';
  attrs: { field: string; filled: string; blank: string };
  marks?: Mark[];
}

export type Inline = { type: 'text'; text: string; marks?: Mark[] } | FieldNode | EitherNode | { type: 'hardBreak' };

export interface ImageNode {
  type: 'image';
  /** `asset:12`, a web address, or Liquid that makes an address or a file's name; width in pixels, null for its own. */
  attrs: { src: string; alt: string; width: number | null };
}

export type RichBlock =
  | { type: 'paragraph'; content?: Inline[] }
  | { type: 'heading'; attrs: { level: 1 | 2 | 3 }; content?: Inline[] }
  | { type: 'bulletList' | 'orderedList'; content: ListItem[] }
  | { type: 'blockquote'; content: RichBlock[] }
  | ImageNode;

export interface ListItem {
  type: 'listItem';
  content: RichBlock[];
}

export interface RichDoc {
  type: 'doc';
  content: RichBlock[];
}

export const EMPTY_DOC: RichDoc = { type: 'doc', content: [{ type: 'paragraph' }] };

/** Nodes of a text; what has more was not written by hand. */
const MOST_NODES = 20_000;
const MOST_DEPTH = 12;

/**
 * Reads a text from JSON of unknown origin; what is not known in it is left out, its text kept where it has any.
 *
 * @throws DomainError `invalid` for what is no text at all, or too large a one
 */
export function readRichDoc(value: unknown): RichDoc {
  if (!isObject(value) || value['type'] !== 'doc')
    throw new DomainError('invalid', 'The text of the message is not in Baton’s own form.');
  const count = { nodes: 0 };
  const content = readBlocks(value['content'], count, 0);
  return { type: 'doc', content: content.length === 0 ? [{ type: 'paragraph' }] : content };
}

interface Count {
  nodes: number;
}
type Json = Record<string, unknown>;

const isObject = (value: unknown): value is Json => typeof value === 'object' && value !== null;
const textOf = (value: unknown): string => (typeof value === 'string' ? value : '');

function children(value: unknown, count: Count): Json[] {
  const list = Array.isArray(value) ? value.filter(isObject) : [];
  count.nodes += list.length;
  if (count.nodes > MOST_NODES)
    throw new DomainError('too_large', `The text has more than ${MOST_NODES.toLocaleString('en')} parts.`);
  return list;
}

function readBlocks(value: unknown, count: Count, depth: number): RichBlock[] {
  if (depth > MOST_DEPTH) return [];
  return children(value, count).flatMap((node) => readBlock(node, count, depth));
}

function readBlock(node: Json, count: Count, depth: number): RichBlock[] {
  const attrs = isObject(node['attrs']) ? node['attrs'] : {};
  switch (node['type']) {
    case 'paragraph':
      return [{ type: 'paragraph', ...filled(readInlines(node['content'], count)) }];
    case 'heading': {
      const level = attrs['level'] === 1 || attrs['level'] === 3 ? attrs['level'] : 2;
      return [{ type: 'heading', attrs: { level }, ...filled(readInlines(node['content'], count)) }];
    }
    case 'bulletList':
    case 'orderedList': {
      const items = children(node['content'], count).map((item): ListItem => ({
        type: 'listItem',
        content: readBlocks(item['content'], count, depth + 1),
      }));
      const own = items.filter((i) => i.content.length > 0);
      return own.length === 0 ? [] : [{ type: node['type'], content: own }];
    }
    case 'blockquote': {
      const content = readBlocks(node['content'], count, depth + 1);
      return content.length === 0 ? [] : [{ type: 'blockquote', content }];
    }
    case 'image':
      return [readImage(attrs)];
    default:
      return Array.isArray(node['content']) ? readBlocks(node['content'], count, depth + 1) : [];
  }
}

function readImage(attrs: Json): ImageNode {
  const width = Number(attrs['width']);
  return {
    type: 'image',
    attrs: {
      src: textOf(attrs['src']),
      alt: textOf(attrs['alt']),
      width: Number.isInteger(width) && width >= 1 && width <= 2000 ? width : null,
    },
  };
}

const filled = (content: Inline[]): { content?: Inline[] } => (content.length === 0 ? {} : { content });

function readInlines(value: unknown, count: Count): Inline[] {
  return children(value, count).flatMap((node): Inline[] => {
    const attrs = isObject(node['attrs']) ? node['attrs'] : {};
    const marks = readMarks(node['marks']);
    const marked = marks.length === 0 ? {} : { marks };
    switch (node['type']) {
      case 'text':
        return textOf(node['text']) === '' ? [] : [{ type: 'text', text: textOf(node['text']), ...marked }];
      case 'hardBreak':
        return [{ type: 'hardBreak' }];
      case 'field': {
        const fallback = typeof attrs['fallback'] === 'string' ? attrs['fallback'] : null;
        const field = { name: textOf(attrs['name']), fallback, filters: textOf(attrs['filters']) };
        return field.name === '' ? [] : [{ type: 'field', attrs: field, ...marked }];
      }
      case 'either': {
        const either = {
          field: textOf(attrs['field']),
          filled: textOf(attrs['filled']),
          blank: textOf(attrs['blank']),
        };
        return either.field === '' ? [] : [{ type: 'either', attrs: either, ...marked }];
      }
      default:
        return [];
    }
  });
}

function readMarks(value: unknown): Mark[] {
  if (!Array.isArray(value)) return [];
  return value.filter(isObject).flatMap((mark): Mark[] => {
    const attrs = isObject(mark['attrs']) ? mark['attrs'] : {};
    switch (mark['type']) {
      case 'bold':
      case 'italic':
      case 'underline':
        return [{ type: mark['type'] }];
      case 'link':
        return textOf(attrs['href']) === '' ? [] : [{ type: 'link', attrs: { href: textOf(attrs['href']) } }];
      case 'colour':
        return isColour(attrs['colour']) ? [{ type: 'colour', attrs: { colour: attrs['colour'] } }] : [];
      default:
        return [];
    }
  });
}

/** Where a piece of text leads; null for nowhere. */
export const linkOf = (node: Inline): string | null =>
  ('marks' in node ? node.marks : undefined)?.find((m) => m.type === 'link')?.attrs.href ?? null;

/** A line in runs of pieces that lead to the same place, each one link however its letters differ. */
export function linkRuns(content: readonly Inline[]): { href: string | null; nodes: Inline[] }[] {
  const runs: { href: string | null; nodes: Inline[] }[] = [];
  for (const node of content) {
    const href = linkOf(node);
    const last = runs.at(-1);
    if (last && href !== null && last.href === href) last.nodes.push(node);
    else runs.push({ href, nodes: [node] });
  }
  return runs;
}

/** Whether a paragraph is nothing but conditions: it opens or closes other paragraphs, and is none itself. */
export const isConditionAlone = (content: readonly Inline[]): boolean =>
  content.length > 0 &&
  content.every((node) => node.type === 'text' && /^\s*(?:\{%[^%]*%\}\s*)*$/.test(node.text)) &&
  content.some((node) => node.type === 'text' && node.text.trim() !== '');
