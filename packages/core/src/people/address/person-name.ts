/** A person's name as screens show it; '' where none is known. @param fields their row, by field key */
export function nameOf(fields: Readonly<Record<string, string>>): string {
  return fields['fullname'] ?? [fields['givenname'], fields['familyname']].filter((n) => n).join(' ');
}
