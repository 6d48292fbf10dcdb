import { DomainError, termsAt, termsOf, usualTerms } from '@baton/core';
import type { PatternView } from '@baton/contract';
import { readCampaign, readSteps, replaceSteps, updateCampaign } from '../store/campaigns/campaign-rows';
import { listPatterns, putPattern, readPattern, setPatternRemoved } from '../store/campaigns/pattern-rows';
import { announce } from '../store/changes';
import type { Database, Queryable } from '../store/database';
import { readMessagesById } from '../store/messages/message-rows';
import { textsChosen } from './step-texts';
import { PATTERN_CHOICES, type campaignPatterns } from '../store/schema/campaign-schema';

type PatternChoices = (typeof campaignPatterns.$inferSelect)['choices'];

const noPattern = () => new DomainError('not_found', 'There is no such pattern.');

/** Every pattern, with the names of its messages and the waits before them. */
export async function viewPatterns(db: Queryable): Promise<PatternView[]> {
  const patterns = await listPatterns(db);
  const ids = patterns.flatMap((p) => p.steps.map((s) => s.messageId)).filter((id) => id !== null);
  const messages = await readMessagesById(db, ids);
  return patterns.map(({ id, name, steps }) => ({
    id,
    name,
    steps: steps.map(({ messageId, delay }) => ({
      message: messageId === null ? null : (messages.get(messageId)?.name ?? null),
      delay,
    })),
  }));
}

/** Keeps a campaign's sequence under a name, with its waits, times and limits; one of that name is replaced. */
export async function keepPattern(db: Database, campaignId: number, name: string): Promise<void> {
  await db.transaction(async (tx) => {
    const campaign = await readCampaign(tx, campaignId);
    if (!campaign) throw new DomainError('not_found', 'There is no such campaign.');
    const steps = (await readSteps(tx, [campaignId])).map((step) => ({
      ...{ messageId: step.messageId, others: step.others.map((o) => o.messageId) },
      ifClicked: step.ifClicked?.messageId ?? null,
      // A day is one campaign's.
      ...{ ...termsOf(step), lastDay: null },
    }));
    if (steps.length === 0) throw new DomainError('invalid', 'A pattern needs at least one message.');
    const choices = Object.fromEntries(PATTERN_CHOICES.map((key) => [key, campaign[key]])) as unknown as PatternChoices;
    await putPattern(tx, { name, steps, choices });
    await announce(tx, 'campaigns');
  });
}

/** Deletes a pattern, or brings it back. @param at null brings it back */
export async function removePattern(db: Database, id: number, at: number | null): Promise<void> {
  await db.transaction(async (tx) => {
    if (!(await setPatternRemoved(tx, id, at))) throw noPattern();
    await announce(tx, 'campaigns');
  });
}

/** Gives a draft the sequence of a pattern; a message that has been deleted since is left to be chosen. */
export async function takePattern(tx: Queryable, campaignId: number, patternId: number): Promise<void> {
  const pattern = await readPattern(tx, patternId);
  if (!pattern) throw noPattern();
  const { steps, choices } = pattern;
  const known = await readMessagesById(
    tx,
    steps.flatMap((s) => [s.messageId, ...s.others, s.ifClicked ?? null]).filter((id) => id !== null),
  );
  const there = (id: number | null) => (id !== null && known.has(id) ? id : null);
  await updateCampaign(tx, campaignId, choices);
  await replaceSteps(
    tx,
    campaignId,
    steps.map(({ messageId, others, ifClicked = null, ...kept }, place) => {
      const terms = termsAt(place, { ...usualTerms(place), ...kept });
      const texts = { others: others.map(there), ifClicked: there(ifClicked), condition: terms.condition };
      return { messageId: there(messageId), ...terms, ...textsChosen(place, texts) };
    }),
  );
}
