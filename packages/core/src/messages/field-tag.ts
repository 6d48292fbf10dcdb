import type { EitherNode, FieldNode } from './rich-doc';

/** A field as Liquid, with its filters and its fallback. */
export function fieldTag({ name, filters, fallback }: FieldNode['attrs']): string {
  const filtered = filters.trim() === '' ? '' : ` | ${filters.trim().replace(/^\|\s*/, '')}`;
  const otherwise = fallback === null ? '' : ` | default: "${quotable(fallback)}"`;
  return `{{ ${fieldWord(name)}${filtered}${otherwise} }}`;
}

/** A choice between two texts as Liquid. */
export function eitherTag({ field, filled, blank }: EitherNode['attrs']): string {
  return `{% if ${fieldWord(field).replaceAll(' ', '_')} %}${filled}{% else %}${blank}{% endif %}`;
}

/** A column's name as an output can hold it. */
export function fieldWord(name: string): string {
  return name
    .trim()
    .replace(/[^\p{L}\p{N}_ -]+/gu, ' ')
    .replace(/\s+/g, ' ')
    .trim();
}

/** Liquid's texts have no escape: a double quote becomes a typographic one. */
const quotable = (text: string): string => text.replaceAll('"', '”').replace(/\{\{|\}\}|\{%|%\}/g, '');

const TAG = /^\{\{-?\s*([\p{L}_][\p{L}\p{N}_ -]*?)\s*((?:\|(?:"[^"]*"|'[^']*'|[^"'{}])*)?)-?\}\}$/u;
const DEFAULT = /\|\s*default:\s*(?:"([^"]*)"|'([^']*)')\s*$/;

/** A field read from Liquid; null for what is more than a name, filters and a fallback at the end. */
export function readFieldTag(tag: string): FieldNode['attrs'] | null {
  const m = TAG.exec(tag);
  if (!m) return null;
  const piped = (m[2] as string).trim();
  const fallback = DEFAULT.exec(piped);
  const filters = (fallback ? piped.slice(0, fallback.index) : piped).replace(/^\|\s*/, '').trim();
  return { name: m[1] as string, fallback: fallback ? (fallback[1] ?? fallback[2] ?? '') : null, filters };
}
