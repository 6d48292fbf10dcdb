/** A message that came in, as a MIME parser shows it. */
export interface IncomingMessage {
  /** Header values by name in lower case; several of one name joined by a line break. */
  headers: Readonly<Record<string, string>>;
  from: string;
  fromName: string;
  /** Addresses in To, in small letters. */
  to: readonly string[];
  subject: string;
  /** The readable text, quotations included. */
  text: string;
  /** Texts of its message/delivery-status and message/feedback-report parts. */
  deliveryReports: readonly string[];
  feedbackReports: readonly string[];
  /** Message or header parts enclosed in it, as text. */
  enclosed: readonly string[];
  /** Texts of its text/calendar parts. */
  calendars: readonly string[];
}

/** A message in which nothing stands. */
export const EMPTY_MESSAGE: IncomingMessage = {
  ...{ headers: {}, from: '', fromName: '', to: [], subject: '', text: '' },
  ...{ deliveryReports: [], feedbackReports: [], enclosed: [], calendars: [] },
};

/** The value of a header field of a message that is there as text only; null where it has none. */
export function fieldOf(message: string, name: string): string | null {
  const unfolded = message.replace(/\r?\n[ \t]+/g, ' ');
  return new RegExp(`^[>\\s]{0,4}${name}:[ \\t]*(.+)$`, 'im').exec(unfolded)?.[1]?.trim() ?? null;
}
