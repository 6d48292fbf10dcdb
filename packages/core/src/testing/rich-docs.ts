import fc from 'fast-check';

const piece = fc.oneof(
  fc.string({ unit: 'grapheme', maxLength: 12 }),
  fc.constantFrom(
    ...['<script>', '</p>', '"', "'", '&amp;', '\r\nBcc: x@x.example', '\u202e', '\u0000', ']]>', '<!--', '-->'],
    ...['{{ company }}', '{{company|upcase}}', '{{', '}}', '{%', '%}', '{% if company %}', '{% endif %}', '{{ {{ }}'],
  ),
);
const text = fc.array(piece, { maxLength: 4 }).map((pieces) => pieces.join(''));
const address = fc.oneof(
  text,
  fc.constantFrom(
    ...[
      'https://tidewaterkelp.example/a?b=1&c',
      'javascript:alert(1)',
      'JaVaScript:x',
      'data:text/html,<b>',
      'vbscript:x',
    ],
    ...[
      '{{ company }}',
      'https://x.example/{{ company }}',
      'mailto:ines@tidewaterkelp.example',
      '//x.example',
      'asset:7',
    ],
  ),
);
const mark = fc.oneof(
  fc.record({ type: fc.constantFrom('bold', 'italic', 'underline', 'blink') }),
  fc.record({ type: fc.constant('link'), attrs: fc.record({ href: address }) }),
  fc.record({ type: fc.constant('colour'), attrs: fc.record({ colour: fc.oneof(text, fc.constant('#a33a28')) }) }),
);
const marks = fc.option(fc.array(mark, { maxLength: 3 }), { nil: undefined });
const inline = fc.oneof(
  fc.record({ type: fc.constant('text'), text, marks }),
  fc.record({
    type: fc.constant('field'),
    attrs: fc.record({ name: text, fallback: fc.option(text), filters: fc.constantFrom('', 'upcase', '| trim') }),
    marks,
  }),
  fc.record({ type: fc.constant('either'), attrs: fc.record({ field: text, filled: text, blank: text }), marks }),
  fc.constant({ type: 'hardBreak' }),
  fc.anything(),
);
const inlines = fc.array(inline, { maxLength: 5 });

const { block } = fc.letrec<{ block: unknown; blocks: unknown[] }>((tie) => ({
  blocks: fc.array(tie('block'), { maxLength: 3 }),
  block: fc.oneof(
    { maxDepth: 3, withCrossShrink: true },
    fc.record({ type: fc.constant('paragraph'), content: inlines }),
    fc.record({ type: fc.constant('heading'), attrs: fc.record({ level: fc.anything() }), content: inlines }),
    fc.record({ type: fc.constant('image'), attrs: fc.record({ src: address, alt: text, width: fc.anything() }) }),
    fc.record({ type: fc.constantFrom('blockquote', 'table'), content: tie('blocks') }),
    fc.record({
      type: fc.constantFrom('bulletList', 'orderedList'),
      content: fc.array(fc.record({ type: fc.constant('listItem'), content: tie('blocks') }), { maxLength: 3 }),
    }),
    fc.anything(),
  ),
}));

/** Texts as they might come from anywhere: what an editor makes, what another program makes, and what nobody would. */
export const anyRichDoc = fc.record({ type: fc.constant('doc'), content: fc.array(block, { maxLength: 4 }) });
