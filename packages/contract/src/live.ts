import type { DateForm } from '@baton/core';

/**
 * What may change; the server sends these to the web app as they happen. `campaigns` is what a campaign says and
 * whether it runs; `progress` is what becomes of its recipients and its plan, many times a minute.
 */
export const TOPICS = [
  'clock',
  'people',
  'imports',
  'messages',
  'campaigns',
  'progress',
  'mailboxes',
  'replies',
  'today',
] as const;
export type Topic = (typeof TOPICS)[number];

export function isTopic(text: unknown): text is Topic {
  return (TOPICS as readonly unknown[]).includes(text);
}

/** An error as it crosses HTTP (RFC 9457). */
export interface Problem {
  type: string;
  title: string;
  status: number;
  detail: string;
}

/** The workspace clock as the top line shows it. */
export interface ClockView {
  simulated: boolean;
  nowMs: number;
  /** Simulated per real time; 0 while held; 1 in real time. */
  rate: number;
  /** Being driven to an instant or event as fast as the work allows. */
  driving: boolean;
  zone: string;
}

export type ClockChange = { rate: number } | { untilMs: number } | { toNextEvent: true };

/** What the shell shows on every page. */
export interface ShellView {
  workspace: string;
  dateForm: DateForm;
  clock: ClockView;
  heldAll: boolean;
  sentToday: number;
  plannedToday: number;
  repliesWaiting: number;
  mailboxesInTrouble: number;
  demo: boolean;
}
