import { luminance } from './contrast';
import type { Layout, LayoutBlock, SimpleBlock } from './layout';
import type { RichDoc } from './rich-doc';
import { attributeText, escapedText, hrefSource, imageSource, richHtml } from './rich-html';
import { richText, type AddressText } from './rich-text';
import { FONTS, type Theme } from './theme';

/** A layout as MJML, and what puts back into its HTML what MJML must not touch. */
export interface LayoutMjml {
  mjml: string;
  restore(html: string): string;
}

/**
 * A layout with the message's text in it as MJML, the markup language for mail layouts. Liquid and attributes are
 * kept out of it behind marks and put back into the HTML that it makes.
 *
 * @param preview what lists of messages show beside the subject, as Liquid; '' for none
 */
export function layoutMjml({ theme, blocks }: Layout, letter: RichDoc, preview: string): LayoutMjml {
  const kept = new Kept();
  const set = new Setting(theme, letter, kept);
  const head = [
    preview === '' ? '' : `<mj-preview>${kept.keep(escapedText(preview))}</mj-preview>`,
    `<mj-attributes><mj-all font-family="${FONTS[theme.font]}" /><mj-text font-size="${theme.size}px" line-height="1.5" color="${theme.ink}" padding="0" /></mj-attributes>`,
  ].join('');
  const body = blocks.map((b) => set.section(b)).join('\n');
  return {
    mjml: `<mjml><mj-head>${head}</mj-head><mj-body background-color="${theme.ground}" width="${theme.width}px"><mj-wrapper background-color="${theme.sheet}" padding="24px 0 8px">${body}</mj-wrapper></mj-body></mjml>`,
    restore: (html) => kept.restore(html),
  };
}

/** Pieces that MJML carries as marks. */
class Kept {
  private readonly pieces: string[] = [];

  keep(piece: string): string {
    return `KEPT${this.pieces.push(piece) - 1}TPEK`;
  }

  restore(html: string): string {
    return html.replace(/KEPT(\d+)TPEK/g, (_, n: string) => this.pieces[Number(n)] ?? '');
  }
}

class Setting {
  constructor(
    private readonly theme: Theme,
    private readonly letter: RichDoc,
    private readonly kept: Kept,
  ) {}

  section(block: LayoutBlock): string {
    if (block.kind !== 'columns')
      return `<mj-section padding="0 28px"><mj-column>${this.block(block)}</mj-column></mj-section>`;
    const side = (blocks: SimpleBlock[]) =>
      `<mj-column padding="0 8px">${blocks.map((b) => this.block(b)).join('')}</mj-column>`;
    return `<mj-section padding="0 20px">${side(block.left)}${side(block.right)}</mj-section>`;
  }

  private block(block: SimpleBlock): string {
    const { ink, accent, size } = this.theme;
    switch (block.kind) {
      case 'letter':
        return this.text(richHtml(this.letter, this.theme));
      case 'text':
        return this.text(richHtml(block.doc, this.theme));
      case 'footer':
        return this.text(
          richHtml(block.doc, this.theme),
          `font-size="${size - 2}px" color="${blend(ink, this.theme.sheet)}"`,
        );
      case 'heading':
        return this.text(
          escapedText(block.text),
          `font-size="${block.size === 'large' ? size + 9 : size + 3}px" font-weight="bold" line-height="1.25" padding="4px 0 12px"`,
        );
      case 'header':
        return block.picture.trim() === ''
          ? this.text(
              this.linked(escapedText(block.text), block.href),
              `font-size="${size + 3}px" font-weight="bold" padding="0 0 16px"`,
            )
          : this.image(block.picture, block.alt || block.text, block.href, 160, 'left');
      case 'picture':
        return this.image(block.src, block.alt, block.href, block.width, 'center');
      case 'button': {
        const href = hrefSource(block.href);
        const to = href === null ? '' : ` href="${this.kept.keep(href)}"`;
        return `<mj-button background-color="${accent}" color="${onColour(accent)}" font-size="${size}px" font-weight="bold" border-radius="0" inner-padding="12px 24px" align="left" padding="4px 0 20px"${to}>${this.kept.keep(escapedText(block.text))}</mj-button>`;
      }
      case 'divider':
        return `<mj-divider border-width="1px" border-color="${blend(ink, this.theme.sheet, 0.8)}" padding="4px 0 20px" />`;
      case 'space':
        return `<mj-spacer height="${block.height}px" />`;
    }
  }

  private text(html: string, attributes = ''): string {
    return `<mj-text ${attributes}>${this.kept.keep(html)}</mj-text>`;
  }

  private linked(html: string, href: string): string {
    const to = hrefSource(href);
    return to === null ? html : `<a href="${to}" style="color:inherit;text-decoration:none">${html}</a>`;
  }

  private image(src: string, alt: string, href: string, width: number | null, align: string): string {
    const source = imageSource(src);
    if (source === null) return '';
    const to = hrefSource(href);
    const link = to === null ? '' : ` href="${this.kept.keep(to)}"`;
    const wide = width === null ? '' : ` width="${width}px"`;
    return `<mj-image src="${this.kept.keep(source)}" alt="${this.kept.keep(attributeText(alt))}"${link}${wide} align="${align}" padding="0 0 16px" />`;
  }
}

/** A layout without formatting, as Liquid. @param address see {@link richText} */
export function layoutText({ blocks }: Layout, letter: RichDoc, address: AddressText = (href) => href.trim()): string {
  const textOf = (block: LayoutBlock): string => {
    switch (block.kind) {
      case 'letter':
        return richText(letter, address);
      case 'text':
      case 'footer':
        return richText(block.doc, address);
      case 'heading':
        return block.text;
      case 'header':
        return block.picture.trim() === '' ? block.text : block.alt.trim() || block.text;
      case 'picture':
        return block.alt.trim() === '' ? '' : `[${block.alt.trim()}]`;
      case 'button':
        return hrefSource(block.href) === null ? block.text : `${block.text}: ${address(block.href)}`;
      case 'columns':
        return [...block.left, ...block.right]
          .map(textOf)
          .filter((t) => t.trim() !== '')
          .join('\n\n');
      case 'divider':
        return '---';
      case 'space':
        return '';
    }
  };
  return blocks
    .map(textOf)
    .filter((t) => t.trim() !== '')
    .join('\n\n');
}

const parts = (colour: string): number[] => [1, 3, 5].map((i) => parseInt(colour.slice(i, i + 2), 16));
const hex = (rgb: number[]): string => `#${rgb.map((c) => Math.round(c).toString(16).padStart(2, '0')).join('')}`;

/** A colour between two. @param share of the second */
function blend(one: string, other: string, share = 0.35): string {
  const [a, b] = [parts(one), parts(other)];
  return hex(a.map((c, i) => c * (1 - share) + (b[i] as number) * share));
}

/** Black or white, whichever can be read on a colour. */
const onColour = (colour: string): string => (luminance(colour) > 0.2 ? '#000000' : '#ffffff');
