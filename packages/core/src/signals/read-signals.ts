import { isbot } from 'isbot';

/** What comes back from a message that left: its picture is asked for, a link is followed, or the link that nobody sees. */
export const SIGNAL_KINDS = ['open', 'click', 'hidden'] as const;
export type SignalKind = (typeof SIGNAL_KINDS)[number];

/** One request for a picture or a link. */
export interface Signal {
  kind: SignalKind;
  at: number;
  /** The address that was followed; '' for an open. */
  link: string;
  /** How many links of the message can be counted. */
  links: number;
  /** Why the request itself looks like a program's; '' where it does not. */
  told: string;
}

/** What a request for a picture or a link says of itself. */
export interface Asking {
  method: string;
  userAgent: string;
  /** `Sec-Purpose`, `Purpose` and `X-Moz`, of which browsers send one where they fetch something ahead. */
  purpose: string;
}

/** A proxy that fetches pictures when somebody opens a message: a program, but there is a person behind it. */
const PICTURE_PROXY = /(?:image|mail) ?proxy/i;
/** The frame of a browser's name, without the browser: what fetches every picture on arrival sends it. */
const BARE = /^mozilla\/\d(?:\.\d+)?$/i;

/** Why a request looks like a program's; '' where it may be a person's. */
export function askedByProgram({ method, userAgent, purpose }: Asking): string {
  if (method === 'HEAD') return 'it only asked whether the link leads anywhere';
  if (/prefetch|prerender|preview/i.test(purpose)) return 'it was fetched ahead';
  const name = userAgent.trim();
  if (name === '') return 'it did not say what it is';
  if (BARE.test(name)) return 'it names no browser';
  return isbot(name) && !PICTURE_PROXY.test(name) ? 'it names itself as a program' : '';
}

/** Nobody has read a message so soon after it left: what looks at it on the way has. */
const FIRST_MS = 15_000;
/** Links followed within this time of each other are followed by a program, where they are most of the message's. */
const AT_ONCE_MS = 2_000;
const AT_ONCE_LINKS = 3;
/** Around the moment at which the hidden link is followed, everything is the work of whoever followed it. */
const HIDDEN_MS = 10_000;

/** Only once this has passed is it certain what a signal was part of. */
export const SIGNALS_SETTLE_MS = Math.max(AT_ONCE_MS, HIDDEN_MS);

/** What came back from one message, told apart. */
export interface ReadSignals {
  /** Why each of the signals is a program's, in their order; '' for a person's. */
  machine: string[];
  opens: SignalCount;
  clicks: SignalCount;
  /** Opens and clicks by programs. */
  byMachine: number;
}

/** How often something was done by a person, and when. */
export interface SignalCount {
  count: number;
  firstAt: number | null;
  lastAt: number | null;
}

/**
 * Tells apart what a person did with a message and what programs did on the way: in whatever order signals are known, the same
 * ones are read alike. Whoever follows a link has opened the message, whether or not its picture was loaded.
 *
 * @param signals all of one message
 * @param sentAt when it left
 */
export function readSignals(signals: readonly Signal[], sentAt: number): ReadSignals {
  const hidden = signals.filter((s) => s.kind === 'hidden').map((s) => s.at);
  const clicks = signals.filter((s) => s.kind === 'click').sort((a, b) => a.at - b.at);
  const machine = signals.map((s) => whyMachine(s, { sentAt, hidden, clicks }));
  const byPerson = (kind: SignalKind) => signals.filter((s, i) => s.kind === kind && machine[i] === '');
  const opened = [...byPerson('open'), ...byPerson('click')];
  const clicked = byPerson('click');
  return {
    machine,
    opens: { ...spanOf(opened), count: Math.max(byPerson('open').length, clicked.length > 0 ? 1 : 0) },
    clicks: { ...spanOf(clicked), count: clicked.length },
    byMachine: signals.filter((s, i) => s.kind !== 'hidden' && machine[i] !== '').length,
  };
}

function spanOf(of: readonly Signal[]): Pick<SignalCount, 'firstAt' | 'lastAt'> {
  const at = of.map((s) => s.at);
  return at.length === 0 ? { firstAt: null, lastAt: null } : { firstAt: Math.min(...at), lastAt: Math.max(...at) };
}

function whyMachine(
  signal: Signal,
  { sentAt, hidden, clicks }: { sentAt: number; hidden: readonly number[]; clicks: readonly Signal[] },
): string {
  if (signal.kind === 'hidden') return 'it followed a link that nobody sees';
  if (signal.told !== '') return signal.told;
  if (signal.at < sentAt + FIRST_MS) return 'it came within seconds of sending';
  if (hidden.some((at) => Math.abs(at - signal.at) <= HIDDEN_MS)) return 'it came with one that followed a hidden link';
  if (signal.kind !== 'click' || signal.links < 2) return '';
  const near = clicks.filter((c) => Math.abs(c.at - signal.at) <= AT_ONCE_MS);
  const different = new Set(near.map((c) => c.link)).size;
  return different >= Math.min(signal.links, AT_ONCE_LINKS) ? 'several links were followed at once' : '';
}

/** The most signals of one message that are kept: more say nothing more. */
export const MOST_SIGNALS = 500;
