import { dateOf, DomainError } from '@baton/core';
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
  if (input === undefined || input === null)
    throw new DomainError('invalid', 'The request has no body. Expected an object.');
  const odd = oddText(input, '', 0);
  if (odd !== null) throw new DomainError('invalid', odd);
  const result = schema.validate(input, OPTIONS);
  if (result.error) throw new DomainError('invalid', sentence(result.error.message), { cause: result.error });
  return result.value as T;
}

/** The number of a row: PostgreSQL's integer. */
export const rowId = Joi.number()
  .integer()
  .positive()
  .max(2 ** 31 - 1);

/** A day of the calendar as an ISO date. */
export const isoDay = Joi.string()
  .pattern(/^\d{4}-\d{2}-\d{2}$/, 'a date such as 2026-11-30')
  .custom((date: string, helpers) =>
    isDay(date) ? date : helpers.message({ custom: `“${date}” is not a date: no calendar has that day` }),
  );

function isDay(date: string): boolean {
  const [year = 0, month = 0, day = 0] = date.split('-').map(Number);
  return dateOf(year, month, day) !== null;
}

/** A row's number in an address. */
export const parseId = (text: string | undefined): number =>
  parse(rowId.required().label('number in the address') as Joi.NumberSchema, text ?? '');

/** Deeper than this nothing is that a schema takes. */
const MOST_DEPTH = 40;

/** What is wrong with a text anywhere in an input that cannot be kept: a zero byte, half a letter. */
function oddText(input: unknown, path: string, depth: number): string | null {
  if (typeof input === 'string') {
    const odd = /[\0\p{Surrogate}]/u.exec(input)?.[0];
    if (odd === undefined) return null;
    const what = odd === '\0' ? 'a zero byte' : 'half a letter';
    return `${path === '' ? 'The text' : `“${path}”`} has ${what} in it, which cannot be kept.`;
  }
  if (typeof input !== 'object' || input === null) return null;
  if (depth > MOST_DEPTH) return 'The request is nested deeper than anything that is expected.';
  for (const [key, value] of Object.entries(input)) {
    const within = Array.isArray(input) ? `${path}[${key}]` : path === '' ? key : `${path}.${key}`;
    const odd = oddText(key, path === '' ? 'name of a field' : path, depth) ?? oddText(value, within, depth + 1);
    if (odd !== null) return odd;
  }
  return null;
}
