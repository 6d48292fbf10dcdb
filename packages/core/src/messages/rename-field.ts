import { usualKey } from '../people/import/columns/column-roles';
import { fieldKey } from './field-name';
import { fieldWord } from './field-tag';

/** An output or a tag of Liquid, quoted texts in it left whole. */
const TAG = /(\{\{-?|\{%-?)((?:"[^"]*"|'[^']*'|(?!\}\}|%\})[^"'])*?)(-?\}\}|-?%\})/gs;
/** A quoted text, or a word with the characters before it. */
const PIECE = /("[^"]*"|'[^']*')|([|.]\s*)?([\p{L}_][\p{L}\p{N}_-]*)/gu;

/**
 * Lets a template follow a field that gets another name: in outputs, conditions and filters' arguments; not in text,
 * quoted or outside.
 *
 * @param key of the old name
 */
export function renameField(source: string, key: string, newName: string): string {
  const isIt = (name: string) => fieldKey(name) === key || usualKey(fieldKey(name)) === key;
  const word = newName.trim().replace(/[^\p{L}\p{N}_]+/gu, '_');
  return source.replace(TAG, (_, open: string, inner: string, close: string) => {
    if (open.startsWith('{{')) {
      const head = /^\s*([^|"'[\].]*)/.exec(inner)?.[1] ?? '';
      if (isIt(head.trim())) return open + inner.replace(head.trim(), () => fieldWord(newName)) + close;
    }
    return (
      open +
      inner.replace(PIECE, (piece, quoted?: string, before?: string, name?: string) => {
        if (quoted !== undefined || before !== undefined || name === undefined || !isIt(name)) return piece;
        return word;
      }) +
      close
    );
  });
}
