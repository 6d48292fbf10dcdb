import { isColour } from '@baton/core';
import { Mark } from '@tiptap/core';

/** One of a few colours of text. */
export const TextColour = Mark.create({
  name: 'colour',
  addAttributes: () => ({ colour: { default: null } }),
  parseHTML: () => [
    {
      tag: 'span[data-colour]',
      getAttrs: (element) => {
        const colour = element.getAttribute('data-colour');
        return isColour(colour) ? { colour } : false;
      },
    },
  ],
  renderHTML: ({ mark }) => {
    const colour = String(mark.attrs['colour']);
    return ['span', { 'data-colour': colour, style: `color: ${colour}` }, 0];
  },
});
