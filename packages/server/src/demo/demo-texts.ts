const sign = '\n\n{{ signature }}\n\nRather not hear from us? [Leave this list]({{ unsubscribe_link }})';

/** The messages of Tidewater Kelp Works. */
export const TEXTS = {
  vines: {
    name: 'Kelp for your vines?',
    subject: 'Kelp for {{ company | default: "your vines" }}?',
    body: `Hello {{ given_name | default: "there" }},\n\nWe dry and mill kelp from the bay, and growers nearby use it as a spring feed. With {{ surface | default: "a few" }} hectares at {{ company | default: "your vineyard" }}, one pallet would do a trial on two rows.\n\nShall I send you the soil results from last year, or a sack to try?${sign}`,
  },
  gardens: {
    name: 'A feed your customers ask for',
    subject: 'A kelp feed for {{ company | default: "your garden centre" }}',
    body: `Hello {{ given_name | default: "there" }},\n\nGarden centres along the coast sell our milled kelp by the sack from March on. For {{ company | default: "you" }} we would put up a first pallet on sale or return.\n\nMay I send you the price list?${sign}`,
  },
  orchards: {
    name: 'Soil results from the orchards',
    subject: 'What kelp did under {{ trees | default: "a few hundred" }} trees',
    body: `Hello {{ given_name | default: "there" }},\n\nTwo seasons of soil samples from cider orchards are in, with and without kelp. They are short and plain; I think {{ company | default: "you" }} would find them useful.\n\nShall I send them?${sign}`,
  },
  reminder: {
    name: 'A short reminder',
    subject: 'Re',
    body: `Hello {{ given_name | default: "there" }},\n\nJust in case this slipped down the pile: the offer of a trial stands, and the results are one answer away.${sign}`,
  },
  last: {
    name: 'One last note',
    subject: 'Re',
    body: `Hello {{ given_name | default: "there" }},\n\nI will not write about this again. If kelp comes up in spring, we are at {{ sender_address }}.${sign}`,
  },
  pressing: {
    name: 'After the second pressing',
    subject: 'Pomace and kelp at {{ company }}',
    body: `Hello {{ given_name | default: "there" }},\n\nPomace and kelp make a good compost together. Would {{ company }} have some to spare for a trial heap?${sign}`,
  },
} as const;
