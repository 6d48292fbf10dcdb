import { isOpen, NO_RESULTS, RECIPIENT_STATES, seededRandom, sumOfResults } from '@baton/core';
import type pg from 'pg';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { asReader, counted, everybody, outcomeOf, stepReplied, type Person } from '../../testing/people-afresh';
import { createTestStore, MONDAY, type TestStore } from '../../testing/test-store';
import { countResults, QUARTER_MS } from './result-counting';
import {
  countsOfCampaigns,
  countsOfGroups,
  countsOfSteps,
  countsOfTexts,
  countsTogether,
  silencesOf,
} from './result-rows';

let store: TestStore;
beforeEach(async () => {
  store = await createTestStore();
  await store.pool.query(`
    insert into lists (id, name, source, created_at) values (1, 'People', '', 0);
    insert into mailboxes (id, address, sender_name, signature, smtp, imap, username, password_sealed, zone, windows, daily_quota, pace_seconds, keeps_sent, created_at)
      select n, 'm' || n || '@tidewaterkelp.example', '', '', '{}', '{}', '', '', 'UTC', '[]', 50, 60, true, 0 from generate_series(1, 2) n;
    insert into campaigns (id, name, state, list_id, start_date, "window", window_zone, created_at)
      select n, 'Trial ' || n, 'running', 1, '2026-11-02', '{}', 'workspace', 0 from generate_series(1, 3) n;
    insert into step_versions (campaign_id, position, others, until) select n, 0, '[]', 0 from generate_series(1, 3) n;
    insert into contacts (id, address, key, domain, created_at)
      select n, 'p' || n || '@vines.example', 'p' || n || '@vines.example', 'vines.example', 0 from generate_series(1, 8) n;
    insert into enrolments (id, campaign_id, contact_id, list_row_id, state, variant, changed_at)
      select c * 8 + k, c, k, k, 'in_progress', k % 2, 0 from generate_series(1, 3) c, generate_series(1, 8) k where (c + k) % 4 > 0`);
});
afterEach(() => store.drop());

const NOW = MONDAY + 30 * 24 * 3_600_000;

/** The counts as they stand, beside those counted afresh. */
async function expectCounts(): Promise<void> {
  const { db } = store;
  await countResults(store);
  const people = await everybody(store.pool);
  const campaigns = [...new Set(people.map((p) => p.campaignId))];
  expect((await countsOfCampaigns(db)).map((c) => c.campaignId).sort()).toEqual(campaigns.sort());
  for (const id of campaigns) {
    const own = people.filter((p) => p.campaignId === id);
    const quiet = own.filter((p) => p.replies.length === 0);
    const silent = quiet.filter((p) => p.state !== 'bounced' && p.state !== 'unsubscribed');
    expect(await countsOfCampaigns(db, id)).toEqual([
      {
        campaignId: id,
        firstSentAt: Math.floor(Math.min(...own.map((p) => p.sent[0]!.at)) / QUARTER_MS) * QUARTER_MS,
        counts: counted(own),
        silent: silent.length,
        toCome: silent.filter((p) => isOpen(p.state as 'done')).length,
      },
    ]);
    for (const [by, keyOf] of [
      ['variant', (p: Person) => String(p.variant)],
      ['mailbox', (p: Person) => `m${p.sent[0]!.mailboxId}@tidewaterkelp.example`],
      ['hour', (p: Person) => new Date(p.sent[0]!.at).toISOString().slice(11, 13)],
      ['domain', () => 'vines.example'],
      ['country', (p: Person) => p.country ?? ''],
    ] as const) {
      const groups = Object.fromEntries((await countsOfGroups(db, id, by)).map((g) => [g.key, g.counts]));
      const keys = [...new Set(own.map(keyOf))];
      expect(groups).toEqual(Object.fromEntries(keys.map((k) => [k, counted(own.filter((p) => keyOf(p) === k))])));
    }
    const steps = Object.fromEntries((await countsOfSteps(db, id)).map((s) => [s.step, [s.sent, s.replied]]));
    const positions = [...new Set(own.flatMap((p) => p.sent.map((d) => d.step)))];
    const having = (step: number) => own.filter((p) => p.sent.some((d) => d.step === step)).length;
    const answering = (step: number) => own.filter((p) => stepReplied(p) === step).length;
    expect(steps).toEqual(Object.fromEntries(positions.map((s) => [s, [having(s), answering(s)]])));
    const texts = await countsOfTexts(db, id);
    for (const s of positions) {
      const of = texts.filter((t) => t.step === s);
      expect(of.reduce((n, t) => n + t.counts.replied, 0)).toBe(answering(s));
      expect(of.map((t) => t.counts).reduce(sumOfResults, NO_RESULTS)).toEqual(
        counted(own.flatMap((p) => asReader(p, s))),
      );
    }
    const ofText = (step: number, versionId: number | null, variant: number) =>
      own.filter((p) => p.variant === variant && p.sent.some((d) => d.step === step && d.versionId === versionId));
    for (const { step, versionId, variant, counts } of texts)
      expect(counts.written).toBe(ofText(step, versionId, variant).length);
    const silences = await silencesOf(db, id, NOW);
    const many = (is: (s: (typeof silences)[number]) => boolean) =>
      silences.filter(is).reduce((n, s) => n + s.people, 0);
    expect(many((s) => s.replied)).toBe(own.filter((p) => p.replies.length > 0 && p.state !== 'bounced').length);
    expect(many((s) => s.mayReply)).toBe(quiet.filter((p) => ['in_progress', 'done'].includes(p.state)).length);
    expect(many(() => true)).toBe(own.filter((p) => p.state !== 'bounced').length);
  }
  const together = [...new Set(people.map((p) => p.contactId))].map((contact): Person => {
    const own = people.filter((p) => p.contactId === contact);
    const state = own.every((p) => p.state === 'bounced')
      ? 'bounced'
      : own.some((p) => p.state === 'unsubscribed')
        ? 'unsubscribed'
        : '';
    // Of several campaigns whose reply came last.
    const last = own
      .filter((p) => outcomeOf(p) !== null)
      .sort((a, b) => (a.replies[0]?.at ?? 0) - (b.replies[0]?.at ?? 0) || a.id - b.id)
      .at(-1);
    const openedAt = own.find((p) => p.openedAt !== null)?.openedAt ?? null;
    const bounced = own
      .filter((p) => p.state === 'bounced')
      .sort((a, b) => a.sent[0]!.at - b.sent[0]!.at || a.id - b.id);
    return {
      ...own[0]!,
      bouncedBy: bounced.at(-1)?.bouncedBy ?? '',
      state,
      openedAt,
      clickedAt: own.find((p) => p.clickedAt !== null)?.clickedAt ?? null,
      complained: own.some((p) => p.complained),
      byPrograms: own.some((p) => p.byPrograms) && openedAt === null,
      replies: own.some((p) => p.replies.length > 0)
        ? [{ at: 0, id: 0, deliveryId: null, outcome: last ? outcomeOf(last) : null }]
        : [],
    };
  });
  expect(await countsTogether(db)).toEqual(together.length === 0 ? NO_RESULTS : counted(together));
}

type Random = () => number;

/** Something that may happen, in whatever order. @param on what it is done over */
async function happens(random: Random, on: pg.Pool | pg.PoolClient): Promise<void> {
  const one = (n: number) => Math.floor(random() * n);
  const of = <T>(list: readonly T[]): T => list[one(list.length)] as T;
  const some = async (table: string) =>
    ((await on.query(`select id from ${table} order by id`)).rows as { id: number }[]).map((r) => r.id);
  const at = MONDAY + one(20 * 24 * 4) * QUARTER_MS + one(1000);
  const [enrolments, deliveries, mails, complaints] = [
    await some('enrolments'),
    await some('deliveries'),
    await some('incoming'),
    await some('events'),
  ];
  const enrolment = of(enrolments);
  if (enrolments.length === 0) return;
  // Mostly one of a few, that something happens to it more than once.
  const delivery = deliveries.length === 0 ? null : random() < 0.7 ? of(deliveries.slice(0, 4)) : of(deliveries);
  const ways: (() => Promise<unknown>)[] = [
    () =>
      on.query(
        `insert into deliveries (enrolment_id, campaign_id, step, mailbox_id, day, state, sent_at)
         select e.id, e.campaign_id, $2, $3, 0, 'sent', $4 from enrolments e where e.id = $1
         on conflict (enrolment_id, step) do update set sent_at = excluded.sent_at, mailbox_id = excluded.mailbox_id`,
        [enrolment, one(3), 1 + one(2), random() < 0.8 ? at : null],
      ),
    () => on.query('update deliveries set sent_at = $2 where id = $1', [delivery, random() < 0.3 ? null : at]),
    () =>
      on.query(
        'update deliveries d set version_id = (select v.id from step_versions v where v.campaign_id = d.campaign_id and $2) where id = $1',
        [delivery, random() < 0.7],
      ),
    () => on.query('update enrolments set state = $2 where id = $1', [enrolment, of(RECIPIENT_STATES)]),
    () =>
      on.query('update enrolments set opened_at = $2, clicked_at = $3 where id = $1', [
        enrolment,
        random() < 0.7 ? at : null,
        random() < 0.3 ? at : null,
      ]),
    () =>
      on.query(
        `insert into incoming (mailbox_id, uid_validity, uid, raw, received_at, from_name, from_key, subject, body, message_id, kind, because, did, delivery_id, enrolment_id, outcome)
         values (1, '1', (select coalesce(max(uid), 0) + 1 from incoming), '', $1, '', '', '', '', '', $2, '', '', $3, $4, $5)`,
        [
          at,
          of(['reply', 'reply', 'calendar', 'auto_reply', 'bounce']),
          random() < 0.5 ? delivery : null,
          random() < 0.9 ? enrolment : null,
          of([null, 'interested', 'meeting', 'no']),
        ],
      ),
    () =>
      on.query('update incoming set outcome = $2, kind = $3, enrolment_id = $4 where id = $1', [
        mails.length === 0 ? null : of(mails),
        of([null, 'interested', 'meeting', 'no']),
        of(['reply', 'auto_reply']),
        random() < 0.8 ? enrolment : null,
      ]),
    () => on.query('delete from incoming where id = $1', [mails.length === 0 ? null : of(mails)]),
    () =>
      on.query(
        `insert into events (at, kind, contact_id, enrolment_id, detail) select $2, $3, contact_id, id, '' from enrolments where id = $1`,
        [enrolment, at, of(['complaint', 'complaint', 'hard_bounce', 'soft_bounce', 'blocked', 'opened'])],
      ),
    () =>
      on.query('update events set undone_at = case when undone_at is null then 1::bigint end where id = $1', [
        complaints.length === 0 ? null : of(complaints),
      ]),
    () =>
      on.query(
        `insert into delivery_signals (delivery_id, enrolment_id, opens, clicks, by_machine, first_open_at, first_click_at, country)
         select id, enrolment_id, $2, 0, $3, $4, $5, $6 from deliveries where id = $1
         on conflict (delivery_id) do update set opens = excluded.opens, by_machine = excluded.by_machine,
           first_open_at = excluded.first_open_at, first_click_at = excluded.first_click_at, country = excluded.country`,
        [delivery, one(2), one(2), of([null, at]), of([null, at]), of([null, 'AU', 'JP'])],
      ),
  ];
  await of(ways)();
  // Rarely, somebody is erased, or a campaign goes.
  if (random() < 0.02) {
    const [contact] = (await on.query('select contact_id as id from enrolments where id = $1', [enrolment])).rows as {
      id: number;
    }[];
    await on.query('delete from incoming where enrolment_id in (select id from enrolments where contact_id = $1)', [
      contact?.id,
    ]);
    await on.query('delete from events where contact_id = $1', [contact?.id]);
    await on.query('delete from enrolments where contact_id = $1', [contact?.id]);
  } else if (random() < 0.005)
    await on.query('delete from campaigns where id = (select campaign_id from enrolments where id = $1)', [enrolment]);
}

describe('the counts of results', () => {
  it.each([1, 2, 3, 4])(
    'are what counting afresh gives after anything in any order (%i)',
    async (seed) => {
      const random = seededRandom(Number(process.env['BATON_SEED'] ?? 0) + seed);
      for (let i = 0; i < 240; i++) {
        if (random() < 0.1) {
          // Something that is taken back before anybody else has seen it.
          const client = await store.pool.connect();
          try {
            await client.query('begin');
            for (let n = 0; n < 3; n++) await happens(random, client);
            await client.query('rollback');
          } finally {
            client.release();
          }
        } else await happens(random, store.pool);
        if (random() < 0.1) await countResults(store);
        // Often, for whatever happens to the same person next hides what was not noted.
        if (i % 8 === 7) await expectCounts();
      }
    },
    120_000,
  );

  it('take up what was still under way while they were counted', async () => {
    const client = await store.pool.connect();
    try {
      await client.query('begin');
      await client.query(
        `insert into deliveries (enrolment_id, campaign_id, step, mailbox_id, day, state, sent_at) values (9, 1, 0, 1, 0, 'sent', ${MONDAY})`,
      );
      await store.pool.query(
        `insert into deliveries (enrolment_id, campaign_id, step, mailbox_id, day, state, sent_at) values (10, 1, 0, 1, 0, 'sent', ${MONDAY})`,
      );
      expect(await countResults(store)).toBe(1);
      expect((await countsTogether(store.db)).written).toBe(1);
      await client.query('commit');
    } finally {
      client.release();
    }
    // By two at once, as the application and the worker may.
    const both = await Promise.all([countResults(store), countResults(store)]);
    expect(both[0] + both[1]).toBe(1);
    expect((await countsTogether(store.db)).written).toBe(2);
    await expectCounts();
  });

  it('say nothing of nobody', async () => {
    expect(await countResults(store)).toBe(0);
    expect(await countsTogether(store.db)).toEqual(NO_RESULTS);
  });
});
