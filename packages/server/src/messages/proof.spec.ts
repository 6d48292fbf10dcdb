import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { MessageView, ProofView } from '@baton/contract';
import { TestWorld } from '../testing/test-world';

let world: TestWorld;
let listId: number;
beforeAll(async () => {
  world = await TestWorld.start();
  listId = await world.importCsv('email,First Name,company\nana@x.example,Ana,Cedar & Co\nbo@x.example,,');
});
afterAll(() => world.close());

const proof = (body: string, index = 0, subject = 'Hi') =>
  world.api.post<{ proof?: ProofView; fault?: { line: number } }>('/proof', {
    content: { subject, body },
    listId,
    index,
  });

describe('a proof', () => {
  it('is the message as one person of the list gets it', async () => {
    const { proof: p } = await proof('Hello {{ FirstName }} of {{ company }}', 0, 'For {{ company }}');
    expect(p).toMatchObject({
      total: 2,
      to: 'ana@x.example',
      subject: 'For Cedar & Co',
      text: 'Hello Ana of Cedar & Co',
    });
    expect(p?.html).toContain('>Hello Ana of Cedar &#38; Co</p>');
  });

  it('names blank fields without fallback', async () => {
    const { proof: p } = await proof('{{ first_name | default: "there" }} {{ Company }} {{ town }}', 1);
    expect(p?.blanks).toEqual(['Company', 'town']);
  });

  it('says where a message does not parse', async () => {
    expect((await proof('fine\n{{ oops')).fault).toMatchObject({ line: 2 });
  });

  it('never carries a link by which somebody could be taken off', async () => {
    const { proof: p } = await proof('{{ unsubscribe_link }}');
    const page = await fetch(p?.text as string);
    expect([page.status, await page.text()]).toEqual([200, expect.not.stringContaining('<button>')]);
  });

  it('asks for somebody who is there', async () => {
    await expect(proof('x', 2)).rejects.toThrow('nobody at this place');
  });
});

describe('a message', () => {
  it('is kept while it does not parse, says so, and cannot be started with', async () => {
    const mailbox = await world.connect('ines');
    const steps = [await world.step({ name: 'Broken', body: 'Hello {% if x %}' })];
    const saved = (await world.api.get<MessageView[]>('/messages')).find((m) => m.name === 'Broken');
    expect(saved?.fault).toMatchObject({ place: 'body', line: 1 });
    const brief = await world.draft({ listId, mailboxIds: [mailbox], steps });
    expect(brief.forecast.obstacles.map((o) => [o.kind, o.text])).toContainEqual([
      'fix',
      expect.stringContaining('has an error'),
    ]);
    const start = world.api.post(`/campaigns/${brief.id}/start`, {
      people: brief.forecast.people,
      lastDay: brief.forecast.lastDay,
    });
    await expect(start).rejects.toThrow('cannot start yet');
  });

  it('goes on in a running campaign as it was at the start', async () => {
    const mailbox = await world.connect('tomas');
    const steps = [await world.step({ name: 'Kept', subject: 'As it was', body: 'Old' })];
    await world.begin({ listId, mailboxIds: [mailbox], steps, name: 'Kept' });
    await world.api.put(`/messages/${steps[0]?.messageId}`, {
      name: 'Kept',
      content: { subject: 'Changed', body: 'New' },
    });
    await world.drive('2026-11-02T20:00:00Z');
    expect((await world.inbox('ana@x.example'))[0]?.subject).toBe('As it was');
  });
});
