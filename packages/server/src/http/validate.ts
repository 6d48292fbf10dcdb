import { DomainError } from '@baton/core';
import Joi from 'joi';

/**
 * Parses something unknown by a schema.
 *
 * @throws DomainError `invalid` that names the field and what was expected
 */
export function parse<T>(schema: Joi.Schema<T>, input: unknown): T {
  const result = schema.validate(input, { abortEarly: true, stripUnknown: true });
  if (result.error)
    throw new DomainError(
      'invalid',
      `${result.error.message.charAt(0).toUpperCase()}${result.error.message.slice(1)}.`,
      { cause: result.error },
    );
  return result.value as T;
}

/** A row's number in an address. */
export function parseId(text: string | undefined): number {
  return parse(
    Joi.number()
      .integer()
      .positive()
      .max(2 ** 31 - 1)
      .required()
      .label('number in the address') as Joi.NumberSchema,
    text,
  );
}
