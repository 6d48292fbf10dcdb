import { DomainError, type ErrorCode } from '@baton/core';
import type { Problem } from '@baton/contract';
import type { Context, Middleware } from 'koa';
import type { Logger } from 'pino';
import { forLog } from '../log/for-log';
import { isDatabaseAway, isDiskFull, isUnkeepable, namesWhatIsGone } from '../store/database-errors';

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
  ctx.set('Retry-After', String(AGAIN_SECONDS));
  say(ctx, { status: 503, title: 'away', detail });
}

function say(ctx: Context, problem: Omit<Problem, 'type'>): void {
  ctx.status = problem.status;
  ctx.type = 'application/problem+json';
  ctx.body = JSON.stringify({ type: 'about:blank', ...problem } satisfies Problem);
}

function sayFull(ctx: Context, log: Logger, error: unknown): void {
  log.error(forLog(error), 'there is no space left');
  const detail =
    'There is no space left on the disk where Baton keeps its data. Nothing of this was done, and nothing that was there is lost; Baton goes on by itself once there is space.';
  say(ctx, { status: 507, title: 'full', detail });
}

/** What goes wrong while a body is read: it says its status, or that it does not unpack (zlib's codes). */
interface BodyFault {
  status: number;
  code: string;
}

const statusOf = ({ status, code }: Partial<BodyFault>): number =>
  status ?? (/^Z_|^ERR_BROTLI|^ERR__ERROR_FORMAT/.test(code ?? '') ? 400 : 500);

/** Turns errors into problem details (RFC 9457); of an unknown one only a log line tells more than 500. */
export function problemDetails(log: Logger): Middleware {
  return async (ctx, next) => {
    try {
      await next();
      if (ctx.status === 404 && ctx.body == null)
        throw new DomainError('not_found', 'There is nothing at this address.');
    } catch (error) {
      const known = error instanceof DomainError;
      const status = known ? STATUS[error.code] : statusOf(error as Partial<BodyFault>);
      const isAway = !known && isDatabaseAway(error);
      if (!known && namesWhatIsGone(error)) {
        say(ctx, {
          status: 409,
          title: 'conflict',
          detail: 'Something that was chosen is gone meanwhile. Nothing was changed; look at it again.',
        });
        return;
      }
      if (!known && isUnkeepable(error)) {
        say(ctx, {
          status: 400,
          title: 'invalid',
          detail: 'A number, date or text in the request is not one that can be kept. Nothing was changed.',
        });
        return;
      }
      if (isAway) {
        sayAway(ctx, log, error);
        return;
      }
      if (!known && isDiskFull(error)) {
        sayFull(ctx, log, error);
        return;
      }
      if (!known && status >= 500) log.error(forLog(error), 'unexpected error');
      const detail = known
        ? error.message
        : status === 413
          ? 'The request is too large.'
          : status >= 500
            ? 'Something went wrong in Baton; see the server log.'
            : 'The request could not be read. Expected JSON, packed only as it says.';
      say(ctx, { status, title: known ? error.code : 'error', detail });
    }
  };
}
