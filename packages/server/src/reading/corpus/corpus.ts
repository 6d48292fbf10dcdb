import { ABSENCES } from './absences';
import { REPORTS } from './bounce-reports';
import { DEPARTURES } from './departures';
import type { MailCase } from './mail-case';
import { OTHERS } from './others';
import { FREE_BOUNCES } from './free-bounces';
import { HARDER_BOUNCES } from './harder-bounces';
import { HARDER } from './harder';
import { THIRD } from './third';
import { FLOWED, REPLIES } from './replies';
import { WISHES } from './wishes';

/** Messages in the styles of servers, programs and languages, with what is true of each. */
export const CORPUS: readonly MailCase[] = [
  ...REPORTS,
  ...FREE_BOUNCES,
  ...HARDER_BOUNCES,
  ...ABSENCES,
  ...DEPARTURES,
  ...OTHERS,
  ...WISHES,
  ...REPLIES,
  FLOWED,
  ...HARDER,
  ...THIRD,
];
