import { tagName, tagParts } from './field-head';
import { liveTags } from './live-tags';
import { findTags } from './split-tags';

/** A text, a filter's name, or a variable with its parts; a word before a colon names an argument. */
const PIECE =
  /"[^"]*"|'[^']*'|\|\s*[\p{L}_][\p{L}\p{N}_-]*|([\p{L}_][\p{L}\p{N}_-]*)((?:\.[\p{L}_][\p{L}\p{N}_-]*|\[[^\][]*\])*)(?!\s*:)/gu;
const PART = /\.([\p{L}_][\p{L}\p{N}_-]*)|\[\s*["']?([^\][]*?)["']?\s*\]/gu;
/** Words of Liquid that stand where variables do. */
const WORDS: ReadonlySet<string> = new Set(
  'and or not contains in true false nil null empty blank reversed limit offset cols with as'.split(' '),
);

/**
 * The variables that a template of Liquid's engine uses, its own among them, each once with its parts: `['a']`, `['a', 'b']`. In time linear in the text; the engine's own analysis looks for the line of each from the beginning.
 */
export function usedNames(source: string): string[][] {
  const found = new Map<string, string[]>();
  for (const { start, end, isOutput } of liveTags(source, findTags(source))) {
    const { inner } = tagParts(source.slice(start, end));
    for (const [, name, parts = ''] of (isOutput ? inner : tagName(inner).rest).matchAll(PIECE)) {
      if (name === undefined || WORDS.has(name) || found.has(name + parts)) continue;
      found.set(name + parts, [name, ...[...parts.matchAll(PART)].map((m) => m[1] ?? m[2] ?? '')]);
    }
  }
  return [...found.values()];
}
