import { rateRange, type MailboxHealth } from '@baton/core';
import { mailboxesTexts } from './texts';

const texts = mailboxesTexts.healthWords;

/** One rate of a mailbox's fortnight. */
export interface HealthRate {
  name: 'bounced' | 'refused' | 'complained' | 'replied';
  label: string;
  count: number;
  /** Of how many, and between which shares the true one lies. */
  words: string;
  /** More than a mailbox should have, even at the lower end of the range. */
  bad: boolean;
}

/** Above these shares receivers begin to mistrust a sender. */
const BAD: Partial<Record<HealthRate['name'], number>> = { bounced: 0.03, refused: 0.03, complained: 0.001 };

const percent = (share: number) => {
  const n = share * 100;
  return n > 0 && n < 10 ? n.toFixed(1).replace(/\.0$/, '') : n.toFixed(0);
};

/** The fortnight's counts with the ranges that so few messages allow. */
export function healthRates({ sent, bounces, refusals, complaints, replies }: MailboxHealth): HealthRate[] {
  const rate = (name: HealthRate['name'], count: number): HealthRate => {
    const { low, high } = rateRange(count, sent);
    const words = sent === 0 ? texts.nothingSent : texts.of95RangeTo(sent, percent(low), percent(high));
    return { name, label: texts[name], count, words, bad: count > 0 && low > (BAD[name] ?? 1) };
  };
  return [
    rate('bounced', bounces),
    rate('refused', refusals),
    rate('complained', complaints),
    rate('replied', replies),
  ];
}
