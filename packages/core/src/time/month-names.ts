/** English names of the months, January first. */
export const MONTH_NAMES: readonly string[] = [
  'January',
  'February',
  'March',
  'April',
  'May',
  'June',
  'July',
  'August',
  'September',
  'October',
  'November',
  'December',
];

const SHORT = MONTH_NAMES.map((name) => name.slice(0, 3).toLowerCase());

/** The month that a name means by its first three letters: 1 January to 12, 0 for none. */
export const monthNamed = (name: string): number => SHORT.indexOf(name.slice(0, 3).toLowerCase()) + 1;
