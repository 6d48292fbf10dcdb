import { join } from 'node:path';
import { STATE } from './paths.mjs';
import { startCluster } from './postgres.mjs';
import { preparePostgres } from './prepare.mjs';
import { Processes } from './processes.mjs';
import { say, UserError } from './say.mjs';

/** How often is looked whether PostgreSQL still runs. */
const LOOK_MS = 2000;

/**
 * Runs processes and perhaps a private cluster until Ctrl+C, then ends all of them, whatever happened.
 *
 * @param {() => void} release called last
 * @param {(parts: { processes: Processes, lost: (title: string) => () => void, useCluster: (folder: string) => ReturnType<typeof startCluster> }) => Promise<void>} begin
 */
export async function together(release, begin) {
  const processes = new Processes();
  let cluster = null;
  let watch = null;
  let ending = null;
  const end = (code, text) => {
    ending ??= (async () => {
      if (text) console.error(text);
      clearInterval(watch);
      await processes.stop();
      await cluster?.stop();
      release();
      process.exit(code);
    })();
    return ending;
  };
  process.on('SIGINT', () => void end(0));
  process.on('SIGTERM', () => void end(0));
  const useCluster = async (folder) => {
    cluster = await startCluster({ bin: preparePostgres(), dir: join(STATE, folder) });
    const look = () => {
      if (ending || cluster.isRunning()) return;
      say('PostgreSQL ended and is started again.');
      try {
        cluster.startAgain();
      } catch (error) {
        say(error.message);
      }
    };
    watch = setInterval(look, LOOK_MS);
    return cluster;
  };
  try {
    await begin({
      processes,
      lost: (title) => () => void end(1, `${title} ended unexpectedly; what it said is in .baton/logs.`),
      useCluster,
    });
  } catch (error) {
    if (!ending) await end(1, error instanceof UserError ? `\n${error.message}\n` : String(error?.stack ?? error));
  }
}
