import {
  MOST_DAILY_LIMIT,
  MOST_DAYS_AGO,
  MOST_DELAY_DAYS,
  MOST_FIRST,
  MOST_GROUP_WAIT,
  MOST_OF_COMPANY,
  MOST_PARTS,
  type BriefChange,
} from '@baton/contract';
import { FOLLOW_UP_CONDITIONS, WATCHES } from '@baton/core';
import Joi from 'joi';
import { isoDay, rowId } from '../http/validate';

const id = rowId;

export const campaignName = Joi.string().trim().min(1).max(120).required();

const watches = Joi.string()
  .valid(...WATCHES)
  .default('none');

const parts = Joi.array()
  .max(MOST_PARTS)
  .unique()
  .items(Joi.object({ listId: id.required(), segmentId: id.allow(null).default(null) }))
  .default([]);

/** The choices of a campaign, as they come in. */
export const changeBody = Joi.object<BriefChange>({
  revision: Joi.number().integer().min(0).required(),
  name: campaignName,
  listId: id.allow(null).required(),
  segmentId: id.allow(null).default(null),
  usesPicked: Joi.boolean().default(false),
  alsoParts: parts,
  exceptParts: parts,
  steps: Joi.array()
    .max(10)
    .items(
      Joi.object({
        number: Joi.number().integer().min(0).max(10_000).allow(null).default(null),
        startsThread: Joi.boolean().default(false),
        condition: Joi.string()
          .valid(...FOLLOW_UP_CONDITIONS)
          .default('no_reply'),
        renews: Joi.boolean().default(false),
        messageId: id.allow(null).required(),
        others: Joi.array().max(9).items(id.allow(null)).default([]),
        ifClicked: id.allow(null).default(null),
        delay: Joi.number().integer().min(0).max(MOST_DELAY_DAYS).required(),
        tolerance: Joi.number().integer().min(0).max(60).required(),
        quotes: Joi.boolean().default(false),
        lastDay: isoDay.allow(null).default(null),
        hours: Joi.object({
          from: Joi.number().integer().min(0).max(1439).required(),
          to: Joi.number().integer().greater(Joi.ref('from')).max(1440).required(),
        })
          .allow(null)
          .default(null),
        answersLast: Joi.boolean().default(false),
      }),
    )
    .required(),
  mailboxIds: Joi.array().max(200).unique().items(id).required(),
  senderKey: Joi.string().max(200).allow(null).default(null),
  keepsSender: Joi.boolean().default(false),
  startDate: isoDay.required(),
  startMinute: Joi.number().integer().min(0).max(1439).allow(null).default(null),
  endDate: isoDay.allow(null).default(null),
  endMinute: Joi.number().integer().min(1).max(1440).allow(null).default(null),
  window: Joi.object({
    weekdays: Joi.array().unique().min(1).items(Joi.number().integer().min(1).max(7)).required(),
    from: Joi.number().integer().min(0).max(1439).required(),
    to: Joi.number().integer().greater(Joi.ref('from')).max(1440).required(),
  }).required(),
  windowZone: Joi.string().valid('recipient', 'workspace').required(),
  dailyLimit: Joi.number().integer().min(1).max(MOST_DAILY_LIMIT).allow(null).required(),
  share: Joi.number().integer().min(1).max(9).default(1),
  leaveOutBlank: Joi.boolean().required(),
  leaveOutDoubtful: Joi.boolean().allow(null).default(null),
  allowsOthers: Joi.boolean().default(false),
  notWithinDays: Joi.number().integer().min(1).max(MOST_DAYS_AGO).allow(null).default(null),
  mostPerCompany: Joi.number().integer().min(1).max(MOST_OF_COMPANY).allow(null).default(null),
  firstGroup: Joi.number().integer().min(1).max(MOST_FIRST).allow(null).default(null),
  groupWait: Joi.number().integer().min(1).max(MOST_GROUP_WAIT).default(1),
  groupByHand: Joi.boolean().default(false),
  releasedByHand: Joi.boolean().default(false),
  enrolNew: Joi.boolean().default(false),
  replyEndsHere: Joi.boolean().default(false),
  holdsColleagues: Joi.boolean().default(false),
  watchesOpens: watches,
  watchesClicks: watches,
  watchesPlaces: Joi.boolean().default(false),
  variants: Joi.array().max(10).items(Joi.number().integer().min(0).max(100)).default([]),
  stopsLosers: Joi.boolean().default(false),
  needsLines: Joi.boolean().default(false),
});
