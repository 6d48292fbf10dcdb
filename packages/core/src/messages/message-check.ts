import type { Place } from './message-content';

/** What a check is about. `stop`: nothing of it is sent so; `look`: it can be, and should be looked at. */
export interface MessageCheck {
  kind: CheckKind;
  level: 'stop' | 'look';
  words: string;
  place: Place | 'layout';
  /** Text to be found at that place. */
  near?: string;
  /** The field it is about, by name; and the one that may have been meant. */
  field?: string;
  meant?: string;
  /** How many people, and the positions of the first few in the list. */
  people?: number;
  who?: number[];
}

export type CheckKind =
  | 'no_subject'
  | 'unknown_field'
  | 'blank_field'
  | 'no_unsubscribe'
  | 'dead_link'
  | 'bare_link'
  | 'link_elsewhere'
  | 'odd_host'
  | 'many_links'
  | 'false_reply'
  | 'picture_without_text'
  | 'picture_without_source'
  | 'long_subject'
  | 'loud'
  | 'filter_words'
  | 'few_words'
  | 'too_large'
  | 'large_files'
  | 'file_missing'
  | 'no_plain'
  | 'low_contrast'
  | 'plain_by_hand';
