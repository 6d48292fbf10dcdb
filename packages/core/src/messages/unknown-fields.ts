import { isUsualKey, otherNames, usualKey } from '../people/import/columns/column-roles';
import { askedIn, fieldsOf } from './content-fields';
import { fieldKey } from './field-name';
import type { MessageContent, Place } from './message-content';
import { MESSAGE_FIELDS } from './message-values';
import { nearestName } from './nearest-name';

interface Named {
  key: string;
  name: string;
}

/** A field that a message uses and that is no column of a list. */
export interface UnknownField {
  /** As it is called. */
  field: string;
  key: string;
  /** Where it is used first. */
  place: Place;
  /** The column that may have been meant; null where none is near. */
  meant: string | null;
  /**
   * What becomes of a message without it. `left_out`: it cannot be made; `fallback`: it has other words, or none because a
   * condition guards it; `asked`: it is nowhere put in, but a condition or a fallback asks for it and finds it blank.
   */
  without: 'left_out' | 'fallback' | 'asked';
}

/**
 * The field that a name which is none was probably meant to be; null where none is near, and where it is the usual name of
 * something that the list does not have.
 *
 * @param columns the list's, by their keys
 * @param own what Baton fills in itself
 */
export function fieldMeant(key: string, columns: readonly Named[], own: readonly Named[] = []): string | null {
  return isUsualKey(key) ? null : (nearestName(key, [...columns, ...otherNames(columns), ...own])?.name ?? null);
}

/** The fields of a message that are no columns of a list and that Baton does not fill in itself, each once. @param columns the list's */
export function unknownFields(content: MessageContent, columns: readonly Named[]): UnknownField[] {
  const own = MESSAGE_FIELDS.map((f) => ({ key: fieldKey(f.name), name: f.name }));
  const keys = new Set([...columns, ...otherNames(columns), ...own].map((k) => k.key));
  const isUnknown = ({ key }: { key: string }) => !keys.has(key) && !keys.has(usualKey(key));
  const told = ({ name, key, place }: { name: string; key: string; place: Place }) => ({
    field: name.replaceAll('_', ' '),
    key,
    place,
    meant: fieldMeant(key, columns, own),
  });
  const put = new Map<string, UnknownField>();
  for (const use of fieldsOf(content).filter(isUnknown)) {
    const without = use.fallback === null && !use.guarded ? 'left_out' : 'fallback';
    const before = put.get(use.key);
    if (!before) put.set(use.key, { ...told(use), without });
    else if (without === 'left_out') before.without = without;
  }
  const asked = askedIn(content).filter(isUnknown);
  return [...put.values(), ...asked.map((use): UnknownField => ({ ...told(use), without: 'asked' }))];
}
