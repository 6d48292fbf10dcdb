import type { MailboxHealth, RestBounds, RestMoved, WeekWindows } from '@baton/core';

export interface ServerChoice {
  host: string;
  port: number;
  security: 'tls' | 'starttls' | 'none';
  /** A certificate (PEM) that is trusted for this server though the machine does not; absent for none. */
  trusted?: string;
}

/** A certificate that this machine does not trust, as it is shown to a person. */
export interface ServerCertificate {
  server: 'smtp' | 'imap';
  host: string;
  subject: string;
  issuer: string;
  validTo: number;
  /** SHA-256 of the certificate that would be trusted: of whoever signed the server's, where that is shown. */
  fingerprint: string;
  pem: string;
}

export interface MailboxChoices {
  address: string;
  senderName: string;
  signature: string;
  smtp: ServerChoice;
  imap: ServerChoice;
  username: string;
  /** Blank on a change: keep the one there is. Not asked for where there is a grant. */
  password: string;
  /** By which it signs in instead of a password; null for none. */
  grantId: number | null;
  zone: string;
  windows: WeekWindows;
  dailyQuota: number;
  ramp: { first: number; add: number; every: number } | null;
  providerLimit24h: number | null;
  paceSeconds: number;
  /** The folder into which a copy of each message that leaves is put; '' for none. */
  archiveFolder: string;
  /** Where replies go, where not to the mailbox itself; '' for itself. */
  replyTo: string;
  /** ISO dates on which it sends nothing. */
  daysOff: string[];
}

export interface MailboxView extends Omit<MailboxChoices, 'password'> {
  id: number;
  held: boolean;
  restUntil: string | null;
  restReason: string | null;
  /** What the rest changed for the messages planned in it; null until that is known. */
  restMoved: RestMoved | null;
  problem: string | null;
  /** Whether the connection test has found that the provider itself keeps a copy of what is sent. */
  keepsSent: boolean;
  /** Since when its server takes nothing from it, and what it said; null while it does. */
  failing: { since: number; words: string } | null;
  quotaToday: number;
  /** Units used today. */
  sentToday: number;
  /** Units of these that its owner sent by hand. */
  byHandToday: number;
  /** Why the last copy could not be put into its folder, in a sentence. */
  archiveProblem: string | null;
  plannedToday: number;
  lastReadAt: number | null;
  /** What came of its messages over 14 days. */
  health: MailboxHealth;
  /** The most it has sent on a day of the last thirty. */
  mostSent: number;
  /** Recipients in 24 hours after which the provider last said that it was too much; null for never. */
  learntLimit24h: number | null;
  /** Sending days that its ramp has behind it, those taken back not counted. */
  climbed: number;
  /** Other addresses on the same connection, which share its inbox and provider's limit. */
  sharesWith: string[];
}

/** What happened to a mailbox and from it. */
export interface MailboxHistory {
  /**
   * The last eight weeks, day by day up to today (ISO dates): the units that left, of how many that it might send, and what
   * came of the messages of campaigns that left then; null where none did.
   */
  days: { day: string; units: number; quota: number | null; health: MailboxHealth | null }[];
  /** The newest first. */
  events: { at: number; words: string }[];
}

/** Where an address's mail is probably sent and read. */
export interface FoundServers {
  smtp: ServerChoice;
  imap: ServerChoice;
  /** Whether the domain itself says so, and not only the usual names. */
  announced: boolean;
}

/** What holds for every mailbox. */
export interface MailboxRules {
  rest: RestBounds;
  /** Most messages to one domain from one mailbox on one day, or null. */
  domainCap: number | null;
  holidays: { day: string; name: string }[];
}

export interface MailboxTest {
  steps: { name: string; ok: boolean; said: string }[];
  ok: boolean;
  /** Whether the provider put a copy of the test's message into the Sent folder. */
  keepsSent: boolean;
  /** What a person may look at and trust, where the test failed for want of that. */
  untrusted: ServerCertificate | null;
}

/** What became of one row of a file of mailboxes. */
export interface ConnectedLine {
  line: number;
  address: string;
  ok: boolean;
  /** Where it failed, or that it works, in words. */
  words: string;
}
