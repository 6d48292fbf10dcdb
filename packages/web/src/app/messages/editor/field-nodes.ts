import { fielded, readFieldTag, type Inline } from '@baton/core';
import { InputRule, mergeAttributes, Node } from '@tiptap/core';
import { messagesEditorTexts } from './texts';

const texts = messagesEditorTexts.fieldNodes;

/** A field in the text: a chip with its name and its fallback. */
export const FieldNode = Node.create({
  name: 'field',
  group: 'inline',
  inline: true,
  atom: true,
  selectable: true,
  addAttributes: () => ({ name: { default: '' }, fallback: { default: null }, filters: { default: '' } }),
  parseHTML: () => [
    {
      tag: 'span[data-field]',
      getAttrs: (element) => ({
        name: element.getAttribute('data-field') ?? '',
        fallback: element.getAttribute('data-fallback'),
        filters: element.getAttribute('data-filters') ?? '',
      }),
    },
  ],
  renderHTML: ({ node, HTMLAttributes }) => {
    const { name, fallback, filters } = node.attrs as { name: string; fallback: string | null; filters: string };
    const data = {
      'data-field': name,
      ...(fallback === null ? {} : { 'data-fallback': fallback }),
      ...(filters === '' ? {} : { 'data-filters': filters }),
    };
    const shown = fallback === null ? [] : [['i', {}, fallback === '' ? texts.nothing : fallback] as const];
    return ['span', mergeAttributes(own(HTMLAttributes), data, { class: 'chip' }), ['b', {}, words(name)], ...shown];
  },
  renderText: ({ node }) => `{{ ${String(node.attrs['name'])} }}`,
  addInputRules() {
    return [
      new InputRule({
        // The closing brace is what has just been typed.
        find: /\{\{[^{}]*\}\}$/,
        handler: ({ state, range, match }) => {
          const attrs = readFieldTag(match[0]);
          if (attrs) state.tr.replaceWith(range.from, range.to, this.type.create(attrs));
        },
      }),
    ];
  },
});

/** One text where a field is filled, another where it is blank: shown as what it does. */
export const EitherNode = Node.create({
  name: 'either',
  group: 'inline',
  inline: true,
  atom: true,
  selectable: true,
  addAttributes: () => ({ field: { default: '' }, filled: { default: '' }, blank: { default: '' } }),
  parseHTML: () => [
    {
      tag: 'span[data-either]',
      getAttrs: (element) => ({
        field: element.getAttribute('data-either') ?? '',
        filled: element.getAttribute('data-filled') ?? '',
        blank: element.getAttribute('data-blank') ?? '',
      }),
    },
  ],
  renderHTML: ({ node, HTMLAttributes }) => {
    const { field, filled, blank } = node.attrs as { field: string; filled: string; blank: string };
    const data = { 'data-either': field, 'data-filled': filled, 'data-blank': blank, class: 'chip either' };
    return [
      'span',
      mergeAttributes(own(HTMLAttributes), data),
      ['b', {}, spoken(filled)],
      ['i', {}, texts.without(words(field), blank === '' ? texts.nothing : spoken(blank))],
    ];
  },
  renderText: ({ node }) => String(node.attrs['filled']),
});

/** TipTap puts attributes on the element that are no attributes of HTML. */
const own = (given: Record<string, unknown>): Record<string, unknown> =>
  Object.fromEntries(Object.entries(given).filter(([key]) => /^(?:class|data-)/.test(key)));

const words = (name: string): string => name.replace(/[_]+/g, ' ').trim();
/** Liquid as it is read aloud: names without braces. */
export const spoken = (liquid: string): string =>
  liquid.replace(/\{\{-?\s*([^{}|]*?)\s*(?:\|[^{}]*)?-?\}\}/g, (_, n: string) => words(n));

/** A line of text with its fields as the editor has it. */
export const lineContent = (text: string): { type: 'doc'; content: { type: 'paragraph'; content?: Inline[] }[] } => {
  const content = fielded(text, []);
  return { type: 'doc', content: [content.length === 0 ? { type: 'paragraph' } : { type: 'paragraph', content }] };
};
