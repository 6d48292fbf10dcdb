import ICAL from 'ical.js';
import type { ListColumn } from './list-columns';
import { tagsOf } from './list-columns';

/** A person with their values by field key. */
export interface PersonToWrite {
  address: string;
  fields: Readonly<Record<string, string>>;
}

/**
 * Returns a function that writes a person as a vCard 4 (RFC 6350): names, company, title, time zone and tags each as
 * what they are, every other value as a line of the note, so that nothing is lost.
 *
 * @returns a card with CRLF after each line
 */
export function vcardWriter(columns: readonly ListColumn[]): (person: PersonToWrite) => string {
  const keyOf = (role: ListColumn['role']) => columns.find((c) => c.role === role)?.key;
  const keys = {
    given: keyOf('given_name'),
    family: keyOf('family_name'),
    full: keyOf('full_name'),
    company: keyOf('company'),
    zone: keyOf('time_zone'),
    tags: columns.find((c) => c.kind === 'tags')?.key,
  };
  const used = new Set<string | undefined>(Object.values(keys));
  const rest = columns.filter((c) => c.role !== 'address' && !used.has(c.key));
  return ({ address, fields }) => {
    const value = (key: string | undefined) => (key === undefined ? '' : (fields[key] ?? ''));
    const card = new ICAL.Component('vcard');
    const put = (name: string, text: string | string[]) => {
      if (text.length === 0) return;
      const property = new ICAL.Property(name, card);
      if (Array.isArray(text)) property.setValues(text);
      else property.setValue(text);
      card.addProperty(property);
    };
    const [given, family] = [value(keys.given), value(keys.family)];
    put('version', '4.0');
    put('fn', value(keys.full) || [given, family].filter((n) => n !== '').join(' ') || address);
    const putParts = (name: string, parts: string[]) => {
      if (parts.every((p) => p === '')) return;
      const property = new ICAL.Property(name, card);
      property.setValue(parts);
      card.addProperty(property);
    };
    putParts('n', given === '' && family === '' ? [] : [family, given, '', '', '']);
    put('email', address);
    putParts('org', [value(keys.company)]);
    put('tz', value(keys.zone));
    put('categories', tagsOf(value(keys.tags)));
    const note = rest.filter((c) => value(c.key) !== '').map((c) => `${c.name}: ${value(c.key)}`);
    put('note', note.join('\n'));
    return `${card.toString()}\r\n`;
  };
}
