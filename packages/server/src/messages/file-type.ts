/** Beginnings by which files of a kind are known. */
const SIGNS: readonly [type: string, sign: readonly (number | null)[]][] = [
  ['image/png', [0x89, 0x50, 0x4e, 0x47]],
  ['image/jpeg', [0xff, 0xd8, 0xff]],
  ['image/gif', [0x47, 0x49, 0x46, 0x38]],
  ['image/webp', [0x52, 0x49, 0x46, 0x46, null, null, null, null, 0x57, 0x45, 0x42, 0x50]],
  ['application/pdf', [0x25, 0x50, 0x44, 0x46]],
];
const BY_END: Readonly<Record<string, string>> = {
  csv: 'text/csv',
  doc: 'application/msword',
  docx: 'application/vnd.openxmlformats-officedocument.wordprocessingml.document',
  ics: 'text/calendar',
  odt: 'application/vnd.oasis.opendocument.text',
  txt: 'text/plain',
  vcf: 'text/vcard',
  xls: 'application/vnd.ms-excel',
  xlsx: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
  zip: 'application/zip',
};

/** The media type of a file: by what is in it, else by the end of its name. Only what is in it makes it a picture. */
export function typeOfFile(name: string, bytes: Uint8Array): string {
  const known = SIGNS.find(([, sign]) => sign.every((b, i) => b === null || bytes[i] === b));
  if (known) return known[0];
  const end = /\.([a-z0-9]+)$/i.exec(name)?.[1]?.toLowerCase() ?? '';
  return (Object.hasOwn(BY_END, end) ? BY_END[end] : undefined) ?? 'application/octet-stream';
}

export const isPicture = (type: string): boolean => type.startsWith('image/');
