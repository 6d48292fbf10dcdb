import { assetsOf, DomainError, readLayout, SHIPPED_LAYOUTS, type MessageContent } from '@baton/core';
import type { AssetView, LayoutView } from '@baton/contract';
import type { ServerParts } from '../http/context';
import {
  addAsset,
  addLayout,
  assetKey,
  findSameAsset,
  listAssets,
  listLayouts,
  removeAsset,
  removeLayout,
} from '../store/messages/asset-rows';
import { announce } from '../store/changes';
import type { Queryable } from '../store/database';
import { listMessages } from '../store/messages/message-rows';
import { typeOfFile } from './file-type';

/** A file larger than this goes through few mail servers, in base64. */
const MOST_BYTES = 18 * 1024 * 1024;

/** The library, with what uses each file. */
export async function viewAssets(db: Queryable): Promise<AssetView[]> {
  const messages = await listMessages(db);
  return (await listAssets(db)).map((a) => ({
    ...a,
    usedBy: messages.filter((m) => usesAsset(m.content, a)).map((m) => m.name),
  }));
}

function usesAsset(content: MessageContent, { id, name }: { id: number; name: string }): boolean {
  return (
    assetsOf(content).includes(id) ||
    content.attachments.some((a) => a.kind === 'named' && assetKey(a.name) === assetKey(name))
  );
}

/** Keeps a file; the same file under the same name is kept once. @throws DomainError `too_large`, `empty_file` */
export async function keepAsset({ store, clock }: ServerParts, name: string, bytes: Buffer): Promise<number> {
  if (bytes.length === 0) throw new DomainError('empty_file', `“${name}” is empty.`);
  if (bytes.length > MOST_BYTES)
    throw new DomainError(
      'too_large',
      `“${name}” has ${(bytes.length / 1024 / 1024).toFixed(1)} MB; files of messages have at most ${MOST_BYTES / 1024 / 1024} MB.`,
    );
  const clean =
    name
      .replace(/[\\/\p{Cc}]/gu, ' ')
      .trim()
      .slice(0, 200) || 'file';
  const same = await findSameAsset(store.db, clean, bytes);
  if (same !== null) return same;
  const asset = {
    name: clean,
    type: typeOfFile(clean, bytes),
    bytes,
    size: bytes.length,
    createdAt: await clock.now(),
  };
  const id = await addAsset(store.db, asset);
  await announce(store.db, 'messages');
  return id;
}

/** @throws DomainError `conflict` while a message uses it */
export async function deleteAsset({ store: { db } }: ServerParts, id: number): Promise<void> {
  const asset = (await viewAssets(db)).find((a) => a.id === id);
  if (!asset) throw new DomainError('not_found', 'There is no such file.');
  if (asset.usedBy.length > 0)
    throw new DomainError('conflict', `“${asset.name}” is in ${asset.usedBy.join(', ')}; remove it there first.`);
  await removeAsset(db, id);
  await announce(db, 'messages');
}

/** Layouts that ship, and the workspace's own. */
export async function viewLayouts(db: Queryable): Promise<LayoutView[]> {
  const own = await listLayouts(db);
  return [
    ...SHIPPED_LAYOUTS.map((l) => ({ id: null, ...l })),
    ...own.map((l) => ({ ...l, layout: readLayout(l.layout) })),
  ];
}

export async function keepLayout({ store, clock }: ServerParts, name: string, layout: unknown): Promise<number> {
  const id = await addLayout(store.db, { name, layout: readLayout(layout), createdAt: await clock.now() });
  await announce(store.db, 'messages');
  return id;
}

export async function deleteLayout({ store: { db } }: ServerParts, id: number): Promise<void> {
  if (!(await removeLayout(db, id))) throw new DomainError('not_found', 'There is no such layout.');
  await announce(db, 'messages');
}
