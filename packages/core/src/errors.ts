/** Every code a {@link DomainError} may carry; the server maps each to one HTTP status. */
export const ERROR_CODES = [
  'invalid',
  'not_found',
  'conflict',
  'out_of_range',
  'too_large',
  'not_text',
  'empty_file',
  'too_many_columns',
  'no_address_column',
  'template_invalid',
  'unreachable',
  'refused',
  'forbidden',
] as const;

export type ErrorCode = (typeof ERROR_CODES)[number];

/** A failure with a sentence the coordinator can read: what, where, and what was expected. */
export class DomainError extends Error {
  constructor(
    readonly code: ErrorCode,
    message: string,
    options?: { cause?: unknown },
  ) {
    super(message, options);
    this.name = 'DomainError';
  }
}
