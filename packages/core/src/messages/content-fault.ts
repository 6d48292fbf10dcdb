import { liquidTexts, type MessageContent, type Place } from './message-content';
import { followingText } from './message-source';
import { findFault, type TemplateFault } from './template';

/** Where a message does not parse. Of the body, line and column count in its unformatted text. */
export interface ContentFault extends TemplateFault {
  place: Place;
  /** The text at that place. */
  near: string;
}

/** Says where a message does not parse, or null when it does. Until it does, nothing of it is sent. */
export function contentFault(content: MessageContent): ContentFault | null {
  const texts = liquidTexts(content).filter((t) => t.place !== 'body');
  // A condition may begin in one paragraph and end in another, so the body is read as one.
  for (const { place, text } of [...texts, { place: 'body' as const, text: followingText(content) }]) {
    const fault = findFault(text);
    if (fault) return { place, ...fault, near: text.slice(fault.offset, fault.offset + 40).split('\n')[0] as string };
  }
  return null;
}
