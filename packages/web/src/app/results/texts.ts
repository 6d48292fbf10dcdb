import type { RateName, ResultDimension } from '@baton/core';
import type { RowsFormat } from '@baton/contract';
import { chartTexts } from '../look/charts/texts';
import { counted } from '../look/counts';
import { listed, plural, say, type Shown } from '../look/language';

const RATE_NAMES = {
  replied: 'replied',
  interested: 'interested',
  meetings: 'meetings',
  clicked: 'followed a link',
  opened: 'opened',
  unsubscribed: 'unsubscribed',
  complained: 'reported as spam',
  bounced: 'bounced',
} satisfies Record<RateName, string>;

/** What results says on screen. */
export const resultsTexts = {
  rates: RATE_NAMES,
  did: {
    replied: 'got more replies',
    interested: 'found more interest',
    meetings: 'led to more meetings',
    clicked: 'had more links followed',
    opened: 'was opened by more',
    unsubscribed: 'made more people unsubscribe',
    complained: 'was reported as spam by more',
    bounced: 'bounced more often',
  } satisfies Record<RateName, string>,
  by: {
    message: 'message',
    variant: 'variant',
    mailbox: 'mailbox',
    list: 'list',
    segment: 'segment',
    domain: 'company',
    country: 'country',
    weekday: 'weekday',
    hour: 'hour',
    weekday_hour: 'weekday and hour',
  } satisfies Record<ResultDimension, string>,
  words: {
    nobodyReached: 'Nobody has been reached yet.',
    replied: (replied: number, reached: number) =>
      plural(reached, {
        one: say`${replied} of 1 person reached has replied`,
        other: say`${replied} of ${reached} people reached replied`,
      }),
    range: (percent: Shown, low: Shown, high: Shown) => say` (${percent} %, likely between ${low} and ${high})`,
    outcomes: (interested: number, meetings: number) =>
      meetings === 0
        ? plural(interested, { one: '; 1 is interested', other: say`; ${interested} are interested` })
        : `${plural(interested, { one: '; 1 is interested', other: say`; ${interested} are interested` })}, ${plural(
            meetings,
            { one: 'and 1 meeting is set', other: say`and ${meetings} meetings are set` },
          )}`,
    broughtBy: (parts: readonly string[]) => ` Of the replies, ${listed(parts)}.`,
    firstBrought: (n: number) => say`${n} came after the first message`,
    followUpBrought: (place: number, n: number) => say`${n} after follow-up ${place}`,
    expected: (n: number) =>
      plural(n, { one: ' About 1 more is to be expected.', other: say` About ${n} more are to be expected.` }),
    toCome: (toCome: number, silent: number) =>
      toCome === 0
        ? ''
        : say` Of the ${silent} who are silent, ${toCome} ${plural(toCome, { one: 'gets', other: 'get' })} another message.`,
    mayBeChance: (p: Shown) => say`may be chance (p ${p})`,
    notByChance: (p: Shown) => say`fewer, not by chance (p ${p})`,
    underWay: 'still under way',
    best: 'the most',
    asMany: 'as many',
    noValue: 'no value',
    noPlace: 'no link followed, or not known',
    bounces: { unknown: 'no such address', unreachable: 'full or out of reach', blocked: 'blocked' },
    ofKind: (n: number, kind: string) => say`${n} ${kind}`,
    bounced: (n: number, kinds: readonly string[]) => say`${n} bounced: ${listed(kinds)}.`,
    left: (unsubscribed: number) => say`${unsubscribed} unsubscribed.`,
    complained: (n: number) => say`${n} reported a message as spam.`,
    otherGroups: (n: number) => plural(n, { one: '1 more, smaller', other: say`${n} more, each smaller` }),
    shareOf: (count: number, percent: Shown) => say`${count} · ${percent} %`,
    rangeAlone: (low: Shown, high: Shown) => say`${low} to ${high} %`,
    rangeSpoken: (percent: Shown, low: Shown, high: Shown) => say`${percent} %, likely between ${low} and ${high} %`,
    hour: (hour: number) => `${hour}:00`,
    weekdayHour: (day: string, hour: number) => `${day} ${hour}:00`,
  },
  rowsBack: {
    rowsBack: 'Export rows with outcomes',
    as: 'As another file …',
    formats: {
      csv: 'CSV',
      tsv: 'Tab-separated (TSV)',
      xlsx: 'Spreadsheet (XLSX)',
      ods: 'Spreadsheet (ODS)',
      jsonl: 'JSON Lines',
    } satisfies Record<RowsFormat, string>,
    sentMbox: 'Sent messages (mbox)',
    sentZip: 'Sent messages (.eml in a ZIP)',
  },
  overview: {
    nothingYet: 'What became of your campaigns stands here, once the first message has left.',
    toCampaigns: 'Campaigns',
    campaign: 'Campaign',
    since: 'Since',
    together: 'All together',
    sideBySide: 'Campaigns side by side',
  },
  campaign: {
    allResults: 'All results',
    brief: 'The campaign',
    print: 'Print',
    since: (day: Shown) => say`since ${day}`,
    refused: (n: number) =>
      plural(n, {
        one: '; 1 more address was refused before anything had left to it',
        other: say`; ${n} more addresses were refused before anything had left to them`,
      }),
    stream: (people: number, meetings: number) =>
      `From ${counted.people(people)} to ${plural(meetings, { one: '1 meeting', other: say`${meetings} meetings` })}`,
    widthIsPeople: 'the width is people; what leaves the stream is why',
    whatDidBetter: 'What did better?',
    toldApartBy: 'Told apart by',
    by: (what: string) => `by ${what}`,
    column: 'a column …',
    othersOfTheYear: 'Your other campaigns of the last year',
    weakSign: (programs: number) =>
      `An open is a weak sign: many mail programs load no pictures, and others load them unread.${
        programs === 0
          ? ''
          : plural(programs, {
              one: ' The messages of 1 person were looked at by programs only, which are not counted.',
              other: say` The messages of ${programs} people were looked at by programs only, which are not counted.`,
            })
      }`,
    notCounted: 'This campaign does not count them.',
    whenRepliesCame: 'When replies came',
    aDotAReply: 'a dot is a reply; a bar is a day on which the message left, as high as many did',
    newestOnly: (n: Shown) => say`the newest ${n} replies`,
    stillSilent: 'How long people stay silent',
    shareStillSilent: 'the share of those reached who have not replied, by days since their first message',
    inFigures: chartTexts.inFigures,
    noSegments: 'The lists of this campaign have no segments with people in it.',
    placesOfClicks:
      'Only whoever followed a link has a country: compare countries with one another, not with those who followed none.',
    severalSegments: 'Whoever is in several segments counts in each.',
    messages: 'Message',
    left: 'Left',
    from: 'From',
    to: 'To',
    days: 'Days',
    silentPercent: 'Still silent (%)',
    day: 'Day',
    replied: 'Replied',
    repliedOf: (newest: string) => `Replied, of ${newest}`,
  },
  figures: {
    what: 'What',
    people: 'People',
    of: 'Of',
    percent: 'Percent',
    low: 'Likely from (%)',
    high: 'Likely to (%)',
  },
  comparison: {
    soFar: 'So far',
    reached: 'reached',
    columns: {
      ...RATE_NAMES,
      written: 'written to',
      unreachable: 'bounced, full or out of reach',
      blocked: 'bounced, blocked',
    },
    percent: (rate: string) => `${rate} (%)`,
  },
  /** What files are called. */
  files: {
    stream: (campaign: string) => `${campaign}, people`,
    by: (campaign: string, what: string) => `${campaign}, by ${what}`,
    replies: (campaign: string) => `${campaign}, replies`,
    silence: (campaign: string) => `${campaign}, still silent`,
    campaigns: 'Campaigns side by side',
    message: (message: string) => `${message}, results`,
  },
  period: {
    firstWrittenTo: 'First written to',
    anyTime: 'at any time',
    lastDays: (n: Shown) => say`in the last ${n} days`,
    otherDays: 'on other days …',
    firstDay: 'First day',
    lastDay: 'Last day',
    to: 'to',
    before: (days: number) => plural(days, { one: 'The day before', other: say`The ${days} days before` }),
    nobody: 'Nobody was first written to on these days.',
  },
  scale: {
    compareBy: 'Compare by',
    reached: 'Reached',
    writtenTo: 'Written to',
    ofThoseReached: 'of those reached, with the 95 % range',
    ofThoseWrittenTo: 'of those written to, with the 95 % range',
  },
  message: {
    nobody: 'It has reached nobody yet.',
    words: (reached: number, campaigns: number, replied: number, range: string) =>
      say`It has reached ${counted.people(reached)} in ${counted.campaigns(campaigns)}; ${replied} replied to it${range}.`,
    campaign: 'Campaign',
    place: 'As',
    earlierText: (as: string, day: Shown) => say`${as}, with its text until ${day}`,
  },
  stream: {
    written: (n: Shown) => say`${n} written to`,
    reached: (n: Shown) => say`${n} reached`,
    bounced: (n: Shown) => say`${n} bounced`,
    left: (n: Shown) => say`${n} unsubscribed`,
    replied: (n: Shown) => say`${n} replied`,
    interested: (n: number, meetings: number) =>
      say`${n} interested · ${plural(meetings, { one: '1 meeting', other: say`${meetings} meetings` })}`,
    silent: (n: number, toCome: number) =>
      toCome === 0 ? say`${n} silent` : say`${n} silent, ${toCome} of them still to get a follow-up`,
    spoken: (parts: readonly string[]) => `${listed(parts)}.`,
  },
  answers: {
    firstMessage: 'first message',
    followUp: (place: number) => say`follow-up ${place}`,
    now: 'now',
    ofDay: (day: Shown, sent: number) => say`${day}: ${counted.messages(sent)} left`,
    spoken: (parts: readonly string[]) => `${parts.join('; ')}.`,
    step: (name: string, replied: number, from: string, to: string) =>
      `${name}: left from ${from} to ${to}, ${plural(replied, { one: '1 reply', other: say`${replied} replies` })}`,
  },
  week: {
    share: (count: number, of: number) => say`${count} of ${of}`,
    hour: (hour: number) => `${hour}:00`,
    cell: (day: string, hour: number, count: number, of: number) =>
      say`${day} ${hour}:00 to ${hour + 1}:00: ${count} of ${of}`,
    likely: (words: string, low: Shown, high: Shown) => say`${words}, likely between ${low} and ${high} %`,
    spoken: (parts: readonly string[]) => `${parts.join('; ')}.`,
    nothing: 'Nobody has been reached yet.',
    fileLegend: (rate: string) => `${rate}, by the hour at which the first message left`,
    legend:
      'The hour at which the first message left: how many of those reached, or where there is little room what percent. The stronger the colour, the higher the lower end of the 95 % range: few people make no strong one.',
  },
  silence: {
    day: (n: number) => plural(n, { one: '1 day', other: say`${n} days` }),
    spoken: (share: Shown, days: number) =>
      plural(days, {
        one: say`After 1 day ${share} % are still silent.`,
        other: say`After ${days} days ${share} % are still silent.`,
      }),
  },
};
