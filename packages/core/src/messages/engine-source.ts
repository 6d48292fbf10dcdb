import { fieldKey } from './field-name';
import { conditionPieces, fallbackIn, nameIn, splitFilters, tagName, tagParts } from './field-head';
import type { Tag } from './split-tags';

/** A field as a template names it. */
export interface NamedField {
  name: string;
  key: string;
}

/** A template as Liquid's engine reads it: names of columns, which may hold any sign, are replaced by words of its own. */
export interface EngineSource {
  text: string;
  /** The fields by their word. */
  fields: ReadonlyMap<string, NamedField>;
  /** Where a place of {@link text} is in the template. */
  placeOf(offset: number): number;
}

/** Begins each word for a field: a letter that no name begins with. */
const MARK = '\ua7fb';
/** Notes a blank value that has no fallback. */
export const NOTE_BLANK = 'note_blank';
/** Lets a value be compared as numbers are, see {@link LIKE_NUMBERS}. */
export const COMPARED = 'compared';

/**
 * Writes names of columns as words that Liquid takes, wherever a field may stand: in outputs and in conditions.
 *
 * @param tags of the source, see {@link findTags}
 */
export function engineSource(source: string, tags: readonly Tag[]): EngineSource {
  const out = new Rewriting(source);
  for (let i = 0; i < tags.length; i++) {
    const { start, end, isOutput } = tags[i]!;
    const { open, inner, close } = tagParts(source.slice(start, end));
    if (isOutput) {
      const { head, filters } = splitFilters(inner);
      const name = out.fieldIn(head);
      if (name === null) continue;
      const note = fallbackIn(filters) === null ? ` | ${NOTE_BLANK}: "${name.replaceAll('_', ' ')}"` : '';
      out.put(start, end, `${open} ${out.wordFor(name)}${note} ${filters}${close}`);
      continue;
    }
    const { name: tag, rest } = tagName(inner);
    if (tag === 'raw' || tag === 'comment') {
      // What is inside is no template.
      while (i + 1 < tags.length && !isEnd(source, tags[i + 1]!, tag)) i++;
    } else if (tag === 'if' || tag === 'elsif' || tag === 'unless') {
      if (rest.includes('|')) continue;
      const written = conditionPieces(rest).map(({ text, name }) =>
        name !== null && out.fieldIn(name) !== null ? out.wordFor(name) : text,
      );
      out.put(start, end, `${open} ${tag} ${written.join('')}${close}`);
    } else if (tag === 'case') {
      const { head, filters } = splitFilters(rest);
      const name = out.fieldIn(head);
      if (name !== null) out.put(start, end, `${open} case ${out.wordFor(name)} | ${COMPARED} ${filters}${close}`);
    }
  }
  return out.end();
}

const isEnd = (source: string, { start, end }: { start: number; end: number }, tag: string): boolean =>
  tagName(tagParts(source.slice(start, end)).inner).name === `end${tag}`;

/** What a template names itself. */
const OWN = /\{%-?\s*(?:assign|capture|increment|decrement|for|tablerow)\s+([\p{L}_][\p{L}\p{N}_-]*)/gu;

class Rewriting {
  private text = '';
  private at = 0;
  /** Places that correspond: in the text made, and in the source. */
  private readonly places: { made: number; source: number }[] = [{ made: 0, source: 0 }];
  private readonly fields = new Map<string, NamedField>();
  private readonly words = new Map<string, string>();
  private readonly own: ReadonlySet<string>;

  constructor(private readonly source: string) {
    const own = source.includes('{%') ? [...source.matchAll(OWN)].map((m) => m[1] as string) : [];
    this.own = new Set([...own, 'forloop', 'tablerowloop']);
  }

  /** The field that an expression is the name of; null for what the template names itself, and for other expressions. */
  fieldIn(expression: string): string | null {
    const name = nameIn(expression);
    return name === null || this.own.has(name) ? null : name;
  }

  wordFor(name: string): string {
    let word = this.words.get(name);
    if (word === undefined) {
      word = `${MARK}${this.words.size}`;
      this.words.set(name, word);
      this.fields.set(word, { name, key: fieldKey(name) });
    }
    return word;
  }

  put(start: number, end: number, written: string): void {
    this.text += this.source.slice(this.at, start);
    this.places.push({ made: this.text.length, source: start });
    this.text += written;
    this.at = end;
    this.places.push({ made: this.text.length, source: end });
  }

  end(): EngineSource {
    this.text += this.source.slice(this.at);
    const { text, fields, places, source } = this;
    return {
      text,
      fields,
      placeOf: (offset) => {
        const last = places.findLastIndex(({ made }) => made <= offset);
        const { made, source: from } = places[last]!;
        return Math.min(from + offset - made, places[last + 1]?.source ?? source.length);
      },
    };
  }
}
