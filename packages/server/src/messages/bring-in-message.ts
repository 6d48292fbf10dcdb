import {
  decodeText,
  DomainError,
  EMPTY_CONTENT,
  htmlDoc,
  letterDoc,
  mapAssets,
  mjmlLayout,
  readContent,
  type Attachment,
  type MessageContent,
} from '@baton/core';
import { strFromU8, unzipSync } from 'fflate';
import { simpleParser } from 'mailparser';
import type { ServerParts } from '../http/context';
import { keepAsset } from './asset-service';
import { saveMessage } from './message-service';
import { ZIP_FORMAT } from './save-message';

/** What a zip may unpack to: a message with the files that one may have. */
const MOST_UNPACKED = 64 * 1024 * 1024;
const MOST_ENTRIES = 200;

/** Takes a message from a file: `.eml`, `.html`, `.mjml`, `.txt`, or a zip that Baton made. @returns its id */
export async function bringIn(parts: ServerParts, fileName: string, bytes: Buffer): Promise<number> {
  if (bytes.length === 0) throw new DomainError('empty_file', `“${fileName}” is empty.`);
  const read = await readMessage(parts, fileName, bytes);
  return saveMessage(parts, null, { name: read.name.slice(0, 120), content: readContent(read.content) });
}

interface ReadMessage {
  name: string;
  content: MessageContent;
}

async function readMessage(parts: ServerParts, fileName: string, bytes: Buffer): Promise<ReadMessage> {
  const name = fileName.replace(/\.[^.]+$/, '').trim() || 'Message';
  const end = /\.([a-z]+)$/i.exec(fileName)?.[1]?.toLowerCase() ?? '';
  if (bytes.subarray(0, 4).equals(Buffer.from('PK\u0003\u0004', 'latin1'))) return fromZip(parts, bytes);
  if (end === 'eml') return fromMail(parts, name, bytes);
  const { text } = decodeText(bytes);
  const layout = /<mjml[\s>]/i.test(text) ? mjmlLayout(text) : null;
  if (layout)
    return {
      name,
      content: { ...EMPTY_CONTENT, format: 'layout', layout: layout.layout, body: layout.letter ?? EMPTY_CONTENT.body },
    };
  const isHtml = end === 'html' || end === 'htm' || /^\s*(?:<!doctype html|<html|<body|<p[\s>])/i.test(text);
  return { name, content: { ...EMPTY_CONTENT, body: isHtml ? htmlDoc(text, webPicture) : letterDoc(text) } };
}

/** Of a page's pictures, those that can be reached without it. */
const webPicture = (src: string): string => (/^https?:/i.test(src) || src.includes('{{') ? src : '');

async function fromMail(parts: ServerParts, name: string, bytes: Buffer): Promise<ReadMessage> {
  const mail = await simpleParser(bytes, { skipImageLinks: true });
  const attachments: Attachment[] = [];
  const shown = new Map<string, string>();
  for (const file of mail.attachments) {
    const id = await keepAsset(parts, file.filename ?? 'file', file.content);
    if (file.related && file.cid !== undefined) shown.set(`cid:${file.cid}`, `asset:${id}`);
    else attachments.push({ kind: 'asset', assetId: id });
  }
  const html = typeof mail.html === 'string' ? mail.html : '';
  const body = html === '' ? letterDoc(mail.text ?? '') : htmlDoc(html, (src) => shown.get(src) ?? webPicture(src));
  return {
    name: mail.subject?.trim() || name,
    content: { ...EMPTY_CONTENT, subject: mail.subject ?? '', body, attachments },
  };
}

async function fromZip(parts: ServerParts, bytes: Buffer): Promise<ReadMessage> {
  const entries = unpack(bytes);
  const json = entries['message.json'];
  if (!json) throw new DomainError('invalid', 'There is no message.json in this zip file: it was not made by Baton.');
  let read: { format?: unknown; name?: unknown; content?: unknown; assets?: unknown };
  try {
    read = JSON.parse(strFromU8(json)) as typeof read;
  } catch (error) {
    throw new DomainError('invalid', 'The message.json in this zip is not JSON.', { cause: error });
  }
  if (read.format !== ZIP_FORMAT)
    throw new DomainError(
      'invalid',
      `The message in this zip is of the form ${String(read.format)}; expected ${ZIP_FORMAT}.`,
    );
  const content = readContent(read.content);
  const numbers = new Map<number, number>();
  for (const a of Array.isArray(read.assets) ? (read.assets as { id?: unknown; name?: unknown }[]) : []) {
    const file = entries[`assets/${String(a.id)}`];
    if (file && typeof a.id === 'number' && typeof a.name === 'string')
      numbers.set(a.id, await keepAsset(parts, a.name, Buffer.from(file)));
  }
  return {
    name: typeof read.name === 'string' ? read.name : 'Message',
    content: mapAssets(content, (id) => numbers.get(id) ?? id),
  };
}

/** The entries of a zip, if they are few and not too large: what they say of their size is looked at before unpacking. */
function unpack(bytes: Buffer): Record<string, Uint8Array> {
  let [size, count] = [0, 0];
  try {
    return unzipSync(bytes, {
      filter: ({ originalSize }) => {
        size += originalSize;
        if (++count > MOST_ENTRIES || size > MOST_UNPACKED)
          throw new DomainError('too_large', 'This zip file is larger than a message can be.');
        return true;
      },
    });
  } catch (error) {
    if (error instanceof DomainError) throw error;
    throw new DomainError('invalid', 'This zip file is damaged.', { cause: error });
  }
}
