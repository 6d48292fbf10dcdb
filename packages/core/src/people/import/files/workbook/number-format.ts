/** Significant digits that spreadsheets keep; further ones are what arithmetic has left. */
const GENERAL_DIGITS = 15;

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
 * A number as a spreadsheet shows it under a format code (ECMA-376 18.8.31): decimals, thousands, per cent, text around;
 * times of day. A date is written as ISO does, whatever its look: which of two figures is the month is nothing to guess.
 * Colours and conditions are skipped; what is not understood is shown without a format.
 *
 * @param is1904 days count from 1904-01-01; otherwise from 1900-01-01, with a 29 February 1900 that never was
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
  if (isDateFormat(plain))
    return /[yd]/i.test(withoutLiterals(plain)) || /mmm|^[^hs]*m[^hs]*$/i.test(withoutLiterals(plain))
      ? (isoOfSerial(value, is1904) ?? general(value))
      : formatTime(value, plain);
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

/** Serial number of the day after the 29 February 1900, which the count of 1900 has and the calendar has not. */
const MARCH_1900 = 61;
/** 31 December 9999, the last day that spreadsheets have. */
const LAST_SERIAL = 2_958_465;

/**
 * The day, and the time if there is one, that a spreadsheet's serial number stands for: `2026-12-24`,
 * `2026-12-24 10:30`; null for one that is none.
 */
export function isoOfSerial(serial: number, is1904: boolean): string | null {
  if (!(serial >= 0 && serial <= LAST_SERIAL)) return null;
  const days = is1904 || serial >= MARCH_1900 ? serial : serial + 1;
  const epoch = is1904 ? Date.UTC(1904, 0, 1) : Date.UTC(1899, 11, 30);
  // Times are kept to about a second: half of one more or less is rounding.
  const at = new Date(epoch + Math.round(days * 86_400) * 1000);
  const [day = '', time = ''] = at.toISOString().split('T');
  const shown = time.endsWith(':00.000Z') ? time.slice(0, 5) : time.slice(0, 8);
  return shown === '00:00' ? day : `${day} ${shown}`;
}

/** A time of day under a format with hours, minutes and seconds alone. */
function formatTime(value: number, code: string): string {
  const at = new Date(Math.round(value * 86_400) * 1000);
  if (Number.isNaN(at.getTime())) return general(value);
  const half = /am\/pm/i.test(code);
  const two = (n: number) => String(n).padStart(2, '0');
  const hour = half ? at.getUTCHours() % 12 || 12 : at.getUTCHours();
  return code.replace(/"([^"]*)"|\\(.)|am\/pm|m+|h+|s+|[_*]./gi, (token, quoted?: string, escaped?: string) => {
    if (quoted !== undefined || escaped !== undefined) return quoted ?? escaped ?? '';
    const n = token.length;
    const put = (unit: number) => (n === 2 ? two(unit) : String(unit));
    switch ((token[0] as string).toLowerCase()) {
      case 'a':
        return at.getUTCHours() < 12 ? 'AM' : 'PM';
      case 'h':
        return put(hour);
      case 'm':
        return put(at.getUTCMinutes());
      case 's':
        return put(at.getUTCSeconds());
      default:
        return '';
    }
  });
}
