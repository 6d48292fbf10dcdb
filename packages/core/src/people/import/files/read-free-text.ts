import { decodeWords } from '../../address/encoded-words';
import { holdsAddress } from '../cleaning/named-address';
import { evenestRows } from './read-delimited';
import type { Table, TableRow } from './table';
import { tableOfRows } from './table-of-rows';

/**
 * `Ana Reyes <ana@x.example>`, `ana@x.example (Ana Reyes)`, or a bare address; a name is the text between the last
 * separator and the bracket, or words with capitals in brackets behind.
 */
const MENTION =
  /(?:"([^"\n]{1,120})"|([^<>,;:\n"]{1,120}))?\s*<\s*([^\s<>@]+@[^\s<>@]+)\s*>|([^\s<>,;:"'()[\]«»‹›„“”‘’–—…/|*=]+@[\p{L}\p{N}\p{M}.-]+)(?: ?\((\p{Lu}[\p{L}\p{M}.'’-]*(?: [\p{L}\p{M}.'’-]+){0,3} \p{Lu}[\p{L}\p{M}.'’-]*)\))?/gu;
/** What begins the lines of a list. */
const BULLET = /^\s*(?:[•‣▪◦·*–—-]|\d{1,4}[.)])\s+/;

/** From this share of lines on that are of one width, a text is a sheet. */
const SHEET_SHARE = 0.6;
/** From this share of cells on that hold an address, lines of one width are recipients. */
const RECIPIENTS_SHARE = 0.9;

/**
 * Whether a text is prose or a line of recipients rather than a sheet: it has addresses, several a line or in the midst
 * of words, and its lines are not of one width. A sheet must never be taken for prose: its other columns would be gone.
 */
export function isFreeText(text: string): boolean {
  const lines = text.split(/\r\n?|\n/).filter((l) => l.trim() !== '');
  const addresses = [...text.matchAll(MENTION)].length;
  if (addresses === 0 || isSheet(text)) return false;
  if (addresses >= lines.length && lines.every((l) => BULLET.test(l))) return true;
  return (
    addresses > lines.length ||
    /[^,;\n]+<[^<>\n]+@[^<>\n]+>/.test(text) ||
    lines.some((l) => /\s\S+\s\S+\s\S+@/.test(l))
  );
}

/** A title or a note may come above it. */
function isSheet(text: string): boolean {
  const { rows, width, share } = evenestRows(text);
  if (rows.length < 2 || width < 2 || share < SHEET_SHARE) return false;
  const cells = rows.flatMap((r) => r.cells).filter((c) => c.trim() !== '');
  return cells.filter(holdsAddress).length < RECIPIENTS_SHARE * cells.length;
}

/** Takes the addresses out of a text, each with the name written before it. */
export function readFreeText(text: string): Table {
  const rows: TableRow[] = [{ line: 0, cells: ['email', 'full name'] }];
  let line = 1;
  let counted = 0;
  for (const m of text.matchAll(MENTION)) {
    for (; counted < m.index; counted++) if (text.charCodeAt(counted) === 10) line++;
    const written = (m[1] ?? m[2] ?? m[5] ?? '').replace(BULLET, '').replace(/^[\s–—-]+|\s+$/g, '');
    const name = decodeWords(written.replace(/^(?:and|und|et|y|e)\s+/i, ''));
    const address = (m[3] ?? m[4] ?? '').replace(/[.!?]+$/, '');
    rows.push({ line, cells: [address, name] });
  }
  return { ...tableOfRows(rows), headerLine: null };
}
