import { unzipSync } from 'fflate';
import { simpleParser } from 'mailparser';
import { afterEach, beforeEach, expect, it } from 'vitest';
import { splitMbox } from '../commands/mail-files';
import { TestWorld } from '../testing/test-world';

let world: TestWorld;
beforeEach(async () => {
  world = await TestWorld.start();
});
afterEach(() => world.close());

it('the messages that a campaign has sent are taken away as an mbox and as files', async () => {
  const mailbox = await world.connect('ines');
  const listId = await world.people({ 'ana@a.example': 'silent', 'bo@b.example': 'silent' });
  const leave = '[Leave]({{ unsubscribe_link }})';
  const id = await world.begin({
    ...{ listId, mailboxIds: [mailbox], name: 'Kelp & sacks' },
    steps: [
      await world.step({ name: 'First', body: `From the bay,\n\nkelp for {{ given_name }}.\n\n${leave}` }),
      await world.step({ name: 'Reminder', body: `Still there? ${leave}` }, 2),
    ],
  });
  await world.drive('2026-11-05T20:00:00Z');
  const take = async (format: string) => {
    const response = await fetch(`${world.url}/api/campaigns/${id}/sent.${format}`);
    expect(response.status).toBe(200);
    expect(response.headers.get('content-disposition')).toContain(`kelp-sacks-sent.${format}`);
    return Buffer.from(await response.arrayBuffer());
  };
  const mbox = await take('mbox');
  expect(mbox.toString('latin1')).toMatch(/^From ines@tidewaterkelp\.example Mon Nov {2}2 \d\d:\d\d:\d\d 2026\n/);
  const raws: Buffer[] = [];
  for await (const raw of splitMbox(
    (async function* () {
      yield mbox;
    })(),
  ))
    raws.push(raw);
  const files = unzipSync(await take('zip'));
  expect(Object.keys(files).map((name) => name.slice(0, 6))).toEqual(['000001', '000002', '000003', '000004']);
  for (const mails of [raws, Object.values(files).map((bytes) => Buffer.from(bytes))]) {
    const read = await Promise.all(mails.map((raw) => simpleParser(raw)));
    expect(read).toHaveLength(4);
    for (const who of ['ana@a.example', 'bo@b.example']) {
      // As they came: under the same subject and number, with the same text, in the same thread.
      const got = await world.inbox(who);
      const own = read.filter((m) => [m.to].flat()[0]?.text === who);
      expect(own.map((m) => m.messageId)).toEqual(got.map((m) => m.messageId));
      expect(own.map((m) => m.subject)).toEqual(got.map((m) => m.subject));
      expect(own.map((m) => m.text?.trim())).toEqual(got.map((m) => m.text.trim()));
      expect([own[1]?.references].flat()).toEqual([got[0]?.messageId]);
    }
  }
  await expect(world.api.get('/campaigns/99/sent.mbox')).rejects.toThrow('404');
});

it('a message that answered an earlier conversation names it as it was then', async () => {
  const mailbox = await world.connect('ines');
  const words = ['First', 'Second', 'Third'].map((name) => ({ name, body: `Kelp. [Leave]({{ unsubscribe_link }})` }));
  const steps = await Promise.all(words.map((message) => world.step(message)));
  const ids: number[] = [];
  for (const [at, step] of steps.entries()) {
    const listId = await world.people({ 'bo@vines.example': 'keen' });
    const startDate = ['2026-11-02', '2026-11-09', '2026-11-16'][at] as string;
    const terms = { listId, mailboxIds: [mailbox], name: `Campaign ${at}`, startDate };
    ids.push(await world.begin({ ...terms, steps: [at === 0 ? step : { ...step, answersLast: true }] }));
    await world.drive(['2026-11-08', '2026-11-15', '2026-11-17'][at] + 'T20:00:00Z');
  }
  const got = (await world.inbox('bo@vines.example')).filter((m) => m.from.includes('ines'));
  expect(got).toHaveLength(3);
  // What had been written by either side when it left, and nothing of what came after.
  expect(got.map((m) => m.references.length)).toEqual([0, 2, 2]);
  for (const [at, id] of ids.entries()) {
    const response = await fetch(`${world.url}/api/campaigns/${id}/sent.zip`);
    const files = Object.values(unzipSync(new Uint8Array(await response.arrayBuffer())));
    expect(files).toHaveLength(1);
    const own = await simpleParser(Buffer.from(files[0] as Uint8Array));
    expect([own.references ?? []].flat()).toEqual(got[at]?.references);
    expect([own.subject, own.messageId]).toEqual([got[at]?.subject, got[at]?.messageId]);
  }
});
