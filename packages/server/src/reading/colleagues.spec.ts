import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { BriefChoices, IncomingView, ReplyPage } from '@baton/contract';
import { TestWorld } from '../testing/test-world';

const INES = 'ines@tidewaterkelp.example';
const ANA = 'ana@vines.example';
const PEOPLE = [ANA, 'bo@vines.example', 'cy@vines.example', 'dee@hills.example', 'eli@example.com', 'fay@example.com'];
let world: TestWorld;
let now: number;
beforeEach(async () => {
  world = await TestWorld.start();
});
afterEach(() => world.close());

/** Two campaigns to the same people, of which the first messages have left. */
async function begin(
  choices: Partial<Pick<BriefChoices, 'replyEndsHere' | 'holdsColleagues'>>,
): Promise<[number, number]> {
  const mailbox = await world.connect('ines');
  const listId = await world.people(Object.fromEntries(PEOPLE.map((p) => [p, 'silent'])));
  const first = await world.begin({ listId, mailboxIds: [mailbox], name: 'Trial', ...choices });
  const second = await world.begin({ listId, mailboxIds: [mailbox], name: 'Prices' });
  now = Date.parse('2026-11-02T22:00:00Z');
  await world.drive(now);
  return [first, second];
}

let mails = 0;
async function comes(from: string, text: string, answers: string): Promise<IncomingView> {
  const lines = [`From: ${from}`, `To: ${INES}`, `Message-ID: <${++mails}@x>`, 'Subject: Re: Kelp'];
  now += 3_600_000;
  const raw = [...lines, `In-Reply-To: ${answers}`, '', text].join('\r\n');
  world.provider.store.addMail(INES, 'INBOX', Buffer.from(raw), now);
  await world.drive((now += 2 * 3_600_000));
  return (await world.api.get<ReplyPage>('/replies')).replies[0] as IncomingView;
}
/** The message of a campaign to somebody. */
async function messageTo(campaignId: number, address: string): Promise<string> {
  const { rows } = await world.store.pool.query<{ id: string }>(
    `select a.message_id as id from attempts a join deliveries d on d.id = a.delivery_id
     join enrolments e on e.id = d.enrolment_id join contacts c on c.id = e.contact_id
     where d.campaign_id = $1 and c.key = $2`,
    [campaignId, address],
  );
  return `<${rows[0]?.id}>`;
}
const statesOf = async (campaign: number) => {
  const states = await world.states(campaign);
  return PEOPLE.map((p) => states[p]);
};
const OPEN = 'in_progress';

describe('a reply', () => {
  it('ends every campaign for the person, and goes by nobody else’s', async () => {
    const [trial, prices] = await begin({});
    const came = await comes(ANA, 'Yes please.', await messageTo(trial, ANA));
    expect(came).toMatchObject({ did: 'No follow-up will be sent: they replied.', heldColleagues: 0 });
    for (const campaign of [trial, prices])
      expect(await statesOf(campaign)).toEqual(['replied', OPEN, OPEN, OPEN, OPEN, OPEN]);
  });

  it('ends its own campaign only, where that is so chosen; a wish to be left alone ends all', async () => {
    const [trial, prices] = await begin({ replyEndsHere: true });
    await comes(ANA, 'Yes please.', await messageTo(trial, ANA));
    expect((await statesOf(trial))[0]).toBe('replied');
    expect((await statesOf(prices))[0]).toBe(OPEN);
    await comes('bo@vines.example', 'Please remove me from your list.', await messageTo(trial, 'bo@vines.example'));
    expect((await statesOf(prices))[1]).toBe('unsubscribed');
  });

  it('holds colleagues at the same company until a person lets them go on', async () => {
    const [trial, prices] = await begin({ holdsColleagues: true });
    const came = await comes(ANA, 'Yes please.', await messageTo(trial, ANA));
    expect(came).toMatchObject({
      did: 'No follow-up will be sent: they replied. 2 colleagues at the same company are held too.',
      heldColleagues: 2,
    });
    expect(await statesOf(trial)).toEqual(['replied', 'stopped', 'stopped', OPEN, OPEN, OPEN]);
    // That campaign does not hold colleagues.
    expect(await statesOf(prices)).toEqual(['replied', OPEN, OPEN, OPEN, OPEN, OPEN]);
    await world.drive((now = Date.parse('2026-11-06T22:00:00Z')));
    expect((await world.inbox('bo@vines.example')).filter((m) => m.subject.startsWith('Re:'))).toHaveLength(1);
    await world.api.post(`/replies/${came.id}/release-colleagues`, {});
    expect((await statesOf(trial)).slice(0, 3)).toEqual(['replied', OPEN, OPEN]);
    const [released] = (await world.api.get<ReplyPage>('/replies')).replies;
    expect(released).toMatchObject({ heldColleagues: 0, canUndo: true });
    await expect(world.api.post(`/replies/${came.id}/release-colleagues`, {})).rejects.toThrow(/Nobody is held/);
    await world.drive((now = Date.parse('2026-11-12T22:00:00Z')));
    expect((await world.inbox('bo@vines.example')).filter((m) => m.subject.startsWith('Re:'))).toHaveLength(2);
  });

  it('holds nobody at a provider of many, and its undoing lets all go on', async () => {
    const [trial] = await begin({ holdsColleagues: true });
    await comes('eli@example.com', 'Yes please.', await messageTo(trial, 'eli@example.com'));
    expect(await statesOf(trial)).toEqual([OPEN, OPEN, OPEN, OPEN, 'replied', OPEN]);
    const came = await comes(ANA, 'Yes please.', await messageTo(trial, ANA));
    await world.api.post(`/replies/${came.id}/undo`, {});
    expect(await statesOf(trial)).toEqual([OPEN, OPEN, OPEN, OPEN, 'replied', OPEN]);
  });
});
