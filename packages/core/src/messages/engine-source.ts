import { fieldKey } from './field-name';
import { asCompared, conditionFault, conditionPieces } from './condition';
import {
  fallbackIn,
  nameIn,
  otherFallbackIn,
  outputNameIn,
  splitFilters,
  straightQuotes,
  tagName,
  tagParts,
} from './field-head';
import { liveTags } from './live-tags';
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
  /** What is wrong with it that the engine would not say, and where in the template. */
  fault: { offset: number; message: string } | null;
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
  for (const { start, end, isOutput, from } of liveTags(source, tags)) {
    out.unclosedIn(from, start);
    const { open, inner, close } = tagParts(source.slice(start, end));
    if (isOutput) {
      const made = outputFor(out, inner);
      if (made !== null) out.put(start, end, `${open} ${made}${close}`);
      continue;
    }
    const { name: tag, rest } = tagName(inner);
    if (tag === 'if' || tag === 'elsif' || tag === 'unless') {
      if (rest.includes('|') && !rest.includes('||')) continue;
      const pieces = conditionPieces(straightQuotes(rest));
      const fault = conditionFault(pieces);
      if (fault !== null) out.fault(start, fault);
      const written = pieces.map(({ text, name }) =>
        name !== null && out.fieldIn(name) !== null ? out.wordFor(name) : asCompared(text),
      );
      out.put(start, end, `${open} ${tag} ${written.join('')}${close}`);
    } else if (tag === 'case') {
      const { head, filters } = splitFilters(rest);
      const name = out.fieldIn(head);
      if (name !== null) out.put(start, end, `${open} case ${out.wordFor(name)} | ${COMPARED} ${filters}${close}`);
    } else if (tag === 'when') {
      if (rest.trim() === '') out.fault(start, 'nothing stands behind “when”');
      else out.put(start, end, `${open} ${straightQuotes(`when${rest}`)}${close}`);
    }
  }
  out.unclosedIn(tags.at(-1)?.end ?? 0, source.length);
  return out.end();
}

/** What is written for an output; null where it stays as it is. */
function outputFor(out: Rewriting, inner: string): string | null {
  const { head, filters } = splitFilters(inner);
  const name = out.fieldIn(head, outputNameIn);
  const other = otherFallbackIn(filters);
  const written = other && out.fieldIn(other.name) !== null ? other.with(out.wordFor(other.name)) : filters;
  if (name === null) return written === filters && !/[“„«]/.test(inner) ? null : `${head}${written}`;
  const note = fallbackIn(filters) === null ? ` | ${NOTE_BLANK}: "${name.replaceAll('_', ' ')}"` : '';
  // Where another column may take its place, it is only blank when both are.
  return other ? `${out.wordFor(name)} ${written}${note}` : `${out.wordFor(name)}${note} ${written}`;
}

/** What a template names itself. */
const OWN = /\{%-?\s*(?:assign|capture|increment|decrement|for|tablerow)\s+([\p{L}_][\p{L}\p{N}_-]*)/gu;

/** The names that a source gives to values of its own, and those that its loops have. */
export function ownNames(source: string): ReadonlySet<string> {
  const own = source.includes('{%') ? [...source.matchAll(OWN)].map((m) => m[1] as string) : [];
  return new Set([...own, 'forloop', 'tablerowloop']);
}

class Rewriting {
  private text = '';
  private at = 0;
  /** Places that correspond: in the text made, and in the source. */
  private readonly places: { made: number; source: number }[] = [{ made: 0, source: 0 }];
  private readonly fields = new Map<string, NamedField>();
  private readonly words = new Map<string, string>();
  private readonly own: ReadonlySet<string>;
  private firstFault: EngineSource['fault'] = null;

  constructor(private readonly source: string) {
    this.own = ownNames(source);
  }

  /** The field that an expression is the name of; null for what the template names itself, and for other expressions. */
  fieldIn(expression: string, read: typeof nameIn = nameIn): string | null {
    const name = read(expression);
    return name === null || this.own.has(name) ? null : name;
  }

  /** A tag that begins where none was found: a quotation mark in it is not closed, which the engine would take. */
  unclosedIn(from: number, to: number): void {
    if (this.firstFault) return;
    const at = this.source.slice(from, to).indexOf('{%');
    if (at >= 0)
      this.fault(from + at, `“${this.source.slice(from + at, from + at + 30).split('\n')[0]}” is not closed`);
  }

  /** Keeps the first one. */
  fault(offset: number, message: string): void {
    this.firstFault ??= { offset, message };
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
    const { text, fields, places, source, firstFault: fault } = this;
    return {
      text,
      fields,
      fault,
      placeOf: (offset) => {
        const last = places.findLastIndex(({ made }) => made <= offset);
        const { made, source: from } = places[last]!;
        return Math.min(from + offset - made, places[last + 1]?.source ?? source.length);
      },
    };
  }
}
