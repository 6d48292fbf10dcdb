import { conditionVerdict, isoDate, isOpen, passOver, stateAfter, whyPassedOver } from '@baton/core';
import { calendarOf } from '../mailboxes/capacity';
import { wantPlan } from '../planning/want-plan';
import { readSteps } from '../store/campaigns/campaign-rows';
import {
  failReturnedOf,
  peopleOnTheWay,
  putPassedOver,
  removePlannedOf,
  takeTimes,
} from '../store/campaigns/change-rows';
import { addEvents } from '../store/campaigns/event-rows';
import { announce } from '../store/changes';
import type { Queryable, Store } from '../store/database';
import { peopleToPassOver } from '../store/signals/signal-rows';
import { readWorkspace } from '../store/workspace-rows';
import { zones } from '../time/zones';
import { finishIfDone } from './apply-event';

/** People in one go. */
const AT_ONCE = 1000;

/** Passes follow-ups over that can go to their recipients no more, or whose last day has passed. @returns for how many */
export async function passOverDue({ db }: Store, nowMs: number): Promise<number> {
  let all = 0;
  const { zone } = await readWorkspace(db);
  const today = isoDate(zones.get(zone).toLocal(nowMs).day);
  for (;;) {
    const due = await peopleToPassOver(db, today, AT_ONCE);
    let done = 0;
    for (const campaignId of new Set(due.map((d) => d.campaignId))) {
      const ids = due.filter((d) => d.campaignId === campaignId).map((d) => d.id);
      done += await db.transaction(async (tx) => {
        // What is just leaving is waited for: it counts as sent.
        await takeTimes(tx, campaignId, ids);
        return passOverPeople(tx, campaignId, ids, { nowMs, isDue: false });
      });
    }
    all += done;
    if (done === 0) return all;
  }
}

/**
 * Passes the next follow-up of people over where its condition does not hold; what comes behind it comes when it would have.
 *
 * @param isDue whether its day has come, so that what might still come to hold does not
 * @returns for how many
 */
export async function passOverPeople(
  tx: Queryable,
  campaignId: number,
  ids: readonly number[],
  { nowMs, isDue }: { nowMs: number; isDue: boolean },
): Promise<number> {
  const steps = await readSteps(tx, [campaignId]);
  const workspace = await readWorkspace(tx);
  const calendar = calendarOf(workspace);
  const today = isoDate(zones.get(workspace.zone).toLocal(nowMs).day);
  const passed = (await peopleOnTheWay(tx, campaignId, ids)).flatMap((person) => {
    const step = steps[person.sent];
    if (step === undefined || person.sent === 0 || !isOpen(person.state)) return [];
    const isOver = step.lastDay !== null && today > step.lastDay;
    const verdict = isOver ? 'never' : conditionVerdict(step.condition, person);
    if (verdict === 'holds' || (verdict === 'not_yet' && !isDue)) return [];
    const kind: 'skipped' | 'skipped_last' = person.sent + 1 >= steps.length ? 'skipped_last' : 'skipped';
    const state = stateAfter(person.state, kind, true);
    return [
      {
        ...person,
        ...passOver(person, steps, calendar),
        since: person.state,
        state,
        kind,
        why: isOver ? 'its last day has passed' : whyPassedOver(step.condition),
      },
    ];
  });
  await putPassedOver(tx, passed, nowMs);
  const passedIds = passed.map((p) => p.id);
  await removePlannedOf(tx, passedIds);
  await failReturnedOf(tx, passedIds);
  await addEvents(
    tx,
    passed.map(({ id, contactId, kind, why }) => ({
      ...{ at: nowMs, contactId, enrolmentId: id, deliveryId: null, detail: why },
      kind,
    })),
  );
  await finishIfDone(tx, campaignId, nowMs);
  await wantPlan(tx, nowMs);
  await announce(tx, 'progress', 'today');
  return passed.length;
}
