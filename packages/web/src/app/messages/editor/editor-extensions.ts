import { conditionWords } from '@baton/core';
import { Extension, type AnyExtension, type Extensions } from '@tiptap/core';
import Image from '@tiptap/extension-image';
import { Plugin } from '@tiptap/pm/state';
import { Decoration, DecorationSet } from '@tiptap/pm/view';
import StarterKit from '@tiptap/starter-kit';
import { EitherNode, FieldNode } from './field-nodes';
import { TextColour } from './text-colour';
import { messagesEditorTexts } from './texts';
import { addressOf } from '../../live/addresses';

const texts = messagesEditorTexts.editorExtensions;

/** What a text may hold; a single line holds words and fields alone. */
export function editorExtensions(singleLine: boolean, placeholder: () => string): Extensions {
  const line = StarterKit.configure({
    ...{ bold: false, italic: false, underline: false, link: false, strike: false, code: false, codeBlock: false },
    ...{ heading: false, bulletList: false, orderedList: false, listItem: false, listKeymap: false, blockquote: false },
    ...{ horizontalRule: false, hardBreak: false, trailingNode: false },
  });
  const text = StarterKit.configure({
    ...{ strike: false, code: false, codeBlock: false, horizontalRule: false, trailingNode: false },
    heading: { levels: [1, 2, 3] },
    link: { openOnClick: false, autolink: true, linkOnPaste: true, defaultProtocol: 'https', isAllowedUri: mayLead },
  });
  const common: AnyExtension[] = [FieldNode, EitherNode, placeholderOf(placeholder), conditionsShown()];
  return singleLine ? [line, ...common] : [text, TextColour, pictureNode(), ...common];
}

/** Liquid in an address is looked at where it is filled in; nothing else may lead to a script. */
const mayLead = (url: string): boolean => !/^\s*(?:javascript|data|vbscript):/i.test(url);

/** A picture: of the library by its number, of the web, or named by a value. */
function pictureNode(): AnyExtension {
  return Image.extend({
    addAttributes: () => ({ src: { default: '' }, alt: { default: '' }, width: { default: null } }),
    renderHTML: ({ node }) => {
      const { src, alt, width } = node.attrs as { src: string; alt: string; width: number | null };
      const asset = /^asset:(\d+)$/.exec(src);
      const shown = asset ? addressOf.asset(Number(asset[1])) : src;
      const isFilled = shown.includes('{{');
      return [
        'img',
        {
          ...(isFilled ? {} : { src: shown }),
          'data-src': src,
          alt: isFilled ? texts.pictureNamedBy(shown.replace(/[{}]/g, '').trim()) : alt,
          ...(width === null ? {} : { width: String(width) }),
        },
      ];
    },
    parseHTML: () => [
      {
        tag: 'img[data-src], img[src^="http"]',
        getAttrs: (element) => ({
          src: element.getAttribute('data-src') ?? element.getAttribute('src') ?? '',
          alt: element.getAttribute('alt') ?? '',
          width: Number(element.getAttribute('width')) || null,
        }),
      },
    ],
  }).configure({ inline: false });
}

/** Conditions in the text, each with what it does beside it. */
function conditionsShown(): AnyExtension {
  return Extension.create({
    name: 'conditions',
    addProseMirrorPlugins: () => [
      new Plugin({
        props: {
          decorations: ({ doc }) => {
            const found: Decoration[] = [];
            doc.descendants((node, at) => {
              for (const m of node.isText ? (node.text ?? '').matchAll(/\{%[^%]*%\}/g) : []) {
                const words = conditionWords(m[0]);
                if (words === '') continue;
                const place = { class: 'condition', 'data-does': words };
                found.push(Decoration.inline(at + m.index, at + m.index + m[0].length, place));
              }
            });
            return DecorationSet.create(doc, found);
          },
        },
      }),
    ],
  });
}

/** The placeholder of an empty text. */
function placeholderOf(words: () => string): AnyExtension {
  return Extension.create({
    name: 'placeholder',
    addProseMirrorPlugins: () => [
      new Plugin({
        props: {
          decorations: ({ doc }) => {
            const first = doc.firstChild;
            if (doc.childCount !== 1 || !first || first.content.size > 0 || words() === '') return null;
            const hint = Decoration.node(0, first.nodeSize, { class: 'hint', 'data-hint': words() });
            return DecorationSet.create(doc, [hint]);
          },
        },
      }),
    ],
  });
}
