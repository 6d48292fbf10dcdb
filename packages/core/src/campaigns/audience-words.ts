import { listed } from '../listed';

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
