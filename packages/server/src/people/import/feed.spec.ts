import { readAgenda } from '../../store/duties/agenda-rows';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { FeedChoices, ListHead } from '@baton/contract';
import { pino } from 'pino';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { TestWorld } from '../../testing/test-world';
import { feedDuty } from './feed-duty';
import { fetchFile, isPrivateAddress } from './fetch-file';

let world: TestWorld;
let files: Server;
let origin: string;
const served: Record<string, string> = {};
/** What is done before a file is given out. */
let meanwhile: (() => Promise<unknown>) | null = null;
beforeAll(async () => {
  world = await TestWorld.start();
  files = createServer((request, response) => {
    const content = served[request.url ?? ''];
    if (content?.startsWith('→')) response.writeHead(302, { location: content.slice(1) }).end();
    else if (content === undefined) response.writeHead(404).end();
    else void Promise.resolve(meanwhile?.()).then(() => response.end(content));
  });
  await new Promise<void>((resolve) => files.listen(0, '127.0.0.1', resolve));
  origin = `http://127.0.0.1:${(files.address() as AddressInfo).port}`;
});
afterAll(async () => {
  await new Promise((resolve) => files.close(resolve));
  await world.close();
});

const head = (listId: number) => world.api.get<ListHead>(`/lists/${listId}`);
const feed = (listId: number, choices: Partial<FeedChoices>) =>
  world.api.put(`/lists/${listId}/feed`, {
    kind: 'url',
    place: '',
    how: 'update',
    everyMinutes: 60,
    allowPrivate: false,
    ...choices,
  });
const addresses = async (listId: number) => (await world.rows(listId)).map((p) => p.address);

describe('a list that is fed', () => {
  it('takes new files of a folder on its schedule, each once, and says what it found', async () => {
    const folder = await mkdtemp(join(tmpdir(), 'baton-feed-'));
    const listId = await world.importCsv('email,name\nana@f.example,Ana', 'Folder');
    await writeFile(join(folder, 'a.csv'), 'email,name\nbo@f.example,Bo\nana@f.example,Annabel');
    await writeFile(join(folder, 'notes.md'), 'not people');
    await feed(listId, { kind: 'folder', place: folder });
    expect(await addresses(listId)).toEqual(['ana@f.example', 'bo@f.example']);
    expect((await head(listId)).feed?.found).toBe('a.csv: 1 new.');
    await writeFile(join(folder, 'b.csv'), 'email,name\ncy@f.example,Cy');
    await world.drive('2026-11-02T08:30:00Z');
    expect(await addresses(listId)).toHaveLength(2);
    await world.drive('2026-11-02T09:30:00Z');
    expect(await addresses(listId)).toEqual(['ana@f.example', 'bo@f.example', 'cy@f.example']);
    await world.drive('2026-11-02T10:30:00Z');
    expect((await head(listId)).feed?.found).toBe('Nothing new.');
    await rm(folder, { recursive: true });
    await world.drive('2026-11-02T11:30:00Z');
    expect((await head(listId)).feed?.found).toContain('is not there, or may not be read');
    await world.api.remove(`/lists/${listId}/feed`);
    expect((await head(listId)).feed).toBeNull();
  });

  it('is looked at once when a place is said, though a worker comes by meanwhile', async () => {
    const listId = await world.importCsv('email\nana@m.example', 'Meanwhile');
    served['/meanwhile.csv'] = 'email\nbo@m.example';
    const looked: number[] = [];
    meanwhile = async () => {
      meanwhile = null;
      looked.push(
        await feedDuty(world.store, pino({ level: 'silent' })).run(
          Date.parse('2026-11-02T08:00:00Z'),
          await readAgenda(world.store.db, { firstMs: 0, againMs: 0 }, 0),
        ),
      );
    };
    await feed(listId, { place: `${origin}/meanwhile.csv`, allowPrivate: true });
    expect(looked).toEqual([0]);
    expect((await head(listId)).feed?.found).toBe('meanwhile.csv: 1 new.');
    await world.api.remove(`/lists/${listId}/feed`);
  });

  it('takes a file from the web again only when it has changed', async () => {
    const listId = await world.importCsv('email\nana@w.example', 'Web');
    served['/people.csv'] = 'email\nbo@w.example';
    served['/moved'] = `→${origin}/people.csv`;
    await feed(listId, { place: `${origin}/moved`, allowPrivate: true });
    expect(await addresses(listId)).toEqual(['ana@w.example', 'bo@w.example']);
    await world.drive('2026-11-02T13:00:00Z');
    expect((await head(listId)).feed?.found).toBe('Nothing new.');
    served['/people.csv'] = 'email\nbo@w.example\ncy@w.example';
    await world.drive('2026-11-02T14:30:00Z');
    expect(await addresses(listId)).toEqual(['ana@w.example', 'bo@w.example', 'cy@w.example']);
  });

  it.each([
    ['an address of its own machine', () => `${origin}/people.csv`, 'of this machine or its network'],
    ['a name of its own machine', () => origin.replace('127.0.0.1', 'localhost'), 'of this machine or its network'],
    ['something else than the web', () => 'file:///etc/passwd', 'is not a web address'],
  ])('does not fetch %s unless that is allowed', async (_, place, words) => {
    const listId = await world.importCsv('email\nana@n.example', 'Never');
    await feed(listId, { place: place() });
    expect((await head(listId)).feed?.found).toContain(words);
    expect(await addresses(listId)).toEqual(['ana@n.example']);
  });

  it('brings new people into the running campaigns that say so', async () => {
    const mailbox = await world.connect('feeder');
    for (const who of ['ana', 'bo']) await world.desk.call('PUT', `/people/${who}%40e.example`, { persona: 'silent' });
    const listId = await world.importCsv('email,given name\nana@e.example,Ana', 'Enrolled');
    const step = await world.step({ body: 'Hello {{ given_name }}' });
    const begin = (name: string, enrolNew: boolean) =>
      world.begin({ listId, mailboxIds: [mailbox], name, steps: [step], enrolNew });
    const joins = await begin('Joins', true);
    const stays = await begin('Stays', false);
    served['/more.csv'] = 'email,given name\nbo@e.example,Bo\nno-name@e.example,';
    await feed(listId, { place: `${origin}/more.csv`, allowPrivate: true });
    await world.drive('2026-11-04T18:00:00Z');
    expect(await world.states(joins)).toEqual({
      'ana@e.example': 'done',
      'bo@e.example': 'done',
      'no-name@e.example': 'left_out',
    });
    expect(Object.keys(await world.states(stays))).toEqual(['ana@e.example']);
    expect(await world.inbox('bo@e.example')).toHaveLength(1);
  });
});

describe('fetching a file', () => {
  it('ends at its limit, at too many turns, and at what is not there', async () => {
    served['/big'] = 'x'.repeat(5000);
    served['/round'] = '→/round';
    const limits = { allowPrivate: true, maxBytes: 4000 };
    await expect(fetchFile(`${origin}/big`, limits)).rejects.toThrow('more than 0 MB');
    await expect(fetchFile(`${origin}/round`, limits)).rejects.toThrow('sends on more than');
    await expect(fetchFile(`${origin}/nothing`, limits)).rejects.toThrow('answers 404');
    await expect(fetchFile('http://nowhere.invalid/', limits)).rejects.toThrow('could not be reached');
  });

  it.each([
    '127.0.0.1',
    '10.1.2.3',
    '172.20.0.1',
    '192.168.1.1',
    '169.254.169.254',
    '0.0.0.0',
    '100.64.0.1',
    '::1',
    'fe80::1',
    'fd00::1',
    '::ffff:10.0.0.1',
  ])('knows %s for one of its own network', (ip) => expect(isPrivateAddress(ip)).toBe(true));
  it.each(['203.0.113.7', '172.32.0.1', '2001:db8::1', '::ffff:203.0.113.7'])('knows %s for another’s', (ip) =>
    expect(isPrivateAddress(ip)).toBe(false),
  );
});
