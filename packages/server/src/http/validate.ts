import { DomainError } from '@baton/core';
import Joi from 'joi';

/** What the commonest faults are called, in plain words. */
const MESSAGES = {
  'any.required': '{{#label}} is missing',
  'number.base': '{{#label}} must be a number',
  'number.integer': '{{#label}} must be a whole number',
  'number.min': '{{#label}} must be {{#limit}} or more',
  'number.max': '{{#label}} must be {{#limit}} or less',
  'string.base': '{{#label}} must be text',
  'string.empty': '{{#label}} is blank',
  'string.max': '{{#label}} must have {{#limit}} characters at most',
};
const OPTIONS: Joi.ValidationOptions = { abortEarly: true, stripUnknown: true, messages: MESSAGES };

/** A field's name is in quotation marks; a label in words is not. */
function sentence(message: string): string {
  const words = message.replace(/^"([^"]* [^"]*)"/, '$1');
  return `${words.charAt(0).toUpperCase()}${words.slice(1)}.`;
}

/**
 * Parses something unknown by a schema.
 *
 * @throws DomainError `invalid` that names the field and what was expected
 */
export function parse<T>(schema: Joi.Schema<T>, input: unknown): T {
  const result = schema.validate(input, OPTIONS);
  if (result.error) throw new DomainError('invalid', sentence(result.error.message), { cause: result.error });
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
