import { DomainError, type Proof } from '@baton/core';
import { assetKey, readAssets } from '../store/messages/asset-rows';
import type { Queryable } from '../store/database';

/** A picture that a message names. */
interface PictureUse {
  cid: string;
  /** Of the library; null where it is named by a value. */
  id: number | null;
  name: string;
}

/** Pictures that come with a message, by the addresses in its HTML. */
export function picturesIn(html: string): PictureUse[] {
  const found = [...html.matchAll(/\bsrc="cid:((asset|named)\.([^"]+))"/g)].map(([, cid, kind, name]) => ({
    cid: cid as string,
    id: kind === 'asset' ? Number(name) : null,
    name: kind === 'named' ? decodeURIComponent(name as string) : '',
  }));
  return [...new Map(found.map((p) => [p.cid, p])).values()];
}

/** A file as it goes with a message; with a `cid` it is shown in it. */
export interface MessageFile {
  filename: string;
  content: Buffer;
  contentType: string;
  cid?: string;
}

/**
 * The pictures and files that go with a message.
 *
 * @throws DomainError `invalid` naming a file that is not in the library
 */
export async function readFiles(
  db: Queryable,
  proof: Pick<Proof, 'html' | 'attachmentIds' | 'attachmentNames'>,
): Promise<MessageFile[]> {
  const pictures = picturesIn(proof.html);
  const ids = [...proof.attachmentIds, ...pictures.flatMap((p) => p.id ?? [])];
  const names = [...proof.attachmentNames, ...pictures.flatMap((p) => (p.id === null ? [p.name] : []))];
  if (ids.length + names.length === 0) return [];
  const found = await readAssets(db, ids, names);
  const get = (id: number | null, name: string): MessageFile => {
    const asset = found.find((a) => (id === null ? a.nameKey === assetKey(name) : a.id === id));
    if (!asset)
      throw new DomainError(
        'invalid',
        id === null
          ? `The file “${name}” is not in the library.`
          : 'A file of this message is no longer in the library.',
      );
    return { filename: asset.name, content: asset.bytes, contentType: asset.type };
  };
  return [
    ...pictures.map((p) => ({ ...get(p.id, p.name), cid: p.cid })),
    ...proof.attachmentIds.map((id) => get(id, '')),
    ...proof.attachmentNames.map((name) => get(null, name)),
  ];
}
