import { liquidTexts, type MessageContent, type Place } from './message-content';
import { followingText, messageMjml, messageSource } from './message-source';
import { findFault, type TemplateFault } from './template';

/** Where a message does not parse. Of the body, line and column count in its unformatted text. */
export interface ContentFault extends TemplateFault {
  place: Place;
  /** The text at that place. */
  near: string;
}

/** Says where a message does not parse, or null when it does. Until it does, nothing of it is sent. */
export function contentFault(content: MessageContent): ContentFault | null {
  const texts = liquidTexts(content).filter((t) => t.isWhole);
  // A condition may begin in one paragraph and end in another, so the body is read as one: as plain text, and as HTML.
  const body = [followingText(content), htmlOf(content)].map((text) => ({ place: 'body' as const, text }));
  for (const { place, text } of [...texts, ...body]) {
    const fault = findFault(text);
    if (fault) return { place, ...fault, near: text.slice(fault.offset, fault.offset + 40).split('\n')[0] as string };
  }
  return null;
}

/** The message's HTML, or of a layout what goes into it in the same order. */
function htmlOf(content: MessageContent): string {
  const layout = messageMjml(content);
  return layout ? layout.restore(layout.mjml) : messageSource(content, null).html;
}
