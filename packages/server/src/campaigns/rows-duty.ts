import { access, constants, rename, stat, writeFile } from 'node:fs/promises';
import { isAbsolute, join, resolve } from 'node:path';
import { DAY_MS, dayWords, DomainError, isoDate, MINUTE_MS } from '@baton/core';
import type { Logger } from 'pino';
import type { Duty } from '../duties/duty';
import { forLog } from '../log/for-log';
import { announce } from '../store/changes';
import { listCampaigns, type CampaignRow } from '../store/campaigns/campaign-rows';
import { LOCKS, withLock, type Queryable, type Store } from '../store/database';
import { readFeeds } from '../store/people/import/feed-rows';
import { readWorkspace, updateWorkspace } from '../store/workspace-rows';
import { zones } from '../time/zones';
import { outcomeFile } from './recipients';

/** So long after its end a campaign's rows may still change: replies come late. */
const LATE_MS = 30 * DAY_MS;

/**
 * Says that a folder can be written into.
 *
 * @throws DomainError in a sentence where it cannot, or where it is one that a list is fed from
 */
export async function checkRowsFolder(db: Queryable, folder: string): Promise<void> {
  if (!isAbsolute(folder)) throw new DomainError('invalid', `“${folder}” is not a whole path of a folder.`);
  const isFolder = await stat(folder).then(
    (found) => found.isDirectory(),
    () => false,
  );
  if (!isFolder) throw new DomainError('not_found', `The folder ${folder} is not there.`);
  await access(folder, constants.W_OK).catch(() => {
    throw new DomainError('invalid', `Baton may not write into the folder ${folder}.`);
  });
  if ((await readFeeds(db)).some((f) => f.kind === 'folder' && resolve(f.place) === resolve(folder)))
    throw new DomainError('invalid', `A list is fed from ${folder}; rows that are written there would come in again.`);
}

/** Writes each campaign's rows with what became of them into the folder that the settings name, once a day is over. */
export function rowsDuty(store: Store, log: Logger): Duty {
  return {
    name: 'write rows',
    eventful: false,
    askEveryMs: MINUTE_MS,
    nextDue: async () => {
      const { rowsFolder, rowsDay, zone } = await readWorkspace(store.db);
      // The folder was named in the course of the day behind the last that was written.
      return rowsFolder === '' || rowsDay === null ? null : zones.get(zone).toInstant(rowsDay + 2, 0);
    },
    run: async (nowMs) => {
      // Two that wrote the same file would spoil each other's.
      const written = await withLock(store, LOCKS.writingRows, 0, () => writeIfDue(store, nowMs, log));
      return written ?? 0;
    },
  };
}

/** Another worker may have written in the meantime. */
async function writeIfDue({ db }: Store, nowMs: number, log: Logger): Promise<number> {
  const { rowsFolder, rowsDay, zone, dateForm } = await readWorkspace(db);
  const today = zones.get(zone).toLocal(nowMs).day;
  if (rowsFolder === '' || rowsDay === null || rowsDay >= today - 1) return 0;
  let found: { words: string; rowsFailed: boolean };
  try {
    await checkRowsFolder(db, rowsFolder);
    found = await writeAll(db, rowsFolder, nowMs, log);
  } catch (error) {
    // Not again before the next day: what is wrong is said in the settings and among what needs a person.
    log.warn(forLog(error), 'rows could not be written');
    found = { words: error instanceof DomainError ? error.message : 'They could not be written.', rowsFailed: true };
  }
  const rowsFound = `${dayWords(isoDate(today), 'short', dateForm)}: ${found.words}`;
  await updateWorkspace(db, { rowsDay: today - 1, rowsFound, rowsFailed: found.rowsFailed });
  await announce(db, 'clock', 'today');
  return 1;
}

/** Writes the file of each campaign; one that cannot be written keeps no other from it. @returns what came of it, in sentences */
async function writeAll(
  db: Queryable,
  folder: string,
  nowMs: number,
  log: Logger,
): Promise<{ words: string; rowsFailed: boolean }> {
  const mayChange = ({ state, finishedAt }: CampaignRow) =>
    state !== 'draft' && (finishedAt === null || finishedAt > nowMs - LATE_MS);
  const campaigns = (await listCampaigns(db)).filter(mayChange).sort((a, b) => a.id - b.id);
  const taken = new Set<string>();
  const failed: string[] = [];
  for (const { id, name: campaign } of campaigns) {
    try {
      const { name, body } = await outcomeFile(db, id);
      // Of campaigns of the same name each keeps its own file.
      const own = taken.has(name) ? `${id}-${name}` : name;
      taken.add(own);
      // Whoever reads the folder sees the old file or the new one, never a part.
      const half = join(folder, `.${id}.half`);
      await writeFile(half, body);
      await rename(half, join(folder, own));
    } catch (error) {
      log.warn({ campaign: id, ...forLog(error) }, 'the rows of a campaign could not be written');
      failed.push(`${campaign}: ${error instanceof DomainError ? error.message : 'its file could not be written.'}`);
    }
  }
  const files = campaigns.length - failed.length;
  const words = [`${files === 1 ? '1 file was' : `${files} files were`} written.`, ...failed].join(' ');
  return { words, rowsFailed: failed.length > 0 };
}
