import { describe, expect, it } from 'vitest';
import { readFileSync } from 'node:fs';
import type { PlanStep } from '@baton/core';
import { planFile, readPlanInput } from './plan-file';

/** The example of docs/formats.md. */
const docs = readFileSync(new URL('../../../../docs/formats.md', import.meta.url), 'utf8');
const example = /```json send-plan\n([\s\S]*?)```/.exec(docs)?.[1] as string;

interface Result {
  plan: { recipient: number; step: number; mailbox: number; day: string; instant: number }[];
  notPlaced: { recipient: number; reason: string }[];
  campaigns: object[];
}

/** The example as far as the tests change it. */
interface Example {
  format: string;
  mailboxes: { zone: string }[];
  campaigns: { mailboxes: number[]; startDate: string; steps: Partial<PlanStep>[] }[];
  recipients: { count: number; units?: number[]; zone?: number[] };
}
const change = (edit: (input: Example) => void) => {
  const input = JSON.parse(example) as Example;
  edit(input);
  return JSON.stringify(input);
};

describe('a planning input in its open form', () => {
  it.each(['quick', 'full'] as const)('is planned as docs/formats.md says, %s', (tier) => {
    const { plan, notPlaced, campaigns } = planFile(example, tier) as Result;
    expect(notPlaced).toEqual([]);
    expect(plan).toHaveLength(7);
    expect(campaigns).toEqual([{ firstDay: '2026-11-30', lastStartDay: '2026-11-30', lastDay: '2026-12-03', late: 0 }]);
    // The one in progress gets the second message from the mailbox it is bound to.
    expect(plan.filter((d) => d.recipient === 3)).toMatchObject([{ step: 1, mailbox: 0 }]);
    // Half past ten in Dublin.
    expect(plan.filter((d) => d.recipient === 1)).toMatchObject([{ step: 0, instant: 1796034600000 }, { step: 1 }]);
    expect(plan.map((d) => d.instant)).toEqual([...plan.map((d) => d.instant)].sort((a, b) => a - b));
  });

  it('knows hours and an end of one message', () => {
    const own = change((i) => Object.assign(i.campaigns[0]?.steps[1] ?? {}, { hours: { from: 840, to: 900 } }));
    const { plan } = planFile(own, 'full') as Result;
    const followUps = plan.filter((d) => d.step === 1).map((d) => new Date(d.instant).getUTCHours());
    expect(followUps.length).toBeGreaterThan(0);
    // Two in the afternoon in each of their zones, in winter.
    expect([...new Set(followUps)].sort()).toEqual([12, 14]);
    const over = change((i) => Object.assign(i.campaigns[0]?.steps[1] ?? {}, { endInstant: 1 }));
    expect((planFile(over, 'full') as Result).plan.filter((d) => d.step === 1)).toEqual([]);
    const wrong = change((i) => Object.assign(i.campaigns[0]?.steps[1] ?? {}, { hours: { from: 900, to: 840 } }));
    expect(() => planFile(wrong, 'full')).toThrow('campaigns[0].steps[1].hours.to');
  });

  it('needs no columns that say nothing', () => {
    const { recipients } = readPlanInput(change((i) => (i.recipients = { count: 3 })));
    expect(recipients).toMatchObject({ campaign: [0, 0, 0], units: [1, 1, 1], boundMailbox: [-1, -1, -1] });
  });

  it.each<[string, (input: Example) => unknown]>([
    [
      '"mailboxes[0].zone" is “Nowhere/City”, which is not a time zone',
      (i) => ((i.mailboxes[0] as { zone: string }).zone = 'Nowhere/City'),
    ],
    ['recipients.units[1] is 0; expected a whole number, 1 to', (i) => i.recipients.units?.splice(1, 1, 0)],
    ['recipients.zone must be a list of 4 numbers', (i) => i.recipients.zone?.pop()],
    ['campaigns[0].mailboxes names 5; expected 0 to 0', (i) => i.campaigns[0]?.mailboxes.splice(0, 1, 5)],
    ['"format" must be [send-plan/1]', (i) => (i.format = 'send-plan/9')],
    ['“2026-02-30” is not a date', (i) => i.campaigns.forEach((c) => (c.startDate = '2026-02-30'))],
  ])('says what is wrong: %s', (words, edit) => {
    expect(() => planFile(change(edit), 'full')).toThrow(words);
  });

  it('says of what is not JSON that it is none', () =>
    expect(() => planFile('{"now": ', 'full')).toThrow('The file is not JSON'));
});
