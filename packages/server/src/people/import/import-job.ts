import { DomainError } from '@baton/core';
import type { ImportProgress } from '@baton/contract';
import type { Logger } from 'pino';
import { forLog } from '../../log/for-log';
import { announce } from '../../store/changes';
import { LOCKS, withLock, type Store } from '../../store/database';
import {
  isCancelled,
  readImport,
  removeImport,
  updateImport,
  wantedImports,
  type ImportRow,
} from '../../store/people/import/import-rows';
import { dropStaged } from '../../store/people/import/staged-rows';
import type { WorkspaceClock } from '../../time/workspace-clock';
import { readToTake } from './read-import';
import { effectOf, rememberRoles, stageImport, storeImport, type TakingWatch } from './take-import';

/** How often a large import says how far it is. */
const PROGRESS_MS = 500;

/**
 * Takes the large imports that are wanted, one after the other. A session lock makes sure that one worker works on an
 * import, and goes when the worker dies: the next one then begins it anew, for nothing of it is visible before its end.
 *
 * @returns how many were taken, counted, cancelled or failed
 */
export async function takeWantedImports(store: Store, clock: WorkspaceClock, log: Logger): Promise<number> {
  let done = 0;
  for (const id of await wantedImports(store.db))
    done += (await withLock(store, LOCKS.importing, id, () => takeOne(store, clock, log, id))) ?? 0;
  return done;
}

async function takeOne(store: Store, clock: WorkspaceClock, log: Logger, id: number): Promise<number> {
  const row = await readImport(store.db, id);
  if (row?.state !== 'taking') return 0;
  try {
    await takeRow(store, row, await clock.now());
  } catch (error) {
    await dropStaged(store.db, id);
    if (await isCancelled(store.db, id)) await store.db.transaction((tx) => removeImport(tx, id));
    else {
      const isOurs = error instanceof DomainError;
      if (!isOurs) log.error(forLog(error), 'an import failed');
      const problem = isOurs
        ? error.message
        : 'Something went wrong on Baton’s side; nothing has been imported. Try again.';
      await updateImport(store.db, id, { state: 'failed', problem, progress: null });
    }
  }
  await announce(store.db, 'imports', 'people');
  return 1;
}

async function takeRow(store: Store, row: ImportRow, nowMs: number): Promise<void> {
  const into = row.into ?? { kind: 'new', name: row.name };
  const read = await readToTake(store.db, row);
  await rememberRoles(store.db, row, nowMs);
  const staged = await stageImport(store, row, read, into, watchOf(store, row.id));
  const effect = row.effect === null ? await effectOf(store.db, row.id, into) : null;
  if (effect) await updateImport(store.db, row.id, { state: 'counted', effect, progress: null });
  else await storeImport(store, row, staged, into, nowMs);
}

function watchOf(store: Store, id: number): TakingWatch {
  let said = 0;
  let looked = 0;
  return {
    async progress(progress: ImportProgress) {
      const now = performance.now();
      if (progress.step === 'reading' && now - said < PROGRESS_MS) return;
      said = now;
      await updateImport(store.db, id, { progress });
      await announce(store.db, 'imports');
    },
    async check() {
      const now = performance.now();
      if (now - looked < PROGRESS_MS / 2) return;
      looked = now;
      if (await isCancelled(store.db, id)) throw new DomainError('conflict', 'The import was cancelled.');
    },
  };
}
