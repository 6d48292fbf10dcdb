import { describe, expect, it } from 'vitest';
import { BLOCK_KINDS, newBlock, readLayout, SHIPPED_LAYOUTS, type Layout } from './layout';
import { layoutMjml, layoutText } from './layout-mjml';
import { letterDoc } from './letter-doc';
import { fieldsOf } from './content-fields';
import { EMPTY_CONTENT, fallBackInContent, readContent, renameInContent, type MessageContent } from './message-content';
import { PLAIN_THEME } from './theme';

const letter = letterDoc(
  'Hello {{ given_name | default: "there" }},\n\nkelp & more [here](https://kelp.example/?a={{ a }})',
);

describe('readLayout', () => {
  it('has the message’s own text exactly once, and an id for each block', () => {
    const twice = readLayout({
      blocks: [{ kind: 'letter' }, { kind: 'letter' }, { kind: 'divider', id: 'd' }, { kind: 'divider', id: 'd' }],
    });
    expect(twice.blocks.map((b) => b.kind)).toEqual(['letter', 'divider', 'divider']);
    expect(new Set(twice.blocks.map((b) => b.id)).size).toBe(3);
    expect(readLayout({ blocks: [] }).blocks.map((b) => b.kind)).toEqual(['letter']);
    const beside = readLayout({ blocks: [{ kind: 'columns', left: [{ kind: 'letter' }], right: [] }] });
    expect(beside.blocks).toHaveLength(1);
  });

  it('takes nothing that it does not know or that is out of bounds', () => {
    const read = readLayout({
      theme: { ground: 'red;x', width: 9000, font: 'constructor', ink: '#ABCDEF' },
      blocks: [
        { kind: 'script' },
        { kind: 'space', height: 1e9 },
        { kind: 'columns', left: [{ kind: 'columns' }], right: 'x' },
      ],
    });
    expect(read.theme).toEqual({ ...PLAIN_THEME, ink: '#abcdef' });
    expect(read.blocks).toMatchObject([
      { kind: 'space', height: 200 },
      { kind: 'columns', left: [], right: [] },
      { kind: 'letter' },
    ]);
    expect(() => readLayout('x')).toThrow('needs its blocks');
  });

  it('reads what ships and what is made new as it is', () => {
    for (const { layout } of SHIPPED_LAYOUTS) expect(readLayout(layout)).toEqual(layout);
    const blocks = BLOCK_KINDS.flatMap((kind, i) => (kind === 'letter' ? [] : [newBlock(kind, `b${i}`)]));
    expect(readLayout({ theme: PLAIN_THEME, blocks }).blocks.slice(0, -1)).toEqual(blocks);
  });
});

describe('layoutMjml', () => {
  it('carries Liquid, links and texts past MJML untouched', () => {
    const layout: Layout = {
      theme: PLAIN_THEME,
      blocks: [
        { id: 'l', kind: 'letter' },
        {
          id: 'b',
          kind: 'button',
          text: 'For {{ company | default: "you" }}',
          href: 'https://kelp.example/?c={{ company }}&d=1',
        },
      ],
    };
    const { mjml, restore } = layoutMjml(layout, letter, 'Preview {{ a }}');
    expect(mjml).not.toMatch(/\{\{|kelp/);
    const whole = restore(mjml);
    expect(whole).toContain('Hello {{ given_name | default: "there" }},');
    expect(whole).toContain('href="https://kelp.example/?c={{ company | url_part }}&#38;d=1"');
    expect(whole).toContain('kelp &#38; more');
    expect(whole).toContain('<mj-preview>Preview {{ a }}</mj-preview>');
  });

  it('tells a layout in plain text', () => {
    const text = layoutText((SHIPPED_LAYOUTS[1] as (typeof SHIPPED_LAYOUTS)[0]).layout, letter);
    expect(text).toBe(
      '{{ sender_name }}\n\nHello {{ given_name | default: "there" }},\n\nkelp & more here: https://kelp.example/?a={{ a }}\n\nTell me more\n\n{{ postal_address }}\nRather not hear from us? Leave this list: {{ unsubscribe_link }}',
    );
  });
});

describe('a message’s content', () => {
  const content: MessageContent = readContent({
    ...EMPTY_CONTENT,
    subject: 'For {{ company }}',
    body: 'Dear {{ Company | upcase }},\n\n[site](https://x.example/{{ company }}) {% if company == "x" %}y{% endif %}',
    format: 'layout',
    layout: { blocks: [{ kind: 'heading', text: '{{ company | default: "you" }}' }] },
    attachments: [{ kind: 'named', name: '{{ company }}.pdf' }, { kind: 'asset', assetId: 2 }, { kind: 'x' }],
  });

  it('lists its fields wherever they stand', () => {
    expect(fieldsOf(content).map((f) => f.place)).toEqual(['subject', 'body', 'body', 'body', 'attachments']);
    expect(fieldsOf({ ...content, format: 'letter' })).toHaveLength(4);
  });

  it('follows a field to its new name everywhere', () => {
    const renamed = renameInContent(content, 'company', 'estate name');
    expect(fieldsOf(renamed).every((f) => f.key === 'estatename')).toBe(true);
    expect(JSON.stringify(renamed.body)).toContain('{% if estate_name ==');
    expect(renamed.layout?.blocks[0]).toMatchObject({ text: '{{ estate name | default: "you" }}' });
  });

  it('takes a fallback everywhere, or only where none is', () => {
    expect(fieldsOf(fallBackInContent(content, 'company', 'all', 'all')).map((f) => f.fallback)).toEqual(
      Array(5).fill('all'),
    );
    const gaps = fieldsOf(fallBackInContent(content, 'company', 'gap', 'missing')).map((f) => f.fallback);
    expect(gaps.filter((f) => f === 'you')).toHaveLength(1);
    expect(gaps.filter((f) => f === 'gap')).toHaveLength(4);
  });

  it('is read again as it was kept', () => {
    expect(readContent(JSON.parse(JSON.stringify(content)))).toEqual(content);
    expect(() => readContent({ subject: 'x'.repeat(2001), body: '' })).toThrow('at most 2000');
  });
});
