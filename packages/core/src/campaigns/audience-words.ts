import { listed } from '../listed';

/** A list, or the part of it in which people have something in common: `Orchards where region is north`. */
export const partWords = (list: string, inCommon: string | null): string =>
  inCommon === null ? list : `${list} where ${inCommon}`;

/**
 * Whom a campaign is for.
 *
 * @param parts lists, or parts of lists, whose people it is for; [] for none yet
 * @param except those whose people it leaves out
 */
export function audienceWords(parts: readonly string[], except: readonly string[]): string {
  const people = parts.length === 0 ? 'nobody' : listed(parts);
  return except.length === 0 ? people : `${people}, without those of ${listed(except)}`;
}
