import { hash32, seededRandom } from '@baton/core';

/** How a simulated recipient, or their server, behaves. */
export const PERSONAS = {
  silent: 'never answers',
  reader: 'reads, and says nothing',
  clicker: 'reads, follows a link, and says nothing',
  scanned: 'never answers; their server follows every link on arrival',
  keen: 'answers, interested',
  curious: 'answers the second message, interested',
  decliner: 'answers, not interested',
  referrer: 'answers that somebody else is the right person',
  asks_out: 'answers asking to be left alone',
  inline: 'answers between the quoted lines',
  foreigner: 'answers in another language',
  elsewhere: 'answers from another address, to no message',
  left: 'no longer works there: a program says whom to write to',
  leaves_by_link: 'presses the unsubscribe link',
  leaves_one_click: 'unsubscribes with their mail program’s button',
  away: 'is out of office',
  unknown: 'does not exist: refused at once',
  bounces_later: 'does not exist: taken, then sent back',
  full: 'has a full mailbox',
  full_later: 'has a full mailbox: taken, then sent back',
  greylisted: 'has a server that greylists',
  complains: 'marks as spam',
} as const;
export type Persona = keyof typeof PERSONAS;

export function isPersona(text: string): text is Persona {
  return Object.hasOwn(PERSONAS, text);
}

/** Of a thousand recipients, how many behave so. */
const SHARES: readonly [Persona, number][] = [
  ['silent', 342],
  ['scanned', 30],
  ['inline', 4],
  ['foreigner', 4],
  ['elsewhere', 3],
  ['left', 5],
  ['full_later', 2],
  ['reader', 275],
  ['clicker', 90],
  ['keen', 40],
  ['curious', 25],
  ['decliner', 30],
  ['referrer', 10],
  ['asks_out', 10],
  ['leaves_by_link', 12],
  ['leaves_one_click', 8],
  ['away', 35],
  ['unknown', 20],
  ['bounces_later', 20],
  ['full', 4],
  ['greylisted', 28],
  ['complains', 3],
];

/** The persona of an address: the same for the same seed, whatever else happens. */
export function drawPersona(seed: number, address: string): Persona {
  let at = seededRandom(hash32(`${seed}/${address}`))() * 1000;
  for (const [persona, share] of SHARES) if ((at -= share) < 0) return persona;
  return 'silent';
}

/** A number in [0, 1) fixed by seed and what it is for. */
export function drawFor(seed: number, what: string): number {
  return seededRandom(hash32(`${seed}|${what}`))();
}
