import { DomainError } from '../errors';
import { letterDoc } from './letter-doc';
import { EMPTY_DOC, readRichDoc, type RichDoc } from './rich-doc';
import { PLAIN_THEME, readTheme, type Theme } from './theme';

/** What two columns hold: anything but columns. */
export type SimpleBlock =
  /** A picture, or a name where there is none, at the head. */
  | { id: string; kind: 'header'; picture: string; alt: string; href: string; text: string }
  /** The message's own text; a layout has it once. */
  | { id: string; kind: 'letter' }
  | { id: string; kind: 'heading'; text: string; size: 'large' | 'small' }
  | { id: string; kind: 'text'; doc: RichDoc }
  | { id: string; kind: 'picture'; src: string; alt: string; href: string; width: number | null }
  | { id: string; kind: 'button'; text: string; href: string }
  | { id: string; kind: 'divider' }
  /** Height in pixels. */
  | { id: string; kind: 'space'; height: number }
  | { id: string; kind: 'footer'; doc: RichDoc };

export type LayoutBlock = SimpleBlock | { id: string; kind: 'columns'; left: SimpleBlock[]; right: SimpleBlock[] };
export type BlockKind = LayoutBlock['kind'];

/** A message's form: blocks from top to bottom, one of them the message's own text. */
export interface Layout {
  theme: Theme;
  blocks: LayoutBlock[];
}

export const BLOCK_KINDS = [
  'header',
  'letter',
  'heading',
  'text',
  'picture',
  'button',
  'columns',
  'divider',
  'space',
  'footer',
] as const satisfies readonly BlockKind[];

const MOST_BLOCKS = 200;
const MOST_TEXT = 5000;

type Json = Record<string, unknown>;
const isObject = (value: unknown): value is Json => typeof value === 'object' && value !== null;
const text = (value: unknown): string => (typeof value === 'string' ? value.slice(0, MOST_TEXT) : '');

/**
 * Reads a layout of unknown origin: unknown blocks are left out, and the message's own text is in it exactly once.
 *
 * @throws DomainError `invalid` for what is not a layout
 */
export function readLayout(value: unknown): Layout {
  if (!isObject(value) || !Array.isArray(value['blocks']))
    throw new DomainError('invalid', 'A layout needs its blocks; there are none in this.');
  const ids = new Ids();
  const blocks = value['blocks'].slice(0, MOST_BLOCKS).flatMap((b) => readBlock(b, ids));
  if (!blocks.some(holdsLetter)) blocks.push({ id: ids.next('letter'), kind: 'letter' });
  return { theme: readTheme(value['theme']), blocks };
}

export const holdsLetter = (block: LayoutBlock): boolean =>
  block.kind === 'letter' ||
  (block.kind === 'columns' && [...block.left, ...block.right].some((b) => b.kind === 'letter'));

/** Gives each block a unique id, and allows one letter block only. */
class Ids {
  private readonly taken = new Set<string>();
  private hasLetter = false;

  next(wanted: string): string {
    let id = wanted.slice(0, 40) || 'block';
    for (let n = 2; this.taken.has(id); n++) id = `${wanted.slice(0, 40)}-${n}`;
    this.taken.add(id);
    return id;
  }

  letter(): boolean {
    const isFirst = !this.hasLetter;
    this.hasLetter = true;
    return isFirst;
  }
}

function readBlock(value: unknown, ids: Ids): LayoutBlock[] {
  if (isObject(value) && value['kind'] === 'columns') {
    const side = (v: unknown) => (Array.isArray(v) ? v.slice(0, 20).flatMap((b) => readSimple(b, ids)) : []);
    const id = ids.next(text(value['id']) || 'columns');
    return [{ id, kind: 'columns', left: side(value['left']), right: side(value['right']) }];
  }
  return readSimple(value, ids);
}

function readSimple(value: unknown, ids: Ids): SimpleBlock[] {
  if (!isObject(value)) return [];
  const kind = text(value['kind']);
  const id = () => ids.next(text(value['id']) || kind);
  const doc = () => (value['doc'] === undefined ? EMPTY_DOC : readRichDoc(value['doc']));
  switch (kind) {
    case 'letter':
      return ids.letter() ? [{ id: id(), kind }] : [];
    case 'header':
      return [
        {
          id: id(),
          kind,
          picture: text(value['picture']),
          alt: text(value['alt']),
          href: text(value['href']),
          text: text(value['text']),
        },
      ];
    case 'heading':
      return [{ id: id(), kind, text: text(value['text']), size: value['size'] === 'small' ? 'small' : 'large' }];
    case 'text':
    case 'footer':
      return [{ id: id(), kind, doc: doc() }];
    case 'picture': {
      const width = Number(value['width']);
      const own = Number.isInteger(width) && width >= 1 && width <= 2000 ? width : null;
      return [
        { id: id(), kind, src: text(value['src']), alt: text(value['alt']), href: text(value['href']), width: own },
      ];
    }
    case 'button':
      return [{ id: id(), kind, text: text(value['text']), href: text(value['href']) }];
    case 'divider':
      return [{ id: id(), kind }];
    case 'space':
      return [{ id: id(), kind, height: Math.min(200, Math.max(4, Math.round(Number(value['height'])) || 24)) }];
    default:
      return [];
  }
}

/** A new block, to be filled. */
export function newBlock(kind: Exclude<BlockKind, 'letter'>, id: string): LayoutBlock {
  switch (kind) {
    case 'header':
      return { id, kind, picture: '', alt: '', href: '', text: '{{ sender_name }}' };
    case 'heading':
      return { id, kind, text: 'A heading', size: 'large' };
    case 'text':
      return { id, kind, doc: letterDoc('A few words.') };
    case 'footer':
      return { id, kind, doc: FOOTER };
    case 'picture':
      return { id, kind, src: '', alt: '', href: '', width: null };
    case 'button':
      return { id, kind, text: 'Tell me more', href: '' };
    case 'columns':
      return {
        id,
        kind,
        left: [{ id: `${id}-left`, kind: 'text', doc: letterDoc('On the left.') }],
        right: [{ id: `${id}-right`, kind: 'text', doc: letterDoc('On the right.') }],
      };
    case 'divider':
      return { id, kind };
    case 'space':
      return { id, kind, height: 24 };
  }
}

const FOOTER: RichDoc = letterDoc(
  '{{ postal_address }}\nRather not hear from us? [Leave this list]({{ unsubscribe_link }})',
);

/** Layouts that come with Baton, to begin with. */
export const SHIPPED_LAYOUTS: readonly { name: string; layout: Layout }[] = [
  {
    name: 'Letterhead',
    layout: {
      theme: { ...PLAIN_THEME, ground: '#f3f0e7', sheet: '#fffdf8', font: 'serif', size: 16 },
      blocks: [
        { id: 'header', kind: 'header', picture: '', alt: '', href: '', text: '{{ sender_name }}' },
        { id: 'divider', kind: 'divider' },
        { id: 'letter', kind: 'letter' },
        { id: 'divider-2', kind: 'divider' },
        { id: 'footer', kind: 'footer', doc: FOOTER },
      ],
    },
  },
  {
    name: 'One thing to press',
    layout: {
      theme: { ...PLAIN_THEME, ground: '#eef2ee' },
      blocks: [
        { id: 'header', kind: 'header', picture: '', alt: '', href: '', text: '{{ sender_name }}' },
        { id: 'letter', kind: 'letter' },
        { id: 'button', kind: 'button', text: 'Tell me more', href: '' },
        { id: 'space', kind: 'space', height: 16 },
        { id: 'footer', kind: 'footer', doc: FOOTER },
      ],
    },
  },
  {
    name: 'Picture and two columns',
    layout: {
      theme: { ...PLAIN_THEME, ground: '#f2efe6', width: 640 },
      blocks: [
        { id: 'picture', kind: 'picture', src: '', alt: '', href: '', width: null },
        { id: 'letter', kind: 'letter' },
        {
          id: 'columns',
          kind: 'columns',
          left: [
            { id: 'left-heading', kind: 'heading', text: 'What it is', size: 'small' },
            { id: 'left', kind: 'text', doc: letterDoc('A few words.') },
          ],
          right: [
            { id: 'right-heading', kind: 'heading', text: 'What it does', size: 'small' },
            { id: 'right', kind: 'text', doc: letterDoc('A few words.') },
          ],
        },
        { id: 'footer', kind: 'footer', doc: FOOTER },
      ],
    },
  },
];
