import { tableOfRows, type Table, type TableRow } from './table-of-rows';

/** `Ana Reyes <ana@x.example>`, or a bare address; a name is what stands before the bracket since the last separator. */
const MENTION =
  /(?:"([^"\n]{1,120})"|([^<>,;:\n"]{1,120}))?\s*<\s*([^\s<>@]+@[^\s<>@]+)\s*>|([^\s<>,;:"'()[\]]+@[^\s<>,;:"'()[\]]+)/gu;

/**
 * Whether a text is prose or a line of recipients rather than a sheet: it has addresses, but neither rows of equal
 * width nor a header over them.
 */
export function isFreeText(text: string): boolean {
  const lines = text.split(/\r?\n/).filter((l) => l.trim() !== '');
  const addresses = [...text.matchAll(MENTION)].length;
  if (addresses === 0 || /\t/.test(text)) return false;
  // Several addresses in a line, or names in brackets: what mail programs give. A column of addresses is a sheet.
  return (
    addresses > lines.length ||
    (/[^,;\n]+<[^<>\n]+@[^<>\n]+>/.test(text) && !/[;,]/.test(lines[0] ?? '')) ||
    lines.some((l) => /\s\S+\s\S+\s\S+@/.test(l) && !/[;|]/.test(l))
  );
}

/** Takes the addresses out of a text, each with the name written before it. */
export function readFreeText(text: string): Table {
  const rows: TableRow[] = [{ line: 0, cells: ['email', 'full name'] }];
  let line = 1;
  let counted = 0;
  for (const m of text.matchAll(MENTION)) {
    for (; counted < m.index; counted++) if (text.charCodeAt(counted) === 10) line++;
    const name = (m[1] ?? m[2] ?? '').replace(/^[\s–—-]+|\s+$/g, '').replace(/^(?:and|und|et|y|e)\s+/i, '');
    const address = (m[3] ?? m[4] ?? '').replace(/[.!?]+$/, '');
    rows.push({ line, cells: [address, m[3] === undefined ? '' : name] });
  }
  return { ...tableOfRows(rows), headerLine: null };
}
