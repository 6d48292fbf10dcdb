import type { ColumnRole } from '../../people/import/columns/column-roles';

/** A file of people, with what is true of it. */
export interface FileCase {
  name: string;
  bytes: Uint8Array;
  /** Everybody in it: the address with the name by which a message greets, '' without one. */
  people: Record<string, string>;
  /** Values that some of them have, by field key. */
  fields?: Record<string, Record<string, string>>;
  /** Days on which to send, by address. */
  sendOn?: Record<string, string>;
  /** Lines that are nobody, and are set aside. */
  aside?: readonly number[];
  /** Roles of its columns, where they are what the case is about. */
  roles?: readonly ColumnRole[];
  /** The date about which one has to be asked: the cell, day first and month first. */
  question?: readonly [cell: string, dayFirst: string, monthFirst: string];
}

export const lines = (...all: string[]): string => all.join('\n');
export const utf8 = (text: string): Uint8Array => new TextEncoder().encode(text);
export const bytesOf = (...bytes: number[]): Uint8Array => Uint8Array.from(bytes);

export function joined(...parts: Uint8Array[]): Uint8Array {
  return Uint8Array.from(parts.flatMap((part) => [...part]));
}

export const utf16 = (text: string, order: 'le' | 'be'): Uint8Array =>
  Uint8Array.from(
    Array.from({ length: text.length }, (_, i) => text.charCodeAt(i)).flatMap((code) =>
      order === 'le' ? [code & 255, code >> 8] : [code >> 8, code & 255],
    ),
  );

/** A text in an encoding of one byte a letter. */
export function encoded(encoding: string, text: string): Uint8Array {
  const decoder = new TextDecoder(encoding);
  const codes = new Map(Array.from({ length: 256 }, (_, code) => [decoder.decode(Uint8Array.of(code)), code]));
  return Uint8Array.from([...text], (letter) => {
    const code = codes.get(letter);
    if (code === undefined) throw new Error(`${encoding} has no ${letter}`);
    return code;
  });
}

export const ANA_AND_BO: Record<string, string> = { 'ana@x.example': 'Ana Reyes', 'bo@x.example': 'Bo Salt' };
export const ADDRESSES: Record<string, string> = { 'ana@x.example': '', 'bo@x.example': '' };
export const CITIES = { 'ana@x.example': { city: 'Holm' }, 'bo@x.example': { city: 'Ridge' } };
/** Cities where one cell stands for both rows. */
export const MERGED = { 'ana@x.example': { city: 'Holm' }, 'bo@x.example': { city: 'Holm' } };

export const textFile = (
  name: string,
  text: string,
  people: FileCase['people'] = ANA_AND_BO,
  more: Partial<FileCase> = {},
): FileCase => ({ name, bytes: utf8(text), people, ...more });
