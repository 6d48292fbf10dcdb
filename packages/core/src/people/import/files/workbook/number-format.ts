import { MONTH_NAMES } from '../../../../time/month-names';
/** How a spreadsheet shows numbers that have no format of their own: up to 11 significant digits. */
const GENERAL_DIGITS = 11;

/** Formats that go by number only (ECMA-376 18.8.30), as far as sheets of people meet them. */
const BUILT_IN: Readonly<Record<number, string>> = {
  1: '0',
  2: '0.00',
  3: '#,##0',
  4: '#,##0.00',
  9: '0%',
  10: '0.00%',
  14: 'yyyy-mm-dd',
  15: 'd-mmm-yy',
  16: 'd-mmm',
  17: 'mmm-yy',
  18: 'h:mm am/pm',
  19: 'h:mm:ss am/pm',
  20: 'h:mm',
  21: 'h:mm:ss',
  22: 'yyyy-mm-dd h:mm',
  37: '#,##0',
  38: '#,##0',
  39: '#,##0.00',
  40: '#,##0.00',
  45: 'mm:ss',
  46: 'h:mm:ss',
  47: 'mm:ss',
};

export function builtInFormat(id: number): string {
  return BUILT_IN[id] ?? 'General';
}

/**
 * A number as a spreadsheet shows it under a format code (ECMA-376 18.8.31): dates and times, decimals, thousands,
 * per cent, text around. Colours and conditions are skipped; what is not understood is shown without a format.
 *
 * @param is1904 days count from 1904-01-01 instead of 1899-12-30
 */
export function formatNumber(value: number, code: string, is1904: boolean): string {
  const sections = splitSections(code);
  const section =
    value < 0 && sections.length > 1 ? sections[1] : value === 0 && sections.length > 2 ? sections[2] : sections[0];
  const plain = (section ?? 'General').replace(
    /\[(?:\$([^\]-]*)(?:-[^\]]*)?|[^\]]*)\]/g,
    (_, currency?: string) => currency ?? '',
  );
  if (/^\s*general\s*$/i.test(plain) || plain === '') return general(value);
  if (isDateFormat(plain)) return formatDate(value, plain, is1904);
  const shown = formatDigits(sections.length > 1 ? Math.abs(value) : value, plain);
  return shown ?? general(value);
}

/** Whether a code shows a date or time: has a date letter outside of quotes. */
export function isDateFormat(code: string): boolean {
  return /[ymdhs]/i.test(withoutLiterals(code).replace(/general/gi, ''));
}

const withoutLiterals = (code: string): string => code.replace(/"[^"]*"|\\./g, '');

function splitSections(code: string): string[] {
  return code.match(/(?:"[^"]*"|\\.|[^;"\\])+/g) ?? ['General'];
}

function general(value: number): string {
  if (!Number.isFinite(value)) return '';
  return String(Number(value.toPrecision(GENERAL_DIGITS)));
}

function formatDigits(value: number, code: string): string | null {
  const m = /^((?:"[^"]*"|\\.|[^0#?"\\])*)([0#?,]+(?:\.([0#?]+))?)(.*)$/.exec(code);
  if (!m) return null;
  const [, before = '', digits = '', decimals = '', after = ''] = m;
  const scaled = withoutLiterals(code).includes('%') ? value * 100 : value;
  const least = (decimals.match(/0/g) ?? []).length;
  const whole = (digits.split('.')[0] ?? '').replace(/[^0]/g, '').length;
  const [int = '0', frac = ''] = Math.abs(scaled).toFixed(Math.min(decimals.length, 15)).split('.');
  const kept = frac.slice(0, least) + frac.slice(least).replace(/0+$/, '');
  const padded = int.padStart(whole, '0');
  const grouped = digits.includes(',') ? padded.replace(/\B(?=(\d{3})+$)/g, ',') : padded;
  return `${scaled < 0 ? '-' : ''}${unquote(before)}${grouped}${kept === '' ? '' : `.${kept}`}${unquote(after)}`;
}

const unquote = (text: string): string =>
  text.replace(/"([^"]*)"|\\(.)|[_*]./g, (_, quoted?: string, escaped?: string) => quoted ?? escaped ?? '');

const DAY_MS = 86_400_000;
const DAYS = ['Sunday', 'Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday'];

function formatDate(value: number, code: string, is1904: boolean): string {
  const epoch = is1904 ? Date.UTC(1904, 0, 1) : Date.UTC(1899, 11, 30);
  const at = new Date(epoch + Math.round(value * DAY_MS));
  if (Number.isNaN(at.getTime())) return general(value);
  const half = /am\/pm/i.test(code);
  const two = (n: number) => String(n).padStart(2, '0');
  const hour = half ? at.getUTCHours() % 12 || 12 : at.getUTCHours();
  let afterHours = false;
  return code.replace(/"([^"]*)"|\\(.)|am\/pm|y+|m+|d+|h+|s+|[_*]./gi, (token, quoted?: string, escaped?: string) => {
    if (quoted !== undefined || escaped !== undefined) return quoted ?? escaped ?? '';
    const n = token.length;
    const kind = (token[0] as string).toLowerCase();
    if (kind === 'a') return at.getUTCHours() < 12 ? 'AM' : 'PM';
    if (kind === 'h') afterHours = true;
    switch (kind) {
      case 'y':
        return n <= 2 ? two(at.getUTCFullYear() % 100) : String(at.getUTCFullYear());
      case 'd':
        if (n >= 3) return (DAYS[at.getUTCDay()] as string).slice(0, n === 3 ? 3 : undefined);
        return n === 2 ? two(at.getUTCDate()) : String(at.getUTCDate());
      case 'h':
        return n === 2 ? two(hour) : String(hour);
      case 's':
        return n === 2 ? two(at.getUTCSeconds()) : String(at.getUTCSeconds());
      case 'm': {
        // m is minutes after hours and before seconds, months elsewhere.
        if (afterHours || /^mm?:ss/i.test(code)) {
          afterHours = false;
          return n === 2 ? two(at.getUTCMinutes()) : String(at.getUTCMinutes());
        }
        const month = MONTH_NAMES[at.getUTCMonth()] as string;
        if (n >= 3) return n === 3 ? month.slice(0, 3) : n === 5 ? month.slice(0, 1) : month;
        return n === 2 ? two(at.getUTCMonth() + 1) : String(at.getUTCMonth() + 1);
      }
      default:
        return '';
    }
  });
}
