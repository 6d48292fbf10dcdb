/** Comparisons of Liquid as they are said. */
const COMPARED: Readonly<Record<string, string>> = {
  '==': 'is',
  '!=': 'is not',
  '<>': 'is not',
  '>': 'is more than',
  '<': 'is less than',
  '>=': 'is at least',
  '<=': 'is at most',
  contains: 'contains',
};

/**
 * What a condition of Liquid does, in words: `{% if region == "North" %}` is *where region is North*. '' for a tag that
 * is no condition.
 */
export function conditionWords(tag: string): string {
  const m = /^\{%-?\s*(\w+)\s*([\s\S]*?)\s*-?%\}$/.exec(tag);
  const [, name = '', rest = ''] = m ?? [];
  switch (name) {
    case 'if':
      return `where ${spoken(rest)}`;
    case 'elsif':
      return `or else where ${spoken(rest)}`;
    case 'unless':
      return `unless ${spoken(rest)}`;
    case 'else':
      return 'otherwise';
    case 'endif':
    case 'endunless':
      return 'for all again';
    default:
      return '';
  }
}

function spoken(condition: string): string {
  return condition
    .split(/\s+(and|or)\s+/)
    .map((part, i) => (i % 2 === 1 ? part : comparison(part)))
    .join(' ');
}

function comparison(part: string): string {
  const m = /^([\p{L}_][\p{L}\p{N}_-]*)\s*(==|!=|<>|>=|<=|>|<|contains)\s*(.+)$/u.exec(part.trim());
  const field = (name: string) => name.replaceAll('_', ' ');
  if (!m) return `there is a ${field(part.trim())}`;
  const [, name = '', sign = '', value = ''] = m;
  const written = value.replace(/^["']|["']$/g, '');
  const isNothing = written === '' || /^(?:blank|empty|nil)$/.test(written);
  if (isNothing && (sign === '==' || sign === '!=')) return `${field(name)} is ${sign === '==' ? '' : 'not '}blank`;
  return `${field(name)} ${COMPARED[sign] ?? sign} ${/^["']/.test(value) ? written : field(written)}`;
}
