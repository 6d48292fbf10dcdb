import { DomainError, type ErrorCode } from '@baton/core';
import type { Problem } from '@baton/contract';
import type { Context, Middleware } from 'koa';
import type { Logger } from 'pino';
import { forLog } from '../log/for-log';
import { isDatabaseAway } from '../store/database';

const STATUS: Readonly<Record<ErrorCode, number>> = {
  invalid: 400,
  not_found: 404,
  conflict: 409,
  out_of_range: 400,
  too_large: 413,
  not_text: 415,
  empty_file: 400,
  too_many_columns: 400,
  no_address_column: 400,
  template_invalid: 400,
  unreachable: 502,
  refused: 502,
  forbidden: 403,
};

/** Seconds after which a page may ask again. */
const AGAIN_SECONDS = 5;

function sayAway(ctx: Context, log: Logger, error: unknown): void {
  log.warn(forLog(error), 'the database cannot be reached');
  const detail =
    'Baton’s database cannot be reached just now. Nothing of this was done; Baton goes on by itself as soon as it is back.';
  const problem: Problem = { type: 'about:blank', title: 'away', status: 503, detail };
  ctx.status = 503;
  ctx.set('Retry-After', String(AGAIN_SECONDS));
  ctx.type = 'application/problem+json';
  ctx.body = JSON.stringify(problem);
}

/** Turns errors into problem details (RFC 9457); of an unknown one only a log line tells more than 500. */
export function problemDetails(log: Logger): Middleware {
  return async (ctx, next) => {
    try {
      await next();
      if (ctx.status === 404 && ctx.body == null)
        throw new DomainError('not_found', 'There is nothing at this address.');
    } catch (error) {
      const known = error instanceof DomainError;
      const status = known ? STATUS[error.code] : ((error as { status?: number }).status ?? 500);
      const isAway = !known && isDatabaseAway(error);
      if (isAway) {
        sayAway(ctx, log, error);
        return;
      }
      if (!known && status >= 500) log.error(forLog(error), 'unexpected error');
      const detail = known
        ? error.message
        : status === 413
          ? 'The request is too large.'
          : status >= 500
            ? 'Something went wrong in Baton; see the server log.'
            : 'The request could not be read.';
      const problem: Problem = { type: 'about:blank', title: known ? error.code : 'error', status, detail };
      ctx.status = status;
      ctx.type = 'application/problem+json';
      ctx.body = JSON.stringify(problem);
    }
  };
}
