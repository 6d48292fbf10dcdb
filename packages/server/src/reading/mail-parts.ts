import { DomainError, storableText } from '@baton/core';
import type { MailFile, MailParts } from '@baton/contract';
import { simpleParser, type Attachment, type ParsedMail } from 'mailparser';
import sanitizeHtml from 'sanitize-html';
import { isPicture, typeOfFile } from '../messages/file-type';

/** Files of one message that are listed: more than anybody attaches. */
const MOST_FILES = 200;
const MOST_NAME = 200;
/** Characters of a page that are shown, and bytes of pictures in it. */
const MOST_PAGE = 3_000_000;
const MOST_PICTURES = 12_000_000;

const OPTIONS = { skipTextToHtml: true, skipHtmlToText: true, skipImageLinks: true, skipTextLinks: true } as const;

/** Ends of names of files that run, or carry what runs, when they are opened. */
const RUNS =
  /\.(?:ace|apk|app|appx|bat|chm|cmd|com|cpl|dll|dmg|docm|dotm|exe|hta|html?|img|iso|jar|jnlp|js|jse|lnk|mht(?:ml)?|msc|msi|one|pif|pkg|potm|ppam|pptm|ps1|py|rar|reg|scr|sh|svg|url|vbe?|vhdx?|wsf|wsh|xht(?:ml)?|xlam|xll|xlsm|xltm)$/i;

/** What a message holds beside its text. */
export function partsOf({ html, attachments }: Pick<ParsedMail, 'html' | 'attachments'>): MailParts {
  const page = html || '';
  return {
    hasPage: page.trim() !== '',
    hasRemotePictures: REMOTE.test(page),
    files: attachments.slice(0, MOST_FILES).map(fileOf),
  };
}

export const NO_PARTS: MailParts = { hasPage: false, hasRemotePictures: false, files: [] };

const REMOTE = /(?:\bsrc|\bbackground|\burl)\s*[=(]\s*["']?\s*(?:https?:)?\/\//i;

function fileOf(file: Attachment, at: number): MailFile {
  const name = nameOf(file, at);
  const type = storableText(file.contentType.slice(0, MOST_NAME));
  return {
    name,
    type,
    size: file.content.length,
    isPicture: isPicture(typeOfFile(name, file.content)),
    canRun: RUNS.test(name),
  };
}

/** Its name on one line, without what hides its end (characters that turn the direction of writing) or leads elsewhere. */
function nameOf({ filename, contentType }: Attachment, at: number): string {
  const given = storableText(filename ?? '')
    .replace(/[\p{Cc}\p{Cf}\p{Zl}\p{Zp}]/gu, '')
    .replace(/[\\/:*?"<>|]/g, '_')
    .trim();
  if (given !== '') return given.length > MOST_NAME ? `${given.slice(0, 100)}…${given.slice(-99)}` : given;
  return /^message\//i.test(contentType) ? `message ${at + 1}.eml` : `file ${at + 1}`;
}

/**
 * The page of a message, to be shown in a frame that runs nothing: without scripts, forms and styles for whole pages; pictures
 * that came with it are in it, those from elsewhere stay addresses, which the frame's policy lets load or not.
 *
 * @returns null where it has none
 * @throws DomainError `too_large`
 */
export async function readPage(raw: Uint8Array): Promise<string | null> {
  const { html, attachments } = await simpleParser(Buffer.from(raw), OPTIONS);
  if (!html || html.trim() === '') return null;
  if (html.length > MOST_PAGE)
    throw new DomainError('too_large', 'This page is longer than what is shown here. Save the message to open it.');
  const pictures = picturesOf(attachments);
  return sanitizeHtml(html, {
    allowedTags: TAGS,
    allowedAttributes: {
      ...Object.fromEntries(TAGS.map((tag) => [tag, ATTRIBUTES])),
      a: [...ATTRIBUTES, 'href', 'target', 'rel'],
      img: [...ATTRIBUTES, 'src', 'alt', 'title'],
    },
    allowedSchemes: ['http', 'https', 'mailto', 'tel'],
    allowedSchemesByTag: { img: ['data', 'http', 'https'] },
    allowProtocolRelative: false,
    transformTags: {
      a: (tagName, attribs) => ({
        tagName,
        attribs: { ...attribs, target: '_blank', rel: 'noopener noreferrer nofollow' },
      }),
      img: (tagName, { src = '', ...attribs }) => ({ tagName, attribs: { ...attribs, src: pictures(src) } }),
    },
  });
}

const ATTRIBUTES = [
  ...['align', 'bgcolor', 'border', 'cellpadding', 'cellspacing', 'color', 'colspan', 'dir', 'face', 'height', 'lang'],
  ...['rowspan', 'size', 'style', 'valign', 'width'],
];
const TAGS = [
  ...['a', 'abbr', 'address', 'b', 'bdi', 'bdo', 'big', 'blockquote', 'br', 'caption', 'center', 'cite', 'code', 'col'],
  ...['colgroup', 'dd', 'del', 'div', 'dl', 'dt', 'em', 'figcaption', 'figure', 'font', 'h1', 'h2', 'h3', 'h4', 'h5'],
  ...['h6', 'hr', 'i', 'img', 'ins', 'kbd', 'li', 'mark', 'ol', 'p', 'pre', 'q', 's', 'samp', 'section', 'small'],
  ...['span', 'strike', 'strong', 'sub', 'sup', 'table', 'tbody', 'td', 'tfoot', 'th', 'thead', 'tr', 'tt', 'u', 'ul'],
];

/** Addresses of pictures, those that came with the message (RFC 2392) as what they are. */
function picturesOf(attachments: readonly Attachment[]): (src: string) => string {
  let left = MOST_PICTURES;
  const made = new Map<string, string>();
  return (src) => {
    const cid = /^cid:(.+)$/i.exec(src.trim())?.[1];
    if (cid === undefined) return /^data:(?!image\/(?:png|jpeg|gif|webp)[;,])/i.test(src.trim()) ? '' : src;
    const known = made.get(cid);
    if (known !== undefined) return known;
    const file = attachments.find((a) => a.contentId === `<${cid}>` || a.cid === cid);
    const type = file && typeOfFile('', file.content);
    if (!file || !type || !isPicture(type) || file.content.length > left) return '';
    left -= file.content.length;
    const data = `data:${type};base64,${file.content.toString('base64')}`;
    made.set(cid, data);
    return data;
  };
}

/** A file of a message as it is given away. */
export interface AttachedFile {
  name: string;
  /** By what is in it; only pictures have one of their own. */
  type: string;
  bytes: Uint8Array;
}

/** @param at its place in `MailParts.files` @returns null where there is none */
export async function readAttachedFile(raw: Uint8Array, at: number): Promise<AttachedFile | null> {
  const { attachments } = await simpleParser(Buffer.from(raw), OPTIONS);
  const file = at < MOST_FILES ? attachments[at] : undefined;
  if (!file) return null;
  const name = nameOf(file, at);
  const type = typeOfFile(name, file.content);
  return { name, type: isPicture(type) ? type : 'application/octet-stream', bytes: new Uint8Array(file.content) };
}
