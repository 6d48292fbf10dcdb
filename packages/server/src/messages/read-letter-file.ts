import {
  decodeText,
  DomainError,
  EMPTY_CONTENT,
  htmlDoc,
  isZip,
  letterDoc,
  mapAssets,
  mjmlLayout,
  readContent,
  type Attachment,
  type MessageContent,
} from '@baton/core';
import { strFromU8, unzipSync } from 'fflate';
import { simpleParser } from 'mailparser';

/** Form of the zip; see docs/formats.md. */
export const ZIP_FORMAT = 'baton-message/1';

/** What a zip may unpack to: a message with the files that one may have. */
const MOST_UNPACKED = 64 * 1024 * 1024;
const MOST_ENTRIES = 200;

/** A message as a file holds it. */
export interface LetterFile {
  name: string;
  /** Its files have their places in {@link files} for numbers, from 1 on; 0 is one that is missing. */
  content: MessageContent;
  files: { name: string; bytes: Uint8Array }[];
}

/**
 * Reads a message from a file: `.eml`, `.html`, `.mjml`, `.txt`, or a zip that Baton made.
 *
 * @throws DomainError with a sentence for what is none
 */
export async function readLetterFile(fileName: string, bytes: Uint8Array): Promise<LetterFile> {
  const name = fileName.replace(/\.[^.]+$/, '').trim() || 'Message';
  const end = /\.([a-z]+)$/i.exec(fileName)?.[1]?.toLowerCase() ?? '';
  if (isZip(bytes)) return fromZip(bytes);
  if (end === 'eml') return fromMail(name, bytes);
  const { text } = decodeText(bytes);
  const layout = /<mjml[\s>]/i.test(text) ? mjmlLayout(text) : null;
  if (layout)
    return {
      name,
      content: { ...EMPTY_CONTENT, format: 'layout', layout: layout.layout, body: layout.letter ?? EMPTY_CONTENT.body },
      files: [],
    };
  const isHtml = end === 'html' || end === 'htm' || /^\s*(?:<!doctype html|<html|<body|<p[\s>])/i.test(text);
  return { name, content: { ...EMPTY_CONTENT, body: isHtml ? htmlDoc(text, webPicture) : letterDoc(text) }, files: [] };
}

/** Of a page's pictures, those that can be reached without it. */
const webPicture = (src: string): string => (/^https?:/i.test(src) || src.includes('{{') ? src : '');

async function fromMail(name: string, bytes: Uint8Array): Promise<LetterFile> {
  const mail = await simpleParser(Buffer.from(bytes), { skipImageLinks: true });
  const files: LetterFile['files'] = [];
  const attachments: Attachment[] = [];
  const shown = new Map<string, string>();
  for (const file of mail.attachments) {
    const id = files.push({ name: file.filename ?? 'file', bytes: file.content });
    if (file.related && file.cid !== undefined) shown.set(`cid:${file.cid}`, `asset:${id}`);
    else attachments.push({ kind: 'asset', assetId: id });
  }
  const html = typeof mail.html === 'string' ? mail.html : '';
  const body = html === '' ? letterDoc(mail.text ?? '') : htmlDoc(html, (src) => shown.get(src) ?? webPicture(src));
  return {
    name: mail.subject?.trim() || name,
    content: { ...EMPTY_CONTENT, subject: mail.subject ?? '', body, attachments },
    files,
  };
}

function fromZip(bytes: Uint8Array): LetterFile {
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
  const files: LetterFile['files'] = [];
  const numbers = new Map<number, number>();
  for (const a of Array.isArray(read.assets) ? (read.assets as { id?: unknown; name?: unknown }[]) : []) {
    const file = entries[`assets/${String(a.id)}`];
    if (file && typeof a.id === 'number' && typeof a.name === 'string')
      numbers.set(a.id, files.push({ name: a.name, bytes: file }));
  }
  return {
    name: typeof read.name === 'string' ? read.name : 'Message',
    content: mapAssets(content, (id) => numbers.get(id) ?? 0),
    files,
  };
}

/** The entries of a zip, if they are few and not too large: what they say of their size is looked at before unpacking. */
function unpack(bytes: Uint8Array): Record<string, Uint8Array> {
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
