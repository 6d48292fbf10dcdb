import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import { planSends } from '@baton/core';
import { SERVER_MAIN } from '../../bin/lib/build.mjs';
import { STATE } from '../../bin/lib/paths.mjs';
import { startCluster } from '../../bin/lib/postgres.mjs';
import { preparePostgres } from '../../bin/lib/prepare.mjs';
import { Processes } from '../../bin/lib/processes.mjs';
import { viewBrief } from '../../packages/server/src/campaigns/campaign-service';
import { previewChange } from '../../packages/server/src/campaigns/change-running';
import type { ServerParts } from '../../packages/server/src/http/context';
import { CompiledMessages } from '../../packages/server/src/messages/compiled-messages';
import { readWork } from '../../packages/server/src/planning/plan-workspace';
import { replan } from '../../packages/server/src/planning/replan';
import { openStore } from '../../packages/server/src/store/database';
import { print } from '../row';
import { fill, NOW, PEOPLE } from './replanning';

const TURNS = 3;
const CONTENT = JSON.stringify({ subject: 'Kelp', body: 'Hello {{ unsubscribe_link }}' });

/** Opening the brief of a campaign of 100,000, as a draft and while it runs, and a change of it, against one full plan. */
export async function briefs(): Promise<void> {
  const dir = join(STATE, `bench-briefs-${process.pid}`);
  const cluster = await startCluster({ bin: preparePostgres() as string, dir });
  cluster.createDatabase('briefs');
  const store = openStore(cluster.url('briefs'));
  try {
    const env = { DATABASE_URL: store.url, BATON_KEY_FILE: join(dir, 'key') };
    await new Processes().run('The migration', SERVER_MAIN, ['migrate'], env);
    await fill(store);
    const { pool } = store;
    await pool.query(`insert into messages (name, content, created_at, updated_at) values ('Kelp', $1, 0, 0)`, [
      CONTENT,
    ]);
    await pool.query(`update campaign_steps set message_id = 1, content = $1`, [CONTENT]);
    const fullPlan = async () => planSends((await readWork(store.db, NOW)).input, 'full');
    await fullPlan();
    const full = await timed(fullPlan);
    const parts = {
      ...{ store, clock: { now: () => Promise.resolve(NOW) } },
      compiled: new CompiledMessages(),
    } as unknown as ServerParts;
    const say = (name: string, ms: number) =>
      print({
        ...{
          name: `${name} of ${PEOPLE.toLocaleString('en')}`,
          ratio: ms / full,
          goal: 3,
          unit: 'times reading and making one full plan',
        },
        milliseconds: Math.round(ms),
      });
    await replan(store, NOW);
    let brief = await viewBrief(parts, 1);
    say('open the brief of a running campaign', await timed(async () => (brief = await viewBrief(parts, 1))));
    const steps = brief.steps.map((s, i) => ({ ...s, delay: s.delay + i }));
    say(
      'what a change would do to a running campaign',
      await timed(() => previewChange(parts, 1, { ...brief, steps })),
    );
    await pool.query(`update campaigns set state = 'draft'`);
    await pool.query('delete from enrolments');
    say('open the brief of a draft', await timed(() => viewBrief(parts, 1)));
  } finally {
    await store.close();
    await cluster.stop();
    await rm(dir, { recursive: true, force: true });
  }
}

/** The shortest of a few turns: other work on the machine comes and goes. */
async function timed(act: () => Promise<unknown>): Promise<number> {
  let least = Infinity;
  for (let turn = 0; turn < TURNS; turn++) {
    const before = performance.now();
    await act();
    least = Math.min(least, performance.now() - before);
  }
  return least;
}
