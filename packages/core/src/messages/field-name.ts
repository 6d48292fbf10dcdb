/**
 * What makes two spellings one field: letters and digits in lower case, everything else dropped, so that
 * `First Name`, `first_name` and `FirstName` are one.
 */
export function fieldKey(name: string): string {
  return name
    .normalize('NFKC')
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]/gu, '');
}
