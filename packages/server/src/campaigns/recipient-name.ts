/** A recipient's name as screens show it; '' where none is known. */
export function nameOf(fields: Readonly<Record<string, string>>): string {
  return fields['fullname'] ?? [fields['givenname'], fields['familyname']].filter((n) => n).join(' ');
}
