import { inShort } from './in-short';
import { ownWords } from './own-words';

/**
 * The first line of what a person wrote themselves, for a place with room for one line; of all there is, where they only quote.
 *
 * @param text the readable text of a message
 * @param most characters; a longer line ends in …
 */
export function firstWords(text: string, most: number): string {
  const lines = (ownWords(text) || text).split('\n');
  return inShort(lines.find((line) => line.trim() !== '') ?? '', most);
}
