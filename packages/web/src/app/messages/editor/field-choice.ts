import { fieldKey, nearestName, usualKey } from '@baton/core';

/** A field that can be put into a message. */
export interface FieldChoice {
  name: string;
  /** What it is for the person shown. */
  sample: string;
}

/** Choices that a beginning finds, those that begin with it first. */
export function matching(choices: readonly FieldChoice[], typed: string): FieldChoice[] {
  const wanted = fieldKey(typed);
  const keyed = choices.map((choice) => ({ choice, key: fieldKey(choice.name) }));
  return keyed
    .filter(({ key }) => key.includes(wanted))
    .sort((a, b) => Number(b.key.startsWith(wanted)) - Number(a.key.startsWith(wanted)))
    .map(({ choice }) => choice);
}

/** The choices nearest to a name that is none of them, the nearest first. @param most how many at most */
export function nearest(choices: readonly FieldChoice[], typed: string, most: number): FieldChoice[] {
  const keyed = choices.map((choice) => ({ choice, key: fieldKey(choice.name) }));
  const found: FieldChoice[] = [];
  for (let left = keyed; found.length < most; left = left.filter(({ choice }) => !found.includes(choice))) {
    const near = nearestName(fieldKey(typed), left);
    if (!near) break;
    found.push(near.choice);
  }
  return found;
}

/** Whether a field's name, in any spelling, is one of the choices; with none to choose from, all are. */
export function isKnown(choices: readonly FieldChoice[], name: string): boolean {
  const key = fieldKey(name);
  const keys = new Set(choices.map((c) => fieldKey(c.name)));
  return keys.size === 0 || keys.has(key) || keys.has(usualKey(key));
}
