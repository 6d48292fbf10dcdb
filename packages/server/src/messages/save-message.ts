import { assetsOf, layoutMjml, messageMjml, messageSource, PLAIN_THEME } from '@baton/core';
import { strToU8, zipSync, type Zippable } from 'fflate';
import MailComposer from 'nodemailer/lib/mail-composer';
import { readAssets } from '../store/messages/asset-rows';
import type { Queryable } from '../store/database';
import type { MessageRow } from '../store/messages/message-rows';
import { ZIP_FORMAT } from './read-letter-file';
import { setLayout } from './compiled-messages';
import { readFiles } from './message-files';

export const FILE_FORMATS = ['eml', 'html', 'mjml', 'txt', 'zip'] as const;
export type FileFormat = (typeof FILE_FORMATS)[number];

const TYPES: Record<FileFormat, string> = {
  eml: 'message/rfc822',
  html: 'text/html; charset=utf-8',
  mjml: 'text/plain; charset=utf-8',
  txt: 'text/plain; charset=utf-8',
  zip: 'application/zip',
};

/** A message as a file, its fields as Liquid. */
export async function saveAs(
  db: Queryable,
  message: Pick<MessageRow, 'name' | 'content'>,
  format: FileFormat,
): Promise<{ name: string; type: string; bytes: Buffer }> {
  const name = message.name.replace(/[^\p{L}\p{N} -]+/gu, ' ').trim() || 'message';
  return { name: `${name}.${format}`, type: TYPES[format], bytes: await bytesOf(db, message, format) };
}

async function bytesOf(
  db: Queryable,
  message: Pick<MessageRow, 'name' | 'content'>,
  format: FileFormat,
): Promise<Buffer> {
  const { content } = message;
  const set = messageMjml(content);
  const source = messageSource(content, set && (await setLayout(set)));
  switch (format) {
    case 'txt':
      return Buffer.from(source.text);
    case 'html':
      return Buffer.from(source.html);
    case 'mjml': {
      const letter =
        set ??
        layoutMjml({ theme: PLAIN_THEME, blocks: [{ id: 'letter', kind: 'letter' }] }, content.body, content.preview);
      return Buffer.from(letter.restore(letter.mjml));
    }
    case 'eml': {
      const files = await readFiles(db, {
        html: source.html,
        attachmentIds: source.attachmentIds,
        attachmentNames: [],
      });
      return new MailComposer({
        subject: source.subject,
        text: source.text,
        html: source.html,
        attachments: files,
        // Opened as a draft, not as a message that came.
        headers: { 'X-Unsent': '1' },
        disableFileAccess: true,
        disableUrlAccess: true,
      })
        .compile()
        .build();
    }
    case 'zip':
      return zipped(db, message);
  }
}

async function zipped(db: Queryable, { name, content }: Pick<MessageRow, 'name' | 'content'>): Promise<Buffer> {
  const assets = await readAssets(db, assetsOf(content), []);
  const entries: Zippable = {
    'message.json': strToU8(
      JSON.stringify(
        { format: ZIP_FORMAT, name, content, assets: assets.map((a) => ({ id: a.id, name: a.name, type: a.type })) },
        null,
        2,
      ),
    ),
  };
  // A file's name may be anything; its place in the zip is its number.
  for (const a of assets) entries[`assets/${a.id}`] = new Uint8Array(a.bytes);
  return Buffer.from(zipSync(entries));
}
