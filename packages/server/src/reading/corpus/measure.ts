import { chanceOf, classify, receivedAt, type Classified } from '@baton/core';
import { parseMail } from '../parse-mail';
import type { MailCase } from './mail-case';

/** What is read of a message, each right or wrong. */
export const ASPECTS = [
  'kind',
  'sub-kind',
  'recipient',
  'date of return',
  'own words',
  'new contact',
  'suggestion',
] as const;
export type Aspect = (typeof ASPECTS)[number];

/** Whether a message was kept aside: read for the table only, never to mend what is wrong with it. */
export const isAside = ({ name }: MailCase): boolean => chanceOf(`aside ${name}`) < 0.1;

/** What is true of a message and what was read of it, by aspect; those are left out of which the message says nothing. */
export async function measure(mail: MailCase): Promise<{ aspect: Aspect; expected: unknown; found: unknown }[]> {
  const parsed = await parseMail(mail.raw);
  const found = classify(parsed, receivedAt(parsed.headers, Date.UTC(2026, 10, 24)));
  return ASPECTS.flatMap((aspect) => {
    const [expected, read] = OF[aspect](mail, found);
    return expected === undefined ? [] : [{ aspect, expected, found: read }];
  });
}

const OF: Record<Aspect, (mail: MailCase, found: Classified) => [expected: unknown, found: unknown]> = {
  kind: (mail, found) => [mail.kind, found.kind],
  'sub-kind': (mail, found) => [mail.bounce, found.bounce],
  recipient: (mail, found) => [mail.concerns, found.concerns],
  'date of return': (mail, found) => [mail.backOn, found.backOn],
  'own words': (mail, found) => [mail.own, found.own],
  'new contact': ({ contact }, found) => [
    contact,
    contact &&
      Object.fromEntries(
        (Object.keys(contact) as (keyof typeof contact)[]).map((key) => [key, found.contact?.[key] ?? null]),
      ),
  ],
  suggestion: (mail, found) => [mail.suggests, found.suggests?.what],
};
