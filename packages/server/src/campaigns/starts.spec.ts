import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { StartProgress } from '@baton/contract';
import { CompiledMessages } from '../messages/compiled-messages';
import type { ServerParts } from '../http/context';
import { TestWorld } from '../testing/test-world';
import { startCampaign } from './campaign-service';
import { Starts } from './starts';

let world: TestWorld;
beforeEach(async () => {
  world = await TestWorld.start();
});
afterEach(() => world.close());

describe('a start under way', () => {
  const draft = async () => {
    const rows = Array.from({ length: 4100 }, (_, i) => `p${i}@x.example`);
    return world.draft({
      listId: await world.importCsv(['email', ...rows].join('\n')),
      ...{ mailboxIds: [await world.connect('ines')], steps: [await world.step({ subject: 'Kelp' })] },
      window: { weekdays: [1, 2, 3, 4, 5, 6, 7], from: 0, to: 1440 },
    });
  };
  const parts = () =>
    ({
      ...{ store: world.store, compiled: new CompiledMessages() },
      clock: { now: () => Promise.resolve(Date.parse('2026-11-02T07:00:00Z')) },
    }) as unknown as ServerParts;

  it('tells how far it is, and a cancelled one leaves the draft as it was', async () => {
    const { id, forecast } = await draft();
    const shown = { people: forecast.people, lastDay: forecast.lastDay };
    const starts = new Starts();
    const seen: StartProgress[] = [];
    const run = (stopAt: number) =>
      starts.run(id, (tell) =>
        startCampaign(parts(), id, shown, (progress) => {
          seen.push(progress);
          if (progress.done === stopAt) starts.cancel(id);
          tell(progress);
        }),
      );
    await expect(run(2000)).rejects.toThrow('The start has been cancelled; the campaign is a draft as before.');
    expect([(await world.brief(id)).state, starts.progress(id)]).toEqual(['draft', null]);
    const { rows } = await world.store.db.execute('select id from enrolments');
    expect(rows).toEqual([]);
    // Also one that is cancelled while the last of them are taken in.
    await expect(run(4000)).rejects.toThrow('cancelled');
    expect((await world.brief(id)).state).toBe('draft');
    seen.length = 0;
    await run(-1);
    expect(seen).toEqual([
      { phase: 'enrolling', done: 0, of: 4100 },
      { phase: 'enrolling', done: 2000, of: 4100 },
      { phase: 'enrolling', done: 4000, of: 4100 },
      { phase: 'planning', done: 0, of: 0 },
    ]);
    expect((await world.brief(id)).state).toBe('running');
  });

  it('is one at a time, and is not cancelled once it has started', async () => {
    const starts = new Starts();
    let go: () => void = () => undefined;
    const first = starts.run(1, (tell) => {
      tell({ phase: 'planning', done: 0, of: 0 });
      return new Promise((resolve) => (go = resolve));
    });
    await expect(starts.run(1, () => Promise.resolve())).rejects.toThrow('being started already');
    expect(() => starts.cancel(1)).toThrow('too late');
    go();
    await first;
    expect(() => starts.cancel(1)).toThrow('too late');
    await starts.run(1, () => Promise.resolve());
    expect(await world.api.get('/campaigns/1/start')).toEqual({ progress: null });
    await expect(world.api.remove('/campaigns/1/start')).rejects.toThrow('409');
  });
});
