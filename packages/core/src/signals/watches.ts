import type { MessageContent } from '../messages/message-content';

/** In which messages of a campaign something that recipients do is counted. */
export const WATCHES = ['none', 'layouts', 'all'] as const;
export type Watches = (typeof WATCHES)[number];

/** What of a campaign's messages is counted. */
export interface WatchChoices {
  watchesOpens: Watches;
  watchesClicks: Watches;
  /** Whether the country is kept from which a link is followed. */
  watchesPlaces: boolean;
}

/** What is counted of messages, which are made accordingly. */
export type MessageWatches = Omit<WatchChoices, 'watchesPlaces'>;

/** A new campaign counts both in messages with a layout; a plain letter is left as it was written. */
export const FIRST_WATCHES: WatchChoices = {
  watchesOpens: 'layouts',
  watchesClicks: 'layouts',
  watchesPlaces: false,
};

/** Whether it is counted in a message of this form. */
export const isWatched = (watches: Watches, format: MessageContent['format']): boolean =>
  watches === 'all' || (watches === 'layouts' && format === 'layout');

/** Whether countries are kept: without clicks there are none. */
export const keepsPlaces = ({ watchesClicks, watchesPlaces }: WatchChoices): boolean =>
  watchesPlaces && watchesClicks !== 'none';

const WHERE: Readonly<Record<Watches, string>> = {
  none: 'in no message',
  layouts: 'in messages with a layout',
  all: 'in every message',
};

/**
 * What is counted, in a sentence.
 *
 * @param hasAddress whether there is a public address, without which nothing can be
 */
export function watchWords(choices: WatchChoices, hasAddress: boolean): string {
  const { watchesOpens: opens, watchesClicks: clicks } = choices;
  if (opens === 'none' && clicks === 'none') return 'Neither opens nor clicks are counted.';
  const said =
    opens === clicks
      ? `Opens and clicks are counted ${WHERE[opens]}`
      : opens === 'none'
        ? `Clicks are counted ${WHERE[clicks]}, opens are not`
        : clicks === 'none'
          ? `Opens are counted ${WHERE[opens]}, clicks are not`
          : `Opens are counted ${WHERE[opens]}, clicks ${WHERE[clicks]}`;
  const places = keepsPlaces(choices) ? ' Of a click the country is kept too.' : '';
  return `${said}${hasAddress ? '' : ', once there is a public address'}.${places}`;
}
