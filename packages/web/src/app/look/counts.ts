import { plural, say } from './language';

/** How many of what, in words: the phrases that sentences of every room are made of. */
export const counted = {
  people: (n: number) => plural(n, { one: '1 person', other: say`${n} people` }),
  messages: (n: number) => plural(n, { one: '1 message', other: say`${n} messages` }),
  mailboxes: (n: number) => plural(n, { one: '1 mailbox', other: say`${n} mailboxes` }),
  followUps: (n: number) => plural(n, { one: '1 follow-up', other: say`${n} follow-ups` }),
  workingDays: (n: number) => plural(n, { one: '1 working day', other: say`${n} working days` }),
  rows: (n: number) => plural(n, { one: '1 row', other: say`${n} rows` }),
  lines: (n: number) => plural(n, { one: '1 line', other: say`${n} lines` }),
  files: (n: number) => plural(n, { one: '1 file', other: say`${n} files` }),
  links: (n: number) => plural(n, { one: '1 link', other: say`${n} links` }),
  duplicates: (n: number) => plural(n, { one: '1 duplicate', other: say`${n} duplicates` }),
  domains: (n: number) => plural(n, { one: '1 domain', other: say`${n} domains` }),
  holidays: (n: number) => plural(n, { one: '1 holiday', other: say`${n} holidays` }),
  campaigns: (n: number) => plural(n, { one: '1 campaign', other: say`${n} campaigns` }),
};
