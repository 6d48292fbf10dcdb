import type { WeekWindows } from '@baton/core';

export interface ServerChoice {
  host: string;
  port: number;
  security: 'tls' | 'starttls' | 'none';
}

export interface MailboxChoices {
  address: string;
  senderName: string;
  signature: string;
  smtp: ServerChoice;
  imap: ServerChoice;
  username: string;
  /** Blank on a change: keep the one there is. */
  password: string;
  zone: string;
  windows: WeekWindows;
  dailyQuota: number;
  ramp: { first: number; add: number; every: number } | null;
  providerLimit24h: number | null;
  paceSeconds: number;
  keepsSent: boolean;
}

export interface MailboxView extends Omit<MailboxChoices, 'password'> {
  id: number;
  held: boolean;
  restUntil: string | null;
  restReason: string | null;
  problem: string | null;
  quotaToday: number;
  sentToday: number;
  plannedToday: number;
  lastReadAt: number | null;
}

export interface MailboxTest {
  steps: { name: string; ok: boolean; said: string }[];
  ok: boolean;
}
