import {
  compileMessage,
  messageMjml,
  messageSource,
  readContent,
  usesLine,
  type CompiledMessage,
  type LayoutMjml,
  type MessageContent,
} from '@baton/core';

/** Messages kept at once: as many as campaigns that run together may have. */
const MOST_KEPT = 500;

interface Kept {
  compiled: Promise<CompiledMessage>;
  usesLine: boolean;
}

/** Compiled messages by what they say, so that a campaign's text is parsed, and its layout set, once. */
export class CompiledMessages {
  private readonly known = new Map<string, Kept>();

  /** @throws DomainError `template_invalid` */
  get(content: MessageContent): Promise<CompiledMessage> {
    return this.kept(content).compiled;
  }

  /** Whether it has a place for personal lines. */
  usesLine(content: MessageContent): boolean {
    return this.kept(content).usesLine;
  }

  private kept(content: MessageContent): Kept {
    const key = JSON.stringify(content);
    let kept = this.known.get(key);
    if (!kept) {
      const compiled = compileContent(content);
      kept = { compiled, usesLine: usesLine(content) };
      if (this.known.size > MOST_KEPT) this.known.clear();
      this.known.set(key, kept);
      compiled.catch(() => this.known.delete(key));
    }
    return kept;
  }
}

/** A message ready for many recipients. @throws DomainError `template_invalid` */
export async function compileContent(given: MessageContent): Promise<CompiledMessage> {
  const content = readContent(given);
  const layout = messageMjml(content);
  return compileMessage(messageSource(content, layout && (await setLayout(layout))));
}

/** The page that a layout makes, with Liquid in it. */
export async function setLayout({ mjml, restore }: LayoutMjml): Promise<string> {
  // Loaded when the first layout is set: it takes a second, which no start should.
  const { default: mjml2html } = await import('mjml');
  // No fonts: what a message is read with is on the reader's machine.
  const { html } = await mjml2html(mjml, { fonts: {}, keepComments: false, validationLevel: 'soft' });
  return restore(html);
}
