import { join } from 'node:path';
import { STATE } from './paths.mjs';
import { startCluster } from './postgres.mjs';
import { preparePostgres } from './prepare.mjs';
import { Processes } from './processes.mjs';
import { UserError } from './say.mjs';

/**
 * Runs processes and perhaps a private cluster until Ctrl+C, then ends all of them, whatever happened.
 *
 * @param {() => void} release called last
 * @param {(parts: { processes: Processes, lost: (title: string) => () => void, useCluster: (folder: string) => ReturnType<typeof startCluster> }) => Promise<void>} begin
 */
export async function together(release, begin) {
  const processes = new Processes();
  let cluster = null;
  let ending = null;
  const end = (code, text) => {
    ending ??= (async () => {
      if (text) console.error(text);
      await processes.stop();
      await cluster?.stop();
      release();
      process.exit(code);
    })();
    return ending;
  };
  process.on('SIGINT', () => void end(0));
  process.on('SIGTERM', () => void end(0));
  const useCluster = async (folder) =>
    (cluster = await startCluster({ bin: preparePostgres(), dir: join(STATE, folder) }));
  try {
    await begin({
      processes,
      lost: (title) => () => void end(1, `${title} ended unexpectedly; its words are above.`),
      useCluster,
    });
  } catch (error) {
    if (!ending) await end(1, error instanceof UserError ? `\n${error.message}\n` : String(error?.stack ?? error));
  }
}
