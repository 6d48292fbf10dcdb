import { mapAssets, readContent, DomainError } from '@baton/core';
import { boundedReader } from '../bounded/bounded-reader';
import type { ServerParts } from '../http/context';
import { keepAsset } from './asset-service';
import { saveMessage } from './message-service';

/** Takes a message from a file: `.eml`, `.html`, `.mjml`, `.txt`, or a zip that Baton made. @returns its id */
export async function bringIn(parts: ServerParts, fileName: string, bytes: Buffer): Promise<number> {
  if (bytes.length === 0) throw new DomainError('empty_file', `“${fileName}” is empty.`);
  const { name, content, files } = await boundedReader.read('letter', fileName, bytes);
  const ids: number[] = [];
  for (const file of files) ids.push(await keepAsset(parts, file.name, Buffer.from(file.bytes)));
  const kept = mapAssets(readContent(content), (n) => ids[n - 1] ?? 0);
  return saveMessage(parts, null, { name: name.slice(0, 120), content: kept });
}
