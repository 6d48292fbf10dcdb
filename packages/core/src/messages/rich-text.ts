import { eitherTag, fieldTag } from './field-tag';
import { isConditionAlone, linkRuns, type Inline, type RichBlock, type RichDoc } from './rich-doc';

/** What becomes of a link's address in plain text. */
export type AddressText = (href: string) => string;

const asWritten: AddressText = (href) => href;

/**
 * A text without formatting, as Liquid: the plain part of a message. A named link becomes `text: address`.
 *
 * @param address what becomes of addresses; without it they are as written
 */
export function richText(doc: RichDoc, address: AddressText = asWritten): string {
  return blocksText(doc.content, address);
}

function blocksText(blocks: readonly RichBlock[], address: AddressText): string {
  let text = '';
  let hasParagraph = false;
  for (const block of blocks) {
    const own = blockText(block, address);
    if (own === null) continue;
    // A blank line belongs to the paragraph after it, so that it goes where a condition takes that away.
    const isCondition = block.type === 'paragraph' && isConditionAlone(block.content ?? []);
    text += !isCondition && hasParagraph ? `\n\n${own}` : own;
    hasParagraph ||= !isCondition;
  }
  return text;
}

function blockText(block: RichBlock, address: AddressText): string | null {
  switch (block.type) {
    case 'paragraph':
    case 'heading':
      return inlineText(block.content ?? [], address);
    case 'bulletList':
      return block.content.map((item) => indented('- ', blocksText(item.content, address))).join('\n');
    case 'orderedList':
      return block.content.map((item, i) => indented(`${i + 1}. `, blocksText(item.content, address))).join('\n');
    case 'blockquote':
      return blocksText(block.content, address)
        .split('\n')
        .map((line) => `> ${line}`.trimEnd())
        .join('\n');
    case 'image':
      return block.attrs.alt.trim() === '' ? null : `[${block.attrs.alt.trim()}]`;
  }
}

const indented = (sign: string, text: string): string => sign + text.replaceAll(/\n+/g, `\n${' '.repeat(sign.length)}`);

function inlineText(content: readonly Inline[], address: AddressText): string {
  return linkRuns(content)
    .map(({ href, nodes }) => {
      const label = nodes.map(nodeText).join('');
      if (href === null) return label;
      const leadsTo = address(href);
      if (leadsTo === '') return label;
      if (!isSame(label, href)) return `${label}: ${leadsTo}`;
      return leadsTo === href ? label : leadsTo;
    })
    .join('');
}

/** Whether a link's text is its address already. */
const isSame = (label: string, href: string): boolean =>
  label.trim() === href || `mailto:${label.trim()}` === href || `https://${label.trim()}` === href;

function nodeText(node: Inline): string {
  switch (node.type) {
    case 'text':
      return node.text;
    case 'hardBreak':
      return '\n';
    case 'field':
      return fieldTag(node.attrs);
    case 'either':
      return eitherTag(node.attrs);
  }
}
