import { letterDoc, SHIPPED_LAYOUTS, type RichDoc } from '@baton/core';

/** A letter that greets by name, and without one falls back whole. */
function letter(text: string): RichDoc {
  const attrs = { field: 'given name', filled: 'Hello {{ given name }},', blank: 'Hello,' };
  return {
    type: 'doc',
    content: [{ type: 'paragraph', content: [{ type: 'either', attrs }] }, ...letterDoc(text).content],
  };
}

const sign = '\n\n{{ signature }}\n\nRather not hear from us? [Leave this list]({{ unsubscribe_link }})';

/** The messages of Tidewater Kelp Works. */
export const TEXTS = {
  vines: {
    name: 'Kelp for your vines?',
    subject: 'Kelp for {{ company | default: "your vines" }}?',
    body: letter(
      `We dry and mill kelp from the bay, and growers nearby use it as a spring feed. With {{ surface | default: "a few" }} hectares at {{ company | default: "your vineyard" }}, one pallet would do a trial on two rows.\n\nLast year’s [soil results](https://tidewaterkelp.example/soil-results) are on one page. Shall I send you a sack to try?${sign}`,
    ),
  },
  gardens: {
    name: 'A feed your customers ask for',
    subject: 'A kelp feed for {{ company | default: "your garden centre" }}',
    preview: 'A first pallet on sale or return',
    format: 'layout',
    layout: SHIPPED_LAYOUTS[0]?.layout ?? null,
    body: letter(
      `Garden centres along the coast sell our milled kelp by the sack from March on. For {{ company | default: "you" }} we would put up a first pallet on sale or return.\n\nWhat is in it is [on our page](https://tidewaterkelp.example/milled-kelp). May I send you the price list?${sign}`,
    ),
  },
  orchards: {
    name: 'Soil results from the orchards',
    subject: 'What kelp did under {{ trees | default: "a few hundred" }} trees',
    body: letter(
      `Two seasons of soil samples from cider orchards are in, with and without kelp. They are [short and plain](https://tidewaterkelp.example/orchard-soil); I think {{ company | default: "you" }} would find them useful.\n\nShall I send them?${sign}`,
    ),
  },
  reminder: {
    name: 'A short reminder',
    subject: 'Re',
    body: letter(
      `Just in case this slipped down the pile: the offer of a trial stands, and [the results](https://tidewaterkelp.example/soil-results) are one press away.${sign}`,
    ),
  },
  last: {
    name: 'One last note',
    subject: 'Re',
    body: letter(
      `I will not write about this again. If kelp comes up in spring, we are at {{ sender_address }}.${sign}`,
    ),
  },
  pressing: {
    name: 'After the second pressing',
    subject: 'Pomace and kelp at {{ company }}',
    body: letter(
      `Pomace and kelp make a good compost together. Would {{ company }} have some to spare for a trial heap?${sign}`,
    ),
  },
} as const;
