import type { MessageContent } from '../messages/message-content';

/** In which messages of a campaign something that recipients do is counted. */
export const WATCHES = ['none', 'layouts', 'all'] as const;
export type Watches = (typeof WATCHES)[number];

/** What of a campaign's messages is counted. */
export interface WatchChoices {
  watchesOpens: Watches;
  watchesClicks: Watches;
}

/** A new campaign counts both in messages with a layout; a plain letter is left as it was written. */
export const FIRST_WATCHES: WatchChoices = { watchesOpens: 'layouts', watchesClicks: 'layouts' };

/** Whether it is counted in a message of this form. */
export const isWatched = (watches: Watches, format: MessageContent['format']): boolean =>
  watches === 'all' || (watches === 'layouts' && format === 'layout');

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
export function watchWords({ watchesOpens: opens, watchesClicks: clicks }: WatchChoices, hasAddress: boolean): string {
  if (opens === 'none' && clicks === 'none') return 'Neither opens nor clicks are counted.';
  const said =
    opens === clicks
      ? `Opens and clicks are counted ${WHERE[opens]}`
      : opens === 'none'
        ? `Clicks are counted ${WHERE[clicks]}, opens are not`
        : clicks === 'none'
          ? `Opens are counted ${WHERE[opens]}, clicks are not`
          : `Opens are counted ${WHERE[opens]}, clicks ${WHERE[clicks]}`;
  return hasAddress ? `${said}.` : `${said}, once there is a public address.`;
}
