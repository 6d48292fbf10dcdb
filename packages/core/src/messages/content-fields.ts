import { liquidTexts, type MessageContent, type Place } from './message-content';
import { followingText } from './message-source';
import { listFields, type FieldUse } from './template';

/** The fields in use, by their places. */
export function fieldsOf(content: MessageContent): (FieldUse & { place: Place })[] {
  const uses = liquidTexts(content).flatMap(({ place, text }) => listFields(text).map((use) => ({ ...use, place })));
  // A condition may be in a different piece of the text from what it guards, so guards are searched for in the whole text.
  const whole = listFields(followingText(content));
  const guarded = new Set(whole.filter((u) => u.guarded).map((u) => u.key));
  for (const use of whole) if (!use.guarded) guarded.delete(use.key);
  return uses.map((use) => (use.place === 'body' && guarded.has(use.key) ? { ...use, guarded: true } : use));
}
