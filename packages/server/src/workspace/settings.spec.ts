import { afterEach, beforeEach, expect, it } from 'vitest';
import type { BriefView, ShellView, WorkspaceSettings } from '@baton/contract';
import { TestWorld } from '../testing/test-world';

let world: TestWorld;
beforeEach(async () => {
  world = await TestWorld.start();
});
afterEach(() => world.close());

const OWN: WorkspaceSettings = { name: 'Tidewater', postalAddress: '4 Slip Road, Carrow Bay', zone: 'Europe/Dublin' };

it('are kept, and shown where they hold', async () => {
  await world.api.put('/settings', { ...OWN, name: ' Kelp Works ', zone: 'Asia/Tokyo' });
  expect(await world.api.get('/settings')).toEqual({ ...OWN, name: 'Kelp Works', zone: 'Asia/Tokyo' });
  const shell = await world.api.get<ShellView>('/shell');
  expect([shell.workspace, shell.clock.zone]).toEqual(['Kelp Works', 'Asia/Tokyo']);
});

it('are refused in a sentence where they are none', async () => {
  await expect(world.api.put('/settings', { ...OWN, zone: 'Mars/Base' })).rejects.toThrow('no time zone “Mars/Base”');
  await expect(world.api.put('/settings', { ...OWN, name: ' ' })).rejects.toThrow('name');
});

it('are what a draft asks for whose message shows a postal address that nobody has entered', async () => {
  await world.api.put('/settings', { ...OWN, postalAddress: '' });
  const mailbox = await world.connect('ines');
  const listId = await world.people({ 'ana@vines.example': 'silent' });
  const step = await world.step({ body: 'Hello, {{ postal_address }} [Leave]({{ unsubscribe_link }})' });
  const { id, forecast } = await world.draft({ listId, mailboxIds: [mailbox], steps: [step] });
  expect(forecast.obstacles.filter((o) => o.kind === 'fix')).toEqual([
    {
      kind: 'fix',
      text: '“First” shows your postal address, which has not been entered',
      remedy: { label: 'Enter it', act: 'settings' },
    },
  ]);
  await world.api.put('/settings', OWN);
  const mended = await world.api.get<BriefView>(`/campaigns/${id}`);
  expect(mended.forecast.obstacles).toEqual([]);
  expect(mended.forecast.people).toBe(1);
});
