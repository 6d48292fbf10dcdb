import { contrast, LEAST_CONTRAST } from './contrast';
import type { LayoutBlock, SimpleBlock } from './layout';
import type { CheckKind, MessageCheck } from './message-check';
import type { MessageContent } from './message-content';
import { linkRuns, type Inline, type RichBlock, type RichDoc } from './rich-doc';
import { hrefSource, imageSource } from './rich-html';
import { proseOf } from './split-tags';
import { PLAIN_THEME } from './theme';

/** Looks through links and pictures, wherever they stand. */
export function lookThrough(content: MessageContent): Form {
  const form = new Form();
  form.doc(content.body, 'body');
  if (content.format === 'layout') for (const block of content.layout?.blocks ?? []) form.block(block);
  return form;
}

/** Where the links of a message lead, as they are written. */
export const linksOf = (content: MessageContent): string[] => lookThrough(content).hrefs;

class Form {
  readonly checks: MessageCheck[] = [];
  readonly hrefs: string[] = [];
  /** Colours that pieces of the text have. */
  readonly colours = new Set<string>();
  pictures = 0;
  /** Links to pages. */
  links = 0;

  doc(doc: RichDoc, place: 'body' | 'layout'): void {
    this.blocks(doc.content, place);
  }

  block(block: LayoutBlock): void {
    if (block.kind === 'columns') for (const b of [...block.left, ...block.right]) this.simple(b);
    else this.simple(block);
  }

  private simple(block: SimpleBlock): void {
    if (block.kind === 'text' || block.kind === 'footer') this.doc(block.doc, 'layout');
    if (block.kind === 'button') this.link(block.href, block.text, 'layout');
    if (block.kind === 'picture') this.picture(block.src, block.alt, 'layout');
    if (block.kind === 'header' && block.picture !== '') this.picture(block.picture, block.alt || block.text, 'layout');
    if ((block.kind === 'picture' || block.kind === 'header') && block.href !== '')
      this.link(block.href, block.kind, 'layout');
  }

  private blocks(blocks: readonly RichBlock[], place: 'body' | 'layout'): void {
    for (const block of blocks) {
      if (block.type === 'paragraph' || block.type === 'heading') this.inlines(block.content ?? [], place);
      else if (block.type === 'image') this.picture(block.attrs.src, block.attrs.alt, place);
      else for (const inner of block.content) this.blocks(inner.type === 'listItem' ? inner.content : [inner], place);
    }
  }

  private inlines(content: readonly Inline[], place: 'body' | 'layout'): void {
    for (const node of content)
      for (const mark of 'marks' in node ? (node.marks ?? []) : [])
        if (mark.type === 'colour') this.colours.add(mark.attrs.colour);
    for (const { href, nodes } of linkRuns(content)) {
      const [first] = nodes;
      if (href !== null) this.link(href, first?.type === 'text' ? first.text : '', place);
    }
  }

  private link(href: string, label: string, place: 'body' | 'layout'): void {
    const near = label.trim();
    this.hrefs.push(href.trim());
    if (href.trim() === '') this.add('dead_link', 'stop', place, `“${near}” leads nowhere yet.`, near);
    else if (hrefSource(href) === null)
      this.add('dead_link', 'stop', place, `“${near || href}” leads to “${href}”, where a message cannot lead.`, near);
    else if (/^https?:\/\/\S{40,}$/.test(near))
      this.add('bare_link', 'look', place, 'A long address stands bare in the text; give the link a name.', near);
    if (/^https?:/i.test(href.trim())) this.host(href.trim(), near, place);
  }

  /** Where a link leads, which filters compare with what it says and know as a mark of fraud where it is hidden. */
  private host(href: string, label: string, place: 'body' | 'layout'): void {
    this.links++;
    const host = hostOf(href);
    if (host === null) return;
    const shown = /^(?:https?:\/\/)?((?:[\p{L}\d-]+\.)+\p{L}{2,})(?:[/?#:]|$)/iu.exec(label)?.[1];
    if (shown !== undefined && !isSameSite(shown.toLowerCase(), host.name))
      this.add('link_elsewhere', 'look', place, `The link says ${shown} and leads to ${host.name}.`, label);
    if (host.odd !== null)
      this.add('odd_host', 'look', place, `The link leads to ${host.name}, ${host.odd}; filters distrust that.`, label);
  }

  private picture(src: string, alt: string, place: 'body' | 'layout'): void {
    this.pictures++;
    if (imageSource(src) === null)
      this.add(
        'picture_without_source',
        'stop',
        place,
        `The picture “${alt || 'without text'}” has no file or address.`,
      );
    else if (alt.trim() === '')
      this.add('picture_without_text', 'look', place, 'A picture has no text for those who do not see it.');
  }

  private add(kind: CheckKind, level: 'stop' | 'look', place: 'body' | 'layout', words: string, near = ''): void {
    this.checks.push({ kind, level, place, words, ...(near === '' ? {} : { near }) });
  }
}

interface Host {
  name: string;
  /** What is odd about it, as it goes on behind its name; null for nothing. */
  odd: string | null;
}

/** The host of an address (RFC 3986, 3.2); null where a value makes it. */
function hostOf(href: string): Host | null {
  const [, authority = ''] = /^https?:\/\/([^/?#]*)/i.exec(href) ?? [];
  const m = /^(?:[^@]*@)?(\[[^\]]*\]|[^:]*)(?::(\d+))?$/.exec(authority);
  const name = (m?.[1] ?? '').toLowerCase().replace(/\.$/, '');
  if (name === '' || /[{}]/.test(authority)) return null;
  let odd: string | null = null;
  if (/^(?:[\d.]+|\[.*\]|0x[\da-f.]+)$/.test(name)) odd = 'an address of figures';
  else if (authority.includes('@')) odd = 'with a name before it that looks like another site';
  else if (m?.[2] !== undefined && m[2] !== '80' && m[2] !== '443') odd = `at the port ${m[2]}`;
  else if (name.split('.').some((label) => /[a-z]/.test(label) && /[\p{Script=Cyrillic}\p{Script=Greek}]/u.test(label)))
    odd = 'whose letters are of two scripts';
  return { name, odd };
}

/** Whether two hosts are one site: the same, or one a part of the other. */
const isSameSite = (a: string, b: string): boolean => a === b || a.endsWith(`.${b}`) || b.endsWith(`.${a}`);

/** More links than this for each hundred words look like an advertisement; a few are always fine. */
const MOST_LINKS = 10;

/** What filters say of the number of links. @param text the plain part */
export function checkLinks(links: number, text: string): MessageCheck[] {
  const words =
    proseOf(text)
      .replace(/https?:\S+/g, '')
      .match(/\p{L}+/gu)?.length ?? 0;
  if (links <= MOST_LINKS || links * 100 <= MOST_LINKS * words) return [];
  const said = `There are ${links} links to ${words.toLocaleString('en')} words; filters take so many for an advertisement.`;
  return [{ kind: 'many_links', level: 'look', place: 'body', words: said }];
}

/** What cannot be read well on the sheet of the message. */
export function checkColours({ format, layout }: MessageContent, used: ReadonlySet<string>): MessageCheck[] {
  const { sheet, ink, accent } = format === 'layout' && layout ? layout.theme : PLAIN_THEME;
  const pairs: [what: string, colour: string][] = [
    ['The text', ink],
    ['Links', accent],
    ...[...used].map((colour): [string, string] => [`Text in ${colour}`, colour]),
  ];
  return pairs.flatMap(([what, colour]): MessageCheck[] => {
    const found = contrast(colour, sheet);
    if (found >= LEAST_CONTRAST) return [];
    const words = `${what} can hardly be read: the contrast of ${colour} on ${sheet} is ${found.toFixed(1)}, and ${LEAST_CONTRAST} is the least.`;
    return [{ kind: 'low_contrast', level: 'look', place: format === 'layout' ? 'layout' : 'body', words }];
  });
}
