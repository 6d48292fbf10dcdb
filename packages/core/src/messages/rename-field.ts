import { usualKey } from '../people/import/columns/column-roles';
import { fieldKey } from './field-name';
import { conditionPieces } from './condition';
import { otherFallbackIn, outputNameIn, splitFilters, tagName, tagParts } from './field-head';
import { fieldWord } from './field-tag';
import { isTag, splitTags } from './split-tags';

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
  const word = newName.trim().replace(/[^\p{L}\p{N}]+/gu, '_');
  const inExpression = (text: string) =>
    text.replace(PIECE, (piece, quoted?: string, before?: string, name?: string) =>
      quoted !== undefined || before !== undefined || name === undefined || !isIt(name) ? piece : word,
    );
  const renamed = (tag: string): string => {
    const { open, inner, close } = tagParts(tag);
    if (open.startsWith('{{')) {
      const { head, filters } = splitFilters(inner);
      const name = outputNameIn(head);
      const named = name !== null && isIt(name) ? head.replace(name, () => fieldWord(newName)) : inExpression(head);
      const other = otherFallbackIn(filters);
      const written = other && isIt(other.name) ? other.with(fieldWord(newName)) : inExpression(filters);
      return open + named + written + close;
    }
    const { name, rest } = tagName(inner);
    if (!CONDITIONS.has(name)) return open + inExpression(inner) + close;
    const pieces = conditionPieces(rest).map((p) => (p.name !== null && isIt(p.name) ? word : p.text));
    return `${open}${inner.slice(0, inner.length - rest.length)}${pieces.join('')}${close}`;
  };
  return splitTags(source)
    .map((piece) => (isTag(piece) ? renamed(piece) : piece))
    .join('');
}

const CONDITIONS: ReadonlySet<string> = new Set(['if', 'elsif', 'unless']);
