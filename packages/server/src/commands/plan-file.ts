import { DomainError, isoDate, isZone, planSends, type PlanInput, type Tier } from '@baton/core';
import Joi from 'joi';
import { isoDay, parse } from '../http/validate';

const whole = Joi.number().integer();
const zone = Joi.string().custom((name: string, helpers) =>
  isZone(name)
    ? name
    : helpers.message({
        custom: `{{#label}} is “${name}”, which is not a time zone; expected a name such as Europe/Lisbon`,
      }),
);
const weekdays = Joi.array().items(whole.min(1).max(7)).min(1);
const minute = whole.min(0).max(1440);
/** The last instant that a date can have (ECMA-262, 21.4.1.1), epoch ms. */
const MAX_INSTANT = 8.64e15;
const instant = Joi.number().min(0).max(MAX_INSTANT);
const units = Joi.number().min(0);
const index = whole.min(0);

const mailbox = Joi.object({
  zone: zone.required(),
  windows: Joi.array()
    .items(Joi.array().items(Joi.array().ordered(minute.required(), minute.required())))
    .length(7)
    .required(),
  capacity: Joi.alternatives(
    Joi.object({ days: Joi.array().items(units).min(1).required() }),
    Joi.object({
      quota: units.required(),
      ramp: Joi.object({
        day: whole.required(),
        first: units.required(),
        add: units.required(),
        every: whole.min(1).required(),
      }).allow(null),
    }),
  ).required(),
  daysOff: Joi.array().items(isoDay).default([]),
  paceSeconds: Joi.number().min(0).default(0),
  providerLimit24h: units.allow(null).default(null),
  alreadyUsed: Joi.array()
    .items(Joi.object({ instant: Joi.number().required(), units: units.required() }))
    .default([]),
  restUntil: isoDay.allow(null).default(null),
  held: Joi.boolean().default(false),
});

const campaign = Joi.object({
  steps: Joi.array()
    .items(
      Joi.object({
        delay: whole.min(0).required(),
        tolerance: whole.min(0).required(),
        hours: Joi.object({ from: minute.required(), to: minute.greater(Joi.ref('from')).required() })
          .allow(null)
          .default(null),
        endInstant: instant.allow(null).default(null),
      }),
    )
    .required(),
  weight: Joi.number().positive().default(1),
  dailyLimit: whole.min(0).allow(null).default(null),
  startDate: isoDay.required(),
  startInstant: instant.allow(null).default(null),
  endInstant: instant.allow(null).default(null),
  held: Joi.boolean().default(false),
  recipientWindow: Joi.object({ weekdays: weekdays.required(), from: minute.required(), to: minute.required() })
    .allow(null)
    .default(null),
  mailboxes: Joi.array().items(index).unique().required(),
});

const COLUMNS = [
  ...(['campaign', 'zone', 'domain', 'notBefore', 'units', 'boundMailbox', 'nextStep', 'dueDay'] as const),
  'at',
] as const;

const instance: Joi.ObjectSchema<PlanInput> = Joi.object({
  format: Joi.valid('send-plan/1'),
  seed: whole.default(1),
  now: Joi.number().required(),
  horizonDays: whole.min(0).required(),
  calendar: Joi.object({ weekdays: weekdays.required(), holidays: Joi.array().items(isoDay).default([]) }).required(),
  domainCap: whole.min(0).allow(null).default(null),
  mailboxes: Joi.array().items(mailbox).required(),
  campaigns: Joi.array().items(campaign).required(),
  zones: Joi.array().items(zone).required(),
  domains: Joi.array().items(Joi.string()),
  recipients: Joi.object({
    count: index.required(),
    // Columns may be long: they are read by hand, below.
    ...Object.fromEntries(COLUMNS.map((c) => [c, Joi.any()])),
  }).required(),
});

/** The default of each optional column, and the bounds of its values. */
function boundsOf(input: PlanInput): Record<(typeof COLUMNS)[number], { other: number; low: number; high: number }> {
  const most = 2 ** 31 - 1;
  return {
    campaign: { other: 0, low: 0, high: input.campaigns.length - 1 },
    zone: { other: 0, low: 0, high: Math.max(0, input.zones.length - 1) },
    domain: { other: 0, low: 0, high: most },
    notBefore: { other: -1, low: -1, high: most },
    units: { other: 1, low: 1, high: most },
    boundMailbox: { other: -1, low: -1, high: input.mailboxes.length - 1 },
    nextStep: { other: 0, low: 0, high: most },
    dueDay: { other: -1, low: -1, high: most },
    at: { other: -1, low: -1, high: MAX_INSTANT },
  };
}

/**
 * Reads a planning input of the form `send-plan/1` (docs/formats.md).
 *
 * @throws DomainError `invalid` that says what, where and what was expected
 */
export function readPlanInput(text: string): PlanInput {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch (error) {
    throw new DomainError('invalid', `The file is not JSON: ${(error as Error).message}.`, { cause: error });
  }
  const input = parse(instance, json);
  const bounds = boundsOf(input);
  const { recipients } = input;
  for (const column of COLUMNS) {
    const given: unknown = recipients[column];
    const { other, low, high } = bounds[column];
    recipients[column] = given === undefined ? new Array<number>(recipients.count).fill(other) : (given as number[]);
    checkColumn(column, recipients[column], recipients.count, low, high);
  }
  input.campaigns.forEach((c, at) => {
    const wrong = c.mailboxes.find((m) => m >= input.mailboxes.length);
    if (wrong !== undefined)
      throw invalid(`campaigns[${at}].mailboxes names ${wrong}; expected 0 to ${input.mailboxes.length - 1}`);
  });
  return input;
}

function checkColumn(name: string, column: unknown, count: number, low: number, high: number): void {
  if (!Array.isArray(column) || column.length !== count)
    throw invalid(`recipients.${name} must be a list of ${count} numbers, the number in recipients.count`);
  const wrong = column.findIndex((v) => !Number.isInteger(v) || v < low || v > high);
  if (wrong >= 0)
    throw invalid(
      `recipients.${name}[${wrong}] is ${JSON.stringify(column[wrong])}; expected a whole number, ${low} to ${high}`,
    );
}

const invalid = (words: string) => new DomainError('invalid', `${words}.`);

/** The plan of an input in its open form. */
export function planFile(text: string, tier: Tier): object {
  const plan = planSends(readPlanInput(text), tier);
  const day = (n: number | null) => (n === null ? null : isoDate(n));
  return {
    plan: plan.deliveries.map((d) => ({ ...d, day: isoDate(d.day) })),
    notPlaced: plan.notPlaced,
    campaigns: plan.campaigns.map(({ firstDay, lastStartDay, lastDay, late }) => ({
      firstDay: day(firstDay),
      lastStartDay: day(lastStartDay),
      lastDay: day(lastDay),
      late,
    })),
  };
}
