import { createHash } from 'node:crypto';
import { readdir, readFile, stat } from 'node:fs/promises';
import { isAbsolute, join } from 'node:path';
import { DomainError } from '@baton/core';
import type { Logger } from 'pino';
import type { Duty } from '../../duties/duty';
import { forLog } from '../../log/for-log';
import { announce } from '../../store/changes';
import { LOCKS, withLock, type Store } from '../../store/database';
import { readFeed, readFeeds, updateFeed, type FeedRow } from '../../store/people/import/feed-rows';
import { removeImport } from '../../store/people/import/import-rows';
import { fetchFile } from './fetch-file';
import { beginImport, chooseInto, chooseReading, keepImport } from './import-service';
import { MAX_WHOLE_BYTES } from './read-upload';

/** What a folder is searched for. */
const FILES = /\.(?:csv|tsv|txt|xlsx|ods|vcf|jsonl|ndjson)$/i;
const MINUTE_MS = 60_000;
/** Names of files kept in mind; older ones have long gone. */
const MOST_TAKEN = 2000;

/** A file that a feed has not taken yet. */
interface NewFile {
  name: string;
  mark: string;
  bytes: Buffer;
}

/** Looks at the folders and addresses that lists are fed from, when their time has come. */
export function feedDuty(store: Store, log: Logger): Duty {
  return {
    name: 'feed lists',
    eventful: false,
    nextDue: (_, agenda) => agenda.nextFeedAt,
    run: async (nowMs) => {
      let looked = 0;
      for (const feed of await readFeeds(store.db)) {
        if (!isDue(feed, nowMs)) continue;
        looked +=
          (await withLock(store, LOCKS.feeding, feed.listId, () => lookIfDue(store, feed.listId, nowMs, log))) ?? 0;
      }
      return looked;
    },
  };
}

const isDue = ({ lookedAt, everyMinutes }: FeedRow, nowMs: number): boolean =>
  lookedAt === null || lookedAt + everyMinutes * MINUTE_MS <= nowMs;

/** Another worker may have looked in the meantime. */
async function lookIfDue(store: Store, listId: number, nowMs: number, log: Logger): Promise<number> {
  const feed = await readFeed(store.db, listId);
  return feed && isDue(feed, nowMs) ? lookAt(store, listId, nowMs, log) : 0;
}

/** Imports what is new from a list's feed, and says what that was. */
export async function lookAt(store: Store, listId: number, nowMs: number, log: Logger): Promise<number> {
  const feed = await readFeed(store.db, listId);
  if (!feed) return 0;
  const taken = [...feed.taken];
  const words: string[] = [];
  try {
    for await (const file of newFiles(feed)) {
      words.push(await take(store, feed, file, nowMs));
      taken.push(file.mark);
    }
    if (words.length === 0) words.push('Nothing new.');
  } catch (error) {
    if (!(error instanceof DomainError)) log.warn(forLog(error), 'a list could not be fed');
    words.push(error instanceof DomainError ? error.message : 'It could not be read.');
  }
  await updateFeed(store.db, listId, { lookedAt: nowMs, found: words.join(' '), taken: taken.slice(-MOST_TAKEN) });
  await announce(store.db, 'people');
  return 1;
}

async function* newFiles(feed: FeedRow): AsyncGenerator<NewFile> {
  if (feed.kind === 'url') {
    const bytes = await fetchFile(feed.place, { allowPrivate: feed.allowPrivate, maxBytes: MAX_WHOLE_BYTES });
    const mark = createHash('sha256').update(bytes).digest('hex');
    const name = decodeURIComponent(new URL(feed.place).pathname.split('/').at(-1) ?? '') || new URL(feed.place).host;
    if (feed.taken.at(-1) !== mark) yield { name, mark, bytes };
    return;
  }
  if (!isAbsolute(feed.place)) throw new DomainError('invalid', `“${feed.place}” is not a whole path of a folder.`);
  const names = await readdir(feed.place).catch(() => {
    throw new DomainError('not_found', `The folder ${feed.place} is not there, or may not be read.`);
  });
  for (const name of names.filter((n) => FILES.test(n) && !n.startsWith('.')).sort()) {
    const path = join(feed.place, name);
    const info = await stat(path);
    const mark = `${name}/${info.mtimeMs}/${info.size}`;
    if (!info.isFile() || feed.taken.includes(mark)) continue;
    if (info.size > MAX_WHOLE_BYTES)
      throw new DomainError(
        'too_large',
        `${name} is larger than ${MAX_WHOLE_BYTES / 1024 / 1024} MB; import it by hand.`,
      );
    yield { name, mark, bytes: await readFile(path) };
  }
}

/** Takes one file as the last one with its header was taken, else as Baton guesses. @returns what it brought */
async function take(store: Store, feed: FeedRow, file: NewFile, nowMs: number): Promise<string> {
  const pieces = async function* () {
    await Promise.resolve();
    yield file.bytes;
  };
  const { id, dateQuestion } = await beginImport(store.db, file.name, pieces(), nowMs);
  try {
    // Nobody is there to be asked: the day comes first, as it does in most of the world.
    if (dateQuestion) await chooseReading(store.db, id, { monthFirst: false });
    const view = await chooseInto(store.db, id, { kind: 'list', listId: feed.listId, how: feed.how });
    const { listId } = await keepImport(store, id, null, nowMs);
    if (listId === null) return `${file.name} is large; it is being read.`;
    return `${file.name}: ${view.effect?.added ?? 0} new.`;
  } catch (error) {
    await store.db.transaction((tx) => removeImport(tx, id));
    throw error;
  }
}
