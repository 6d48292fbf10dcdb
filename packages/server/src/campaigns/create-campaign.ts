import { DomainError, FIRST_WATCHES, isoDate, usualTerms } from '@baton/core';
import type { CampaignBeginning, NewCampaign } from '@baton/contract';
import type { ServerParts } from '../http/context';
import { calendarOf, localDay, restsOn } from '../mailboxes/capacity';
import { resolveChoice } from '../people/list/edit-rows';
import {
  addCampaign,
  readCampaignMailboxes,
  readSteps,
  replaceCampaignMailboxes,
  replaceSteps,
  updateCampaign,
  type CampaignRow,
} from '../store/campaigns/campaign-rows';
import { rowsOfEnrolments } from '../store/campaigns/recipient-rows';
import { announce } from '../store/changes';
import type { Queryable } from '../store/database';
import { listMailboxes } from '../store/mailboxes/mailbox-rows';
import { readMessagesById } from '../store/messages/message-rows';
import { readColumns, readList } from '../store/people/list/list-rows';
import { readSegment } from '../store/people/list/segment-rows';
import { readWorkspace } from '../store/workspace-rows';
import { zones } from '../time/zones';
import { listsOf } from './audience-parts';
import { requireCampaign } from './require-campaign';
import { ownChoices } from './change-work';
import { meantRecipients } from './person-acts';
import { takePattern } from './patterns';
import { textsChosen, withoutTexts } from './step-texts';

/**
 * A new draft with the choices most people make, each to be changed: weekdays 9:00 to 16:30, from the next working day, from
 * every mailbox that can send; and with what it is made from.
 *
 * @throws DomainError `not_found` where what it is made from is gone; `conflict` where others are found than were shown
 */
export async function createCampaign({ store, clock }: ServerParts, { name, from }: NewCampaign): Promise<number> {
  const nowMs = await clock.now();
  return store.db.transaction(async (tx) => {
    const workspace = await readWorkspace(tx);
    const today = zones.get(workspace.zone).toLocal(nowMs).day;
    const id = await addCampaign(tx, {
      ...{ name, state: 'draft', createdAt: nowMs, proposed: ['mailboxes', 'start'] },
      startDate: isoDate(calendarOf(workspace).add(today - 1, 1)),
      window: { weekdays: [1, 2, 3, 4, 5], from: 540, to: 990 },
      windowZone: 'recipient',
      ...FIRST_WATCHES,
    });
    const usable = (await listMailboxes(tx)).filter(
      (m) => !m.held && m.problem === null && m.dailyQuota > 0 && !restsOn(m, localDay(m, nowMs)),
    );
    await replaceCampaignMailboxes(
      tx,
      id,
      usable.map((m) => m.id),
    );
    if (from) await beginFrom(tx, id, from, nowMs);
    await announce(tx, 'campaigns');
    return id;
  });
}

async function beginFrom(tx: Queryable, id: number, from: CampaignBeginning, nowMs: number): Promise<void> {
  switch (from.kind) {
    case 'copy':
      return copy(tx, id, await requireCampaign(tx, from.campaignId));
    case 'pattern':
      return takePattern(tx, id, from.patternId);
    case 'message': {
      if (!(await readMessagesById(tx, [from.messageId])).has(from.messageId))
        throw new DomainError('not_found', 'There is no such message.');
      return replaceSteps(tx, id, [
        {
          ...{ messageId: from.messageId, ...usualTerms(0) },
          ...textsChosen(0, { others: [], ifClicked: null, condition: 'no_reply' }),
        },
      ]);
    }
    case 'segment': {
      const segment = await readSegment(tx, from.segmentId);
      if (segment?.listId !== from.listId) throw new DomainError('not_found', 'There is no such segment.');
      return updateCampaign(tx, id, { listId: from.listId, segmentId: from.segmentId });
    }
    case 'rows': {
      const { listId, choice } = from;
      const list = await readList(tx, listId);
      if (!list || list.removedAt !== null) throw new DomainError('not_found', 'There is no such list.');
      const rowIds = await resolveChoice({ tx, listId, columns: await readColumns(tx, listId), nowMs }, choice);
      const isWhole = 'query' in choice && choice.query.search === '' && choice.query.filters.length === 0;
      return updateCampaign(tx, id, { listId, picked: isWhole ? null : { rowIds, words: 'picked in the list' } });
    }
    case 'recipients': {
      const of = await requireCampaign(tx, from.campaignId);
      const rows = await rowsOfEnrolments(tx, await meantRecipients(tx, from.campaignId, from.who));
      // People may come from other lists than the campaign has now.
      const [listId = of.listId, ...others] = [...new Set([...listsOf(of), ...rows.map((r) => r.listId)])].filter((l) =>
        rows.some((r) => r.listId === l),
      );
      return updateCampaign(tx, id, {
        listId,
        alsoParts: others.map((other) => ({ listId: other, segmentId: null })),
        picked: {
          rowIds: rows.map((r) => r.id),
          words: `picked among those of ${of.name}`,
          listIds: [listId, ...others].filter((l) => l !== null),
        },
      });
    }
  }
}

/** The same choices but for the day; messages are taken as they are now. */
async function copy(tx: Queryable, id: number, of: CampaignRow): Promise<void> {
  const { name, startDate } = await requireCampaign(tx, id);
  await updateCampaign(tx, id, { ...ownChoices(of), name, startDate, proposed: ['start'] });
  await replaceSteps(tx, id, (await readSteps(tx, [of.id])).map(withoutTexts));
  await replaceCampaignMailboxes(
    tx,
    id,
    (await readCampaignMailboxes(tx, [of.id])).map((l) => l.mailboxId),
  );
}
