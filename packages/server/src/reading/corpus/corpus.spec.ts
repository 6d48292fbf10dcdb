import { readFileSync } from 'node:fs';
import { beforeAll, describe, expect, it } from 'vitest';
import { CORPUS } from './corpus';
import type { MailCase } from './mail-case';
import { ASPECTS, isAside, measure, type Aspect } from './measure';

type Measured = Awaited<ReturnType<typeof measure>>;
const measured = new Map<MailCase, Measured>();
const isRight = ({ expected, found }: Measured[number]) => JSON.stringify(expected) === JSON.stringify(found);

beforeAll(async () => {
  for (const mail of CORPUS) measured.set(mail, await measure(mail));
}, 120_000);

/** What is known to be read wrong, each with the reason why it stays so. */
const KNOWN: Readonly<Record<string, string>> = {
  'wants out:  Who gave you my address? Delete it at once.': 'what “it” is stands in the sentence before',
};
const isKnown = ({ name }: MailCase) => Object.keys(KNOWN).some((known) => name.startsWith(known));

it('has no two messages of one name', () => expect(new Set(CORPUS.map((c) => c.name)).size).toBe(CORPUS.length));

it('is read as it is, but for what is known and what was kept aside', () => {
  const mistakes = [...measured]
    .filter(([mail]) => !isAside(mail) && !isKnown(mail))
    .flatMap(([{ name }, found]) => found.filter((m) => !isRight(m)).map((m) => ({ name, ...m })));
  expect(mistakes).toEqual([]);
});

it('takes no reply of a person for a bounce or for somebody who wants out', () => {
  const replies = CORPUS.filter((c) => c.kind === 'reply');
  const wrong = replies.filter((c) => {
    const kind = measured.get(c)?.find((m) => m.aspect === 'kind')?.found;
    return kind === 'bounce' || kind === 'unsubscribe';
  });
  expect(wrong.map((c) => c.name)).toEqual([]);
});

describe('docs/reading.md', () => {
  it('has the results as they are', () => {
    const docs = readFileSync(new URL('../../../../../docs/reading.md', import.meta.url), 'utf8').replace(/ +/g, ' ');
    expect(rows().filter((row) => !docs.includes(row))).toEqual([]);
  });
});

/** The rows of the table: of each kind, and then of each aspect, how many are right, of all and of those kept aside. */
function rows(): string[] {
  const count = (which: (mail: MailCase, aspect: Aspect) => boolean) => {
    const some = [...measured].flatMap(([mail, found]) =>
      found.filter((m) => which(mail, m.aspect)).map((m) => ({ right: isRight(m), aside: isAside(mail) })),
    );
    const of = (all: typeof some) => `${all.filter((m) => m.right).length} of ${all.length}`;
    return `${of(some)} | ${of(some.filter((m) => m.aside))}`;
  };
  const kinds = [...new Set(CORPUS.map((c) => c.kind))];
  return [
    ...kinds.map((kind) => `| ${kind} | ${count((mail, aspect) => mail.kind === kind && aspect === 'kind')} |`),
    ...ASPECTS.map((aspect) => `| ${aspect} | ${count((_, a) => a === aspect)} |`),
  ];
}
