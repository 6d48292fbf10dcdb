import { escapeHtml } from './escape-html';
import { eitherTag, fieldTag } from './field-tag';
import { linkAddress } from './link-address';
import { isTag, splitTags } from './split-tags';
import {
  isConditionAlone,
  linkRuns,
  type ImageNode,
  type Inline,
  type ListItem,
  type Mark,
  type RichBlock,
  type RichDoc,
} from './rich-doc';

/** How a text is set: colours as `#rrggbb`. */
export interface TextStyle {
  ink: string;
  accent: string;
}

/**
 * A text as HTML with Liquid in it, for mail programs: styles are inline on each element. Values are escaped when they are
 * put in; what is written here is escaped already.
 */
export function richHtml(doc: RichDoc, style: TextStyle): string {
  return blocks(doc.content, style);
}

function blocks(content: readonly RichBlock[], style: TextStyle): string {
  return content.map((block) => blockHtml(block, style)).join('\n');
}

function blockHtml(block: RichBlock, style: TextStyle): string {
  switch (block.type) {
    case 'paragraph':
      return paragraph(block.content ?? [], style);
    case 'heading': {
      const size = { 1: 26, 2: 20, 3: 16 }[block.attrs.level];
      const css = `margin:0 0 12px;font-size:${size}px;line-height:1.25;font-weight:bold`;
      return `<h${block.attrs.level} style="${css}">${inlines(block.content ?? [], style)}</h${block.attrs.level}>`;
    }
    case 'bulletList':
      return `<ul style="margin:0 0 16px;padding:0 0 0 24px">${items(block.content, style)}</ul>`;
    case 'orderedList':
      return `<ol style="margin:0 0 16px;padding:0 0 0 24px">${items(block.content, style)}</ol>`;
    case 'blockquote':
      return `<blockquote style="margin:0 0 16px;padding:0 0 0 14px;border-left:3px solid ${style.accent}">${blocks(block.content, style)}</blockquote>`;
    case 'image':
      return imageHtml(block.attrs);
  }
}

const items = (content: readonly ListItem[], style: TextStyle): string =>
  content.map((item) => `<li style="margin:0 0 4px">${itemHtml(item, style)}</li>`).join('');

/** A list's item of one paragraph has no paragraph's space around it. */
function itemHtml({ content }: ListItem, style: TextStyle): string {
  const [only, ...more] = content;
  return only?.type === 'paragraph' && more.length === 0 ? inlines(only.content ?? [], style) : blocks(content, style);
}

function paragraph(content: readonly Inline[], style: TextStyle): string {
  if (isConditionAlone(content)) return content.map(inlineHtml).join('');
  const inner = inlines(content, style);
  return `<p style="margin:0 0 16px">${inner === '' ? '<br>' : inner}</p>`;
}

function inlines(content: readonly Inline[], style: TextStyle): string {
  return linkRuns(content)
    .map(({ href, nodes }) => {
      const inner = nodes.map(inlineHtml).join('');
      return href === null ? inner : linkHtml(href, inner, style);
    })
    .join('');
}

function linkHtml(href: string, inner: string, { accent }: TextStyle): string {
  const source = hrefSource(href);
  return source === null ? inner : `<a href="${source}" style="color:${accent}">${inner}</a>`;
}

function inlineHtml(node: Inline): string {
  if (node.type === 'hardBreak') return '<br>\n';
  const text =
    node.type === 'text'
      ? escapedText(node.text)
      : node.type === 'field'
        ? fieldTag(node.attrs)
        : escapedText(eitherTag(node.attrs));
  return (node.marks ?? []).reduce(marked, text);
}

function marked(html: string, mark: Mark): string {
  switch (mark.type) {
    case 'bold':
      return `<b>${html}</b>`;
    case 'italic':
      return `<i>${html}</i>`;
    case 'underline':
      return `<u>${html}</u>`;
    case 'colour':
      return `<span style="color:${mark.attrs.colour}">${html}</span>`;
    case 'link':
      return html;
  }
}

/** Text between Liquid's tags escaped, the tags left as they are. */
export function escapedText(text: string): string {
  return splitTags(text)
    .map((piece) => (isTag(piece) ? piece : escapeHtml(piece).replaceAll('\n', '<br>\n')))
    .join('');
}

/**
 * A link's address as an attribute with Liquid in it: each value encoded for its place. Null for an address that leads
 * nowhere or where no message may lead.
 */
export const hrefSource = (href: string): string | null => addressSource(href, escapeHtml);

/**
 * A link's address with Liquid in it, each value encoded for its place, so that no value leads elsewhere: it is the
 * whole address, or behind the host. Null for an address that leads nowhere or where no message may lead.
 *
 * @param written what the text between the values becomes
 */
export function addressSource(href: string, written: (text: string) => string): string | null {
  const [first = '', ...rest] = splitTags(href.trim());
  if (!isTag(first) && !rest.some(isTag)) {
    const address = linkAddress(href);
    return address === null ? null : written(address);
  }
  // Which address a condition chooses is known when it is filled in; then it is checked as a whole.
  if ([first, ...rest].some((piece) => piece.startsWith('{%')))
    return `{% capture link_address %}${href.trim()}{% endcapture %}{{ link_address | url_whole }}`;
  const others = (filter: string) => rest.map((p) => (isTag(p) ? filtered(p, filter) : written(p))).join('');
  // An address that begins with a value is that value's own: it is checked when it is known.
  if (isTag(first))
    return /^(?:$|[/?#])/.test(rest[0] ?? '') ? filtered(first, 'url_whole') + others('url_part') : null;
  const scheme = /^(mailto|tel):/i.exec(first)?.[1]?.toLowerCase();
  if (scheme !== undefined && !first.includes('?')) return written(first) + others(`url_${scheme}`);
  const begins = linkAddress(first);
  return begins !== null && AFTER_HOST.test(begins) ? written(begins) + others('url_part') : null;
}

/** An address that has gone past its host. */
const AFTER_HOST = /^(?:https?:\/\/[^/?#]+[/?#]|mailto:|tel:)/i;

/** An output with a filter more at its end; other tags as they are. */
function filtered(tag: string, filter: string): string {
  // A text that was saved as HTML and brought in again has it already.
  if (new RegExp(`\\|\\s*${filter}\\b`).test(tag)) return tag;
  return tag.startsWith('{{') ? tag.replace(/\s*(-?\}\})$/, (_, end: string) => ` | ${filter} ${end}`) : tag;
}

/** A picture: of the library (`cid:asset.12`), of the web, or named by a value. '' where there is none. */
export function imageHtml({ src, alt, width }: ImageNode['attrs']): string {
  const source = imageSource(src);
  if (source === null) return '';
  const wide = width === null ? '' : ` width="${width}"`;
  return `<img src="${source}" alt="${attributeText(alt)}"${wide} style="display:block;max-width:100%;height:auto;border:0;margin:0 0 16px">`;
}

/** A text as an attribute with Liquid in it. */
export const attributeText = (text: string): string =>
  splitTags(text)
    .map((p) => (isTag(p) ? filtered(p, 'one_line') : escapeHtml(p)))
    .join('');

/** The source of a picture as an attribute with Liquid in it; null for none. */
export function imageSource(src: string): string | null {
  const asset = /^asset:(\d+)$/.exec(src.trim());
  if (asset) return assetPicture(Number(asset[1]));
  const pieces = splitTags(src.trim());
  if (pieces.length === 1 && isTag(pieces[0] as string)) return filtered(pieces[0] as string, 'picture');
  if (!/^https?:/i.test(src.trim())) return null;
  return hrefSource(src);
}

/** The Content-ID of a picture of the library, with its scheme (RFC 2392). */
const assetPicture = (assetId: number): string => `cid:asset.${assetId}`;
