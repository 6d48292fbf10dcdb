/** Causes of causes that are looked at: a chain that is longer goes in a circle. */
const MOST_CAUSES = 10;

/** Whether an error, or what caused it, is of a kind. */
function isCausedBy(error: unknown, isIt: (code: string, message: string) => boolean): boolean {
  let e = error as (Error & { code?: unknown; cause?: unknown }) | undefined;
  for (let depth = 0; e && depth < MOST_CAUSES; depth++, e = e.cause as typeof e)
    if (isIt(typeof e.code === 'string' ? e.code : '', e.message)) return true;
  return false;
}

/** Why a statement failed, as PostgreSQL numbers its reasons: a row is there already; a lock was not to be had in time; two
 * waited for each other. */
export const FAILED = { uniqueViolation: '23505', lockNotAvailable: '55P03', deadlock: '40P01' } as const;

/** Whether a statement failed for this reason. */
export const failedBy = (error: unknown, reason: (typeof FAILED)[keyof typeof FAILED]): boolean =>
  isCausedBy(error, (code) => code === reason);

/** Whether a statement named something that is not there, or is gone by now. */
export const namesWhatIsGone = (error: unknown): boolean => isCausedBy(error, (code) => code === '23503');

/** Whether PostgreSQL refused a value itself: out of range, no date, bytes that are no text (SQLSTATE class 22). */
export const isUnkeepable = (error: unknown): boolean => isCausedBy(error, (code) => /^22[0-9A-Z]{3}$/.test(code));

/** Whether something failed for want of space, where the database is or where a file was to be written. */
export const isDiskFull = (error: unknown): boolean =>
  isCausedBy(error, (code) => code === '53100' || code === 'ENOSPC');

/** SQLSTATEs of a server that is not there: connection exceptions, shutting down, starting, too many connections. */
const AWAY = /^(?:08|57P0[123]|53300)/;
const UNREACHED: ReadonlySet<string> = new Set([
  ...['ECONNREFUSED', 'ECONNRESET', 'EPIPE', 'ETIMEDOUT', 'EHOSTUNREACH', 'ENETUNREACH', 'ENOTFOUND', 'EAI_AGAIN'],
]);
const BROKEN_OFF =
  /^(?:Connection terminated|Client has encountered a connection error|Client was closed|timeout exceeded when trying to connect|Query read timeout)/;

/** Whether something failed because the database cannot be reached just now, and would have worked otherwise. */
export const isDatabaseAway = (error: unknown): boolean =>
  isCausedBy(error, (code, message) => AWAY.test(code) || UNREACHED.has(code) || BROKEN_OFF.test(message));
