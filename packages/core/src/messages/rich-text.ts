import { eitherTag, fieldTag } from './field-tag';
import { isConditionAlone, linkRuns, type Inline, type RichBlock, type RichDoc } from './rich-doc';

/** A text without formatting, as Liquid: the plain part of a message. A named link becomes `text: address`. */
export function richText(doc: RichDoc): string {
  return blocksText(doc.content);
}

function blocksText(blocks: readonly RichBlock[]): string {
  let text = '';
  let hasParagraph = false;
  for (const block of blocks) {
    const own = blockText(block);
    if (own === null) continue;
    // A blank line belongs to the paragraph after it, so that it goes where a condition takes that away.
    const isCondition = block.type === 'paragraph' && isConditionAlone(block.content ?? []);
    text += !isCondition && hasParagraph ? `\n\n${own}` : own;
    hasParagraph ||= !isCondition;
  }
  return text;
}

function blockText(block: RichBlock): string | null {
  switch (block.type) {
    case 'paragraph':
    case 'heading':
      return inlineText(block.content ?? []);
    case 'bulletList':
      return block.content.map((item) => indented('- ', blocksText(item.content))).join('\n');
    case 'orderedList':
      return block.content.map((item, i) => indented(`${i + 1}. `, blocksText(item.content))).join('\n');
    case 'blockquote':
      return blocksText(block.content)
        .split('\n')
        .map((line) => `> ${line}`.trimEnd())
        .join('\n');
    case 'image':
      return block.attrs.alt.trim() === '' ? null : `[${block.attrs.alt.trim()}]`;
  }
}

const indented = (sign: string, text: string): string => sign + text.replaceAll(/\n+/g, `\n${' '.repeat(sign.length)}`);

function inlineText(content: readonly Inline[]): string {
  return linkRuns(content)
    .map(({ href, nodes }) => {
      const label = nodes.map(nodeText).join('');
      return href === null || isSame(label, href) ? label : `${label}: ${href}`;
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
