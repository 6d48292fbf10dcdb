import { ownNames } from './engine-source';
import { liquidTexts, type MessageContent, type Place } from './message-content';
import { followingText } from './message-source';
import { askedFields, listFields, type FieldUse } from './template';

/** The fields in use, by their places. */
export function fieldsOf(content: MessageContent): (FieldUse & { place: Place })[] {
  const uses = liquidTexts(content).flatMap(({ place, text }) => listFields(text).map((use) => ({ ...use, place })));
  // A condition may be in a different piece of the text from what it guards, so guards are searched for in the whole text.
  const whole = listFields(followingText(content));
  const guarded = new Set(whole.filter((u) => u.guarded).map((u) => u.key));
  for (const use of whole) if (!use.guarded) guarded.delete(use.key);
  // What is named in one piece may be used in another.
  const own = ownNames(followingText(content));
  return uses
    .filter(({ name }) => !own.has(name))
    .map((use) => (use.place === 'body' && guarded.has(use.key) ? { ...use, guarded: true } : use));
}

/** The fields that conditions and fallbacks ask of, and that are nowhere put in; each once, at its first place. */
export function askedIn(content: MessageContent): { name: string; key: string; place: Place }[] {
  const put = new Set(fieldsOf(content).map((use) => use.key));
  const own = ownNames(followingText(content));
  const asked = new Map<string, { name: string; key: string; place: Place }>();
  for (const { place, text } of liquidTexts(content))
    for (const field of askedFields(text))
      if (!put.has(field.key) && !own.has(field.name) && !asked.has(field.key))
        asked.set(field.key, { ...field, place });
  return [...asked.values()];
}
