import { mkdtemp, readdir, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { TodayView, WorkspaceSettingsView } from '@baton/contract';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { TestWorld } from '../testing/test-world';

let world: TestWorld;
let folder: string;
beforeEach(async () => {
  world = await TestWorld.start();
  folder = await mkdtemp(join(tmpdir(), 'baton-rows-'));
});
afterEach(async () => {
  await world.close();
  await rm(folder, { recursive: true, force: true });
});

const put = async (rowsFolder: string) => {
  const { name, postalAddress, zone, dateForm, publicAddress } =
    await world.api.get<WorkspaceSettingsView>('/settings');
  await world.api.put('/settings', { name, postalAddress, zone, dateForm, publicAddress, rowsFolder });
};
const needs = async () => (await world.api.get<TodayView>('/today')).needs.filter((n) => n.key.startsWith('rows:'));
const found = async () => (await world.api.get<WorkspaceSettingsView>('/settings')).rowsFound;

describe('rows written after each day', () => {
  it('stand in the folder once the day is over, each campaign in a file of its own', async () => {
    const mailbox = await world.connect('ines');
    const begin = async (who: string) =>
      world.begin({
        ...{ listId: await world.people({ [who]: 'silent' }), mailboxIds: [mailbox], name: 'Kelp' },
        steps: [await world.step({})],
      });
    await begin('ana@a.example');
    await begin('bo@b.example');
    await put(folder);
    await world.drive('2026-11-02T23:00:00Z');
    expect(await readdir(folder)).toEqual([]);
    await world.drive('2026-11-03T01:00:00Z');
    expect((await readdir(folder)).sort()).toEqual(['2-kelp-outcomes.csv', 'kelp-outcomes.csv']);
    const rows = await readFile(join(folder, 'kelp-outcomes.csv'), 'utf8');
    expect(rows).toMatch(/^\ufeffemail,given name,state,.*\r\nana@a\.example,Ana,done,/);
    expect(await found()).toBe('Tue 3 Nov: 2 files were written.');
    // After days on which nobody was there, once.
    await rm(join(folder, 'kelp-outcomes.csv'));
    await world.drive('2026-11-08T12:00:00Z');
    expect(await readdir(folder)).toContain('kelp-outcomes.csv');
    expect(await found()).toBe('Sun 8 Nov: 2 files were written.');
  });

  it('are said to be missing where the folder is gone, and written again when it is back', async () => {
    await put(folder);
    await rm(folder, { recursive: true });
    await world.drive('2026-11-03T12:00:00Z');
    const words = `Tue 3 Nov: The folder ${folder} is not there.`;
    expect(await found()).toBe(words);
    const title = `Rows with outcomes could not all be written into ${folder}`;
    expect(await needs()).toMatchObject([{ kind: 'problem', title, detail: words, link: '/settings' }]);
    folder = await mkdtemp(join(tmpdir(), 'baton-rows-'));
    await put(folder);
    expect(await needs()).toEqual([]);
    await world.drive('2026-11-04T12:00:00Z');
    expect(await needs()).toEqual([]);
    expect(await found()).toBe('Wed 4 Nov: 0 files were written.');
    await put('');
    await world.drive('2026-11-05T12:00:00Z');
    expect(await found()).toBe('');
  });

  it('are written of one campaign though those of another cannot be', async () => {
    const mailbox = await world.connect('ines');
    const steps = [await world.step({})];
    // A name that no file system takes, and one that it does.
    for (const [name, who] of [
      ['漢'.repeat(120), 'ana@a.example'],
      ['Kelp', 'bo@b.example'],
    ] as const)
      await world.begin({ listId: await world.people({ [who]: 'silent' }), mailboxIds: [mailbox], name, steps });
    await put(folder);
    // By two workers at once, as on two machines.
    await world.drive('2026-11-02T23:00:00Z');
    await Promise.all([world.drive('2026-11-03T01:00:00Z'), world.anotherWorker().conductor.run()]);
    expect(await found()).toBe(`Tue 3 Nov: 1 file was written. ${'漢'.repeat(120)}: its file could not be written.`);
    expect(await needs()).toHaveLength(1);
    expect((await readdir(folder)).filter((f) => !f.startsWith('.'))).toEqual(['kelp-outcomes.csv']);
  });

  it('have a folder that can be written into, and that no list is fed from', async () => {
    await expect(put('rows')).rejects.toThrow('not a whole path');
    await expect(put(join(folder, 'none'))).rejects.toThrow('is not there');
    const listId = await world.people({ 'ana@a.example': 'silent' });
    const feed = { kind: 'folder', place: `${folder}/`, how: 'add', everyMinutes: 60, allowPrivate: false };
    await world.api.put(`/lists/${listId}/feed`, feed);
    await expect(put(folder)).rejects.toThrow('would come in again');
  });
});
