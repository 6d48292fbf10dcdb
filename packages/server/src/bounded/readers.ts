import { readCalendarDays, readMailboxFile, readPeopleFile } from '@baton/core';
import { readLetterFile } from '../messages/read-letter-file';
import { readAttachedFile, readPage } from '../reading/mail-parts';
import { parseHead, parseMail } from '../reading/parse-mail';

/** What is read apart from the server, because it comes from outside and may be made to take much. */
export const READERS = {
  people: readPeopleFile,
  mailboxes: readMailboxFile,
  calendar: readCalendarDays,
  letter: readLetterFile,
  mail: parseMail,
  head: parseHead,
  page: readPage,
  file: readAttachedFile,
} as const;
export type Readers = typeof READERS;

/** What is said of something whose reading takes more than it may. */
export const TOO_MUCH: Readonly<Record<keyof Readers, (what: 'memory' | 'time') => string>> = {
  people: (what) =>
    `Reading this file takes more ${what} than a list of people needs. Save it as CSV, which is read piece by piece; nothing has been imported.`,
  mailboxes: (what) =>
    `Reading this file takes more ${what} than a list of mailboxes needs; nothing has been connected.`,
  calendar: (what) => `Reading this calendar takes more ${what} than one of holidays needs; no day has been taken.`,
  letter: (what) => `Reading this file takes more ${what} than a message needs; nothing has been taken.`,
  mail: (what) => `Reading this message takes more ${what} than a message needs.`,
  page: (what) => `Showing the page of this message takes more ${what} than one needs. Save the message to open it.`,
  file: (what) => `Opening this file takes more ${what} than it may. Save the message to open it.`,
  head: (what) => `Reading the head of this message takes more ${what} than one needs.`,
};
