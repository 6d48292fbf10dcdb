import { isOpen, RECIPIENT_STATES, seededRandom, type RecipientState } from '@baton/core';
import type { BriefView, PersonRow } from '@baton/contract';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { stepOf, TestWorld } from '../testing/test-world';

let world: TestWorld;
beforeEach(async () => {
  world = await TestWorld.start();
});
afterEach(() => world.close());

/** Hours between two things that somebody does. */
const STEP_MS = 9 * 3_600_000;
const BEGIN = Date.parse('2026-11-02T08:00:00Z');

describe('changes in any order', () => {
  it.each([1, 11])(
    'leave everybody in a state, send nobody anything twice or after their end (seed %i)',
    async (seed) => {
      const random = seededRandom(seed);
      const pick = <T>(of: readonly T[]): T => of[Math.floor(random() * of.length)] as T;
      const mailboxes = [
        await world.connect('ines', { dailyQuota: 6 }),
        await world.connect('tomas', { dailyQuota: 6 }),
      ];
      const personas = Object.fromEntries(
        Array.from({ length: 12 }, (_, i) => [
          `p${i}@vines.example`,
          pick(['silent', 'silent', 'keen', 'bounces_later']),
        ]),
      );
      const texts = ['A', 'B', 'C', 'D', 'E', 'F'];
      const messages: number[] = [];
      for (const body of texts) messages.push(await world.message({ name: body, body }));
      const id = await world.begin({
        listId: await world.people(personas),
        mailboxIds: mailboxes,
        steps: [stepOf(messages[0] as number), stepOf(messages[1] as number, 2)],
      });
      const half = Object.keys(personas).filter((_, i) => i % 2 === 0);
      const others = await world.importCsv(['email', ...half, 'new@vines.example'].join('\n'), 'Others');
      const rowOf = (address: string, rows: readonly PersonRow[]) =>
        rows.filter((r) => r.address === address).map((r) => r.rowId);
      // Each text is at one step at most, so that whoever has it twice has had a step twice.
      let unused = messages.slice(2);
      const steps = (b: BriefView): BriefView['steps'] => {
        const rest = b.steps.slice(1);
        const what = random();
        if (what < 0.4 && unused[0] !== undefined) {
          const added = stepOf(unused[0], 1);
          unused = unused.slice(1);
          const at = Math.floor(random() * (rest.length + 1));
          return [b.steps[0] as BriefView['steps'][number], ...rest.slice(0, at), added, ...rest.slice(at)];
        }
        if (what < 0.7) return [b.steps[0] as BriefView['steps'][number], ...rest.filter(() => random() < 0.7)];
        return [b.steps[0] as BriefView['steps'][number], ...rest.reverse()];
      };
      const acts = [
        async (b: BriefView) => world.api.post(`/campaigns/${id}/changes`, { ...b, steps: steps(b) }),
        async (b: BriefView) => world.api.post(`/campaigns/${id}/changes`, { ...b, mailboxIds: [pick(mailboxes)] }),
        async (b: BriefView) => world.api.post(`/campaigns/${id}/changes`, { ...b, dailyLimit: pick([null, 3, 5]) }),
        async (b: BriefView) => {
          const parts = pick([[], [{ listId: others, segmentId: null }]]);
          await world.api.post(`/campaigns/${id}/changes`, { ...b, [pick(['alsoParts', 'exceptParts'])]: parts });
        },
        async () => {
          const [address, isBack] = [pick(half), random() < 0.5];
          const choice = { rows: rowOf(address, await world.rows(others, {}, isBack)) };
          await world.api.post(`/lists/${others}/${isBack ? 'restore' : 'remove'}-rows`, { choice });
        },
        async () => world.api.post(`/campaigns/${id}/changes/undo`, {}),
        async () => {
          const enrolmentIds = [pick(await world.recipients(id)).enrolmentId];
          await world.api.post(`/campaigns/${id}/people`, { act: pick(['end', 'skip', 'send_now']), enrolmentIds });
        },
      ];
      // Some have had the first message: the start can no longer be taken back.
      await world.drive(new Date(BEGIN + STEP_MS).toISOString());
      for (let i = 2; i <= 15; i++) {
        const b = await world.brief(id);
        if (b.state !== 'running') break;
        // What cannot be done is refused with a sentence, and changes nothing.
        await pick(acts)(b).catch((error: unknown) => expect(String(error)).toMatch(/: 4(00|09) /));
        await world.drive(new Date(BEGIN + i * STEP_MS).toISOString());
      }
      await world.drive('2026-12-24T20:00:00Z');
      for (const { address, state } of await world.recipients(id)) {
        const got = await world.firstLines(address);
        expect(RECIPIENT_STATES).toContain(state);
        expect(isOpen(state as RecipientState), `${address} is ${state} with ${got.join()}`).toBe(false);
        expect(new Set(got).size, `${address} got ${got.join()}`).toBe(got.length);
      }
      const { rows } = await world.store.pool.query(
        `select d.enrolment_id, e.kind from deliveries d join events e on e.enrolment_id = d.enrolment_id
       where e.kind in ('reply', 'hard_bounce', 'unsubscribe', 'ended_by_hand') and e.undone_at is null and d.sent_at > e.at`,
      );
      expect(rows).toEqual([]);
      expect((await world.brief(id)).state).toBe('finished');
    },
  );
});
