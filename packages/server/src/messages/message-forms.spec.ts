import { EMPTY_CONTENT, SHIPPED_LAYOUTS, type MessageContent } from '@baton/core';
import type { BriefView, PersonalLine, PersonalLines, ProofView, Reading, RecipientPage } from '@baton/contract';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { stepOf, TestWorld } from '../testing/test-world';

let world: TestWorld;
beforeAll(async () => {
  world = await TestWorld.start();
});
afterAll(() => world.close());

/** One pixel. */
const PNG = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
  'base64',
);

const upload = async (name: string, bytes: Buffer | string): Promise<number> =>
  (await world.api.upload<{ id: number }>('/assets', name, new Uint8Array(Buffer.from(bytes)))).id;

const content = (over: object): object => ({ ...EMPTY_CONTENT, subject: 'Kelp', body: 'Hello', ...over });
const link = /http:\/\/127\.0\.0\.1:\d+\/m\/[\w.~-]+/;

describe('a message with all that goes with it', () => {
  it('arrives as it was proofed: layout, pictures, files, copies, names', async () => {
    for (const who of ['ana', 'boss', 'gone'])
      await world.desk.call('PUT', `/people/${who}%40cedar.example`, { persona: 'silent' });
    const rows = await upload('rows.png', PNG);
    await upload('soil.pdf', '%PDF-1.4 soil');
    await world.api.post('/suppressions', { what: 'gone@cedar.example', reason: '' });
    const mailbox = await world.connect('layouts');
    const listId = await world.importCsv(
      'email,given name,cc,attachment,company\nana@cedar.example,Ana,boss@cedar.example; gone@cedar.example,Soil.PDF,"Cedar ""&"" Co"',
    );
    const layout = structuredClone(SHIPPED_LAYOUTS[0]?.layout) as NonNullable<MessageContent['layout']>;
    layout.blocks.splice(2, 0, { id: 'p', kind: 'picture', src: `asset:${rows}`, alt: 'Rows', href: '', width: 80 });
    const message = {
      subject: 'For {{ company }} – ελιά 🌿',
      preview: 'A trial for {{ company }}',
      body: 'Hello {{ given_name }} on {{ sending_weekday }},\n\nsee [it]({{ browser_link }})',
      format: 'layout' as const,
      layout,
      senderName: 'Ines of {{ company }}',
      replyTo: 'answers@tidewaterkelp.example',
      cc: '{{ cc }}',
      attachments: [{ kind: 'named' as const, name: '{{ attachment }}' }],
    };
    const { proof } = await world.api.post<{ proof: ProofView }>('/proof', {
      content: content(message),
      listId,
      index: 0,
    });
    expect(proof).toMatchObject({
      subject: 'For Cedar "&" Co – ελιά 🌿',
      from: 'Ines of Cedar "&" Co <layouts@tidewaterkelp.example>',
      cc: ['boss@cedar.example', 'gone@cedar.example'],
      attachments: [{ name: 'Soil.PDF', size: 13 }],
      pictures: [{ cid: `cid:asset.${rows}`, assetId: rows }],
      blanks: [],
      faults: [],
    });
    const step = await world.step(message);
    const id = await world.begin({ listId, mailboxIds: [mailbox], steps: [step], name: 'Layouts' });
    await world.drive('2026-11-02T20:00:00Z');
    const [got] = await world.inbox('ana@cedar.example');
    expect(got).toMatchObject({
      subject: 'For Cedar "&" Co – ελιά 🌿',
      cc: ['boss@cedar.example'],
      replyTo: 'answers@tidewaterkelp.example',
      files: ['soil.pdf'],
    });
    expect(got?.text).toContain('Hello Ana on Monday,');
    expect(got?.html).toContain('Hello Ana on Monday,');
    expect(got?.html).toContain('Cedar &#34;&#38;&#34; Co');
    expect(got?.html).toContain('src="data:image/png;base64,');
    expect(got?.html).toMatch(/<table/);
    expect(got?.html).not.toMatch(/googleapis|\{\{|KEPT\d/);
    expect((await world.inbox('boss@cedar.example')).map((m) => m.subject)).toEqual([got?.subject]);
    expect(await world.inbox('gone@cedar.example')).toEqual([]);
    // The copy counted; the one that was not sent did not.
    const { rows: used } = await world.store.pool.query<{ units: number }>(
      'select units from mailbox_days where mailbox_id = $1',
      [mailbox],
    );
    expect(used).toEqual([{ units: 2 }]);
    const page = await fetch(link.exec(got?.text ?? '')?.[0] ?? '');
    const seen = await page.text();
    expect(seen).toContain('Hello Ana on Monday,');
    expect(seen).toContain('src="data:image/png');
    expect(page.headers.get('content-security-policy')).toContain("default-src 'none'");
    expect((await fetch(`${world.publicUrl}/m/forged`)).status).toBe(404);
    expect(await world.states(id)).toEqual({ 'ana@cedar.example': 'done' });
  });

  it('is left out with the reason where it could not be whole', async () => {
    const mailbox = await world.connect('wholes');
    const listId = await world.importCsv('email,cc,attachment\na@slate.example,nobody,\nb@slate.example,,missing.pdf');
    const step = await world.step({
      body: 'x',
      cc: '{{ cc }}',
      attachments: [{ kind: 'named', name: '{{ attachment }}' }],
    });
    const id = await world.begin({ listId, mailboxIds: [mailbox], steps: [step], name: 'Wholes' });
    await world.drive('2026-11-03T20:00:00Z');
    const { people } = await world.api.get<RecipientPage>(`/campaigns/${id}/recipients?limit=10`);
    expect(people.map((p) => [p.state, p.reason])).toEqual([
      ['left_out', 'Cc: “nobody” has no @ sign'],
      ['left_out', 'The file “missing.pdf” is not in the library'],
    ]);
  });
});

describe('variants', () => {
  it('are drawn once for each recipient and kept in the follow-ups', async () => {
    const mailbox = await world.connect('variants');
    const addresses = Array.from({ length: 12 }, (_, i) => `v${i}@grove.example`);
    const listId = await world.people(Object.fromEntries(addresses.map((a) => [a, 'silent'])));
    const ids: number[] = [];
    for (const name of ['A1', 'B1', 'A2', 'B2'])
      ids.push(await world.message({ name, subject: name, body: `${name} {{ unsubscribe_link }}` }));
    const [a1 = 0, b1 = 0, a2 = 0, b2 = 0] = ids;
    const steps = [
      { ...stepOf(a1), others: [b1] },
      { ...stepOf(a2, 2), others: [b2] },
    ];
    const id = await world.begin({ listId, mailboxIds: [mailbox], steps, name: 'Variants', variants: [50, 50] });
    await world.drive('2026-11-12T20:00:00Z');
    const got = new Map<string, number>();
    for (const address of addresses) {
      const texts = (await world.inbox(address)).map((m) => m.text.slice(0, 2)).join();
      got.set(texts, (got.get(texts) ?? 0) + 1);
    }
    expect([...got.keys()].sort()).toEqual(['A1,A2', 'B1,B2']);
    const brief = await world.api.get<BriefView>(`/campaigns/${id}`);
    expect(brief.steps[0]?.otherNames).toEqual(['B1']);
  });
});

describe('personal lines', () => {
  it('keep a message back until they are approved, and who was not worth one out', async () => {
    const mailbox = await world.connect('lines');
    const listId = await world.people({
      'la@hill.example': 'silent',
      'lb@hill.example': 'silent',
      'lc@hill.example': 'silent',
    });
    const lines = () => world.api.get<PersonalLines>(`/lists/${listId}/lines`);
    expect(await lines()).toMatchObject({ column: null, counts: { to_do: 3 } });
    const step = await world.step({ body: '{{ personal_line | default: "" }}\n\nkelp {{ unsubscribe_link }}' });
    const choices = { listId, mailboxIds: [mailbox], steps: [step], name: 'Lines', needsLines: true };
    const draft = await world.draft(choices);
    expect(draft.forecast.obstacles[0]).toMatchObject({
      text: '3 personal lines have not been approved',
      remedy: { act: 'write_lines', listId },
    });
    const write = async (index: number, line: string, decision: string) => {
      const { rowId } = await world.api.get<PersonalLine>(`/lists/${listId}/lines/${index}`);
      await world.api.put(`/lists/${listId}/rows/${rowId}/line`, { line, decision });
    };
    await expect(write(0, ' ', 'approved')).rejects.toThrow('no line to approve');
    await write(0, 'I read about your frost.', 'approved');
    await write(1, 'Hm.', 'rejected');
    await write(2, 'Your terraces!', 'written');
    expect((await lines()).counts).toEqual({ to_do: 0, written: 1, approved: 1, rejected: 1 });
    await write(2, 'Your terraces!', 'approved');
    // A line that is changed afterwards in the list is one to be looked at again.
    const { rowId } = await world.api.get<PersonalLine>(`/lists/${listId}/lines/2`);
    const id = await world.begin(choices);
    await world.api.post(`/lists/${listId}/cells`, { cells: [{ rowId, key: 'personalline', value: 'Changed' }] });
    await world.drive('2026-11-13T20:00:00Z');
    expect(await world.states(id)).toEqual({
      'la@hill.example': 'done',
      'lb@hill.example': 'left_out',
      'lc@hill.example': 'left_out',
    });
    expect((await world.inbox('la@hill.example'))[0]?.text).toContain('I read about your frost.');
    expect(await world.inbox('lc@hill.example')).toEqual([]);
  });
});

describe('a test email', () => {
  it('is marked, goes only where it is asked to, and counts as sent to nobody', async () => {
    await world.desk.call('PUT', '/people/me%40tidewaterkelp.example', { persona: 'silent' });
    const mailboxId = await world.connect('tester');
    const listId = await world.importCsv('email,given name\nta@tests.example,Ana', 'Tests');
    const asked = {
      content: content({ body: 'Hi {{ given_name }} {{ unsubscribe_link }}', cc: 'boss@cedar.example' }),
      listId,
      index: 0,
      mailboxId,
    };
    const before = (await world.inbox('boss@cedar.example')).length;
    expect(await world.api.post('/test-email', { ...asked, to: ['me@tidewaterkelp.example'] })).toEqual({
      from: 'tester@tidewaterkelp.example',
    });
    const [got] = await world.inbox('me@tidewaterkelp.example');
    expect(got).toMatchObject({ subject: '[Test] Kelp', cc: [] });
    expect(got?.text).toMatch(/^Hi Ana http.*\/u\/proof/);
    expect(await world.inbox('ta@tests.example')).toEqual([]);
    expect((await world.inbox('boss@cedar.example')).length).toBe(before);
    const sent = await world.store.pool.query(
      'select 1 from events e join contacts c on c.id = e.contact_id where c.key = $1',
      ['ta@tests.example'],
    );
    expect(sent.rowCount).toBe(0);
    await expect(world.api.post('/test-email', { ...asked, to: ['nobody'] })).rejects.toThrow('no @ sign');
    await expect(world.api.post('/test-email', { ...asked, to: ['gone@cedar.example'] })).rejects.toThrow(
      'suppression list',
    );
  });
});

describe('reading a message through for a list', () => {
  it('names who is worth reading first, and what is to be mended', async () => {
    const listId = await world.importCsv(
      'email,given name,company\na@read.example,Ana,Holm Vines\nb@read.example,BRUNO,\nc@read.example,,Salt Estate GmbH',
      'Read',
    );
    const reading = await world.api.post<Reading>('/reading', {
      content: content({
        subject: '{{ compnay }}',
        body: 'Dear {{ given_name | default: "friend" }} of {{ company }}',
      }),
      listId,
    });
    expect(reading.total).toBe(3);
    expect(reading.worth.slice(0, 3).map((w) => [w.who, w.reasons.map((r) => r.risk)])).toEqual([
      ['Bruno', expect.arrayContaining(['empty'])],
      expect.anything(),
      expect.anything(),
    ]);
    expect(reading.checks.map((c) => [c.kind, c.meant ?? c.people ?? null])).toEqual([
      ['unknown_field', 'company'],
      ['blank_field', 1],
      ['no_unsubscribe', null],
    ]);
    await expect(world.api.post('/reading', { content: content({ subject: '{{ a' }), listId })).rejects.toThrow(
      'not closed',
    );
  });

  it('reads a list through to its end', async () => {
    const rows = Array.from({ length: 2300 }, (_, i) => `r${i}@long.example,${i === 2222 ? 'B9' : 'Ana'}`);
    const listId = await world.importCsv(['email,given name', ...rows].join('\n'), 'Long');
    const reading = await world.api.post<Reading>('/reading', {
      content: content({ body: 'Dear {{ given_name | default: "friend" }} {{ unsubscribe_link }}' }),
      listId,
    });
    expect(reading).toMatchObject({ total: 2300, checks: [] });
    expect(reading.worth[0]).toMatchObject({
      index: 2222,
      who: 'B9',
      reasons: [{ risk: 'digits' }, { risk: 'shortest' }],
    });
    const { proof } = await world.api.post<{ proof: ProofView }>('/proof', {
      content: content({ body: '{{ given_name }}' }),
      listId,
      index: 2222,
    });
    expect(proof).toMatchObject({ total: 2300, to: 'r2222@long.example', text: 'B9' });
  });

  it('gives the exact bytes of a proof', async () => {
    const listId = await world.importCsv('email\nsource@read.example', 'Source');
    const response = await fetch(`${world.url}/api/proof/source`, {
      method: 'POST',
      headers: { 'x-baton': '1', 'content-type': 'application/json' },
      body: JSON.stringify({ content: content({ subject: 'ελιά' }), listId, index: 0 }),
    });
    const bytes = await response.text();
    expect(bytes).toMatch(/^Subject: =\?UTF-8\?/m);
    expect(bytes).toContain('Content-Type: multipart/alternative');
    expect(bytes.split('\r\n').every((line) => line.length <= 998)).toBe(true);
  });
});
