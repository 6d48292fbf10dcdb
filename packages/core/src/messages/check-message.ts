import { otherNames, usualKey } from '../people/import/columns/column-roles';
import { contrast, LEAST_CONTRAST } from './contrast';
import { fieldKey } from './field-name';
import type { LayoutBlock, SimpleBlock } from './layout';
import { askedIn, fieldsOf } from './content-fields';
import { liquidTexts, type MessageContent, type Place } from './message-content';
import { followingText } from './message-source';
import { MESSAGE_FIELDS, MESSAGE_KEYS } from './message-values';
import { nearestName } from './nearest-name';
import { linkRuns, type Inline, type RichBlock, type RichDoc } from './rich-doc';
import { hrefSource, imageSource } from './rich-html';
import { splitTags } from './split-tags';
import { PLAIN_THEME } from './theme';

/** What a check is about. `stop`: nothing of it is sent so; `look`: it can be, and should be looked at. */
export interface MessageCheck {
  kind: CheckKind;
  level: 'stop' | 'look';
  words: string;
  place: Place | 'layout';
  /** Text to be found at that place. */
  near?: string;
  /** The field it is about, by name; and the one that may have been meant. */
  field?: string;
  meant?: string;
  /** How many people, and the positions of the first few in the list. */
  people?: number;
  who?: number[];
}

export type CheckKind =
  | 'no_subject'
  | 'unknown_field'
  | 'blank_field'
  | 'no_unsubscribe'
  | 'dead_link'
  | 'bare_link'
  | 'picture_without_text'
  | 'picture_without_source'
  | 'long_subject'
  | 'loud'
  | 'filter_words'
  | 'few_words'
  | 'too_large'
  | 'large_files'
  | 'file_missing'
  | 'no_plain'
  | 'low_contrast'
  | 'plain_by_hand';

/** What is known of the people the message is for, and of the finished message. */
export interface CheckedFacts {
  /** The list's columns. */
  columns: readonly { key: string; name: string }[];
  /** Blank for how many where no fallback is, by field key; exactly as messages are filled in. */
  blanks: ReadonlyMap<string, { people: number; who: number[] }>;
  /** The longest subject in characters, and whose it is; null for an empty list. */
  longestSubject: { letters: number; who: number } | null;
  /** Bytes of the HTML part. */
  htmlBytes: number;
  /** Bytes of all files that go with it, as they travel. */
  fileBytes: number;
  /** Files that a value names and the library does not have. */
  missingFiles: { name: string; people: number; who: number[] }[];
}

/** Characters of a subject that a phone shows. */
export const PHONE_SUBJECT = 50;
/** Some mail programs cut HTML beyond this and hide the rest, the unsubscribe link with it. */
export const MOST_HTML_BYTES = 102 * 1024;
/** What common mail providers take with one message, as it travels. */
export const MOST_MAIL_BYTES = 25 * 1024 * 1024;

const FILTER_WORDS =
  /\b(?:100 ?% free|act now|amazing (?:deal|offer)|cash bonus|click (?:here|below)|congratulations|double your|earn money|extra income|free (?:gift|money|trial!)|guaranteed?|limited[- ]time|no obligation|once in a lifetime|order now|risk[- ]free|special promotion|this is not spam|urgent|winner|you have been selected)\b/i;

/** Looks a message over before anything of it leaves. */
export function checkMessage(content: MessageContent, facts: CheckedFacts): MessageCheck[] {
  const text = content.plain ?? followingText(content);
  const form = lookThrough(content);
  return [
    ...checkSubject(content, facts),
    ...checkFields(content, facts),
    ...checkLeaving(content, text),
    ...form.checks,
    ...checkColours(content, form.colours),
    ...checkWords(content, text),
    ...checkSizes(content, text, form.pictures, facts),
  ];
}

function checkSubject({ subject }: MessageContent, { longestSubject }: CheckedFacts): MessageCheck[] {
  if (subject.trim() === '')
    return [{ kind: 'no_subject', level: 'stop', place: 'subject', words: 'The subject is empty.' }];
  if (!longestSubject || longestSubject.letters <= PHONE_SUBJECT) return [];
  const words = `The longest subject has ${longestSubject.letters} letters; a phone shows about ${PHONE_SUBJECT}.`;
  return [{ kind: 'long_subject', level: 'look', place: 'subject', words, who: [longestSubject.who] }];
}

function checkFields(content: MessageContent, { columns, blanks }: CheckedFacts): MessageCheck[] {
  const own = MESSAGE_FIELDS.map((f) => ({ key: fieldKey(f.name), name: f.name }));
  const known = [...columns, ...otherNames(columns), ...own];
  const keys = new Set(known.map((k) => k.key));
  const out: MessageCheck[] = [];
  const done = new Set<string>();
  for (const use of fieldsOf(content)) {
    if (done.has(use.key)) continue;
    done.add(use.key);
    const field = use.name.replaceAll('_', ' ');
    const { place } = use;
    if (!keys.has(use.key) && !keys.has(usualKey(use.key))) {
      const near = nearestName(use.key, known);
      const meant = near ? { meant: near.name } : {};
      const words = `“${field}” is not a column of this list${near ? `; “${near.name}” is` : ''}.`;
      out.push({
        kind: 'unknown_field',
        level: use.fallback === null && !use.guarded ? 'stop' : 'look',
        place,
        words,
        field,
        ...meant,
      });
      continue;
    }
    const blank = blanks.get(use.key);
    if (blank && blank.people > 0)
      out.push({
        kind: 'blank_field',
        level: 'stop',
        place,
        field,
        words: `${field} is blank for ${count(blank.people, 'person', 'people')} and has no fallback: they would be left out.`,
        ...blank,
      });
  }
  for (const { name, key, place } of askedIn(content)) {
    if (keys.has(key) || keys.has(usualKey(key))) continue;
    const field = name.replaceAll('_', ' ');
    const near = nearestName(key, known);
    const words = `“${field}” is not a column of this list${near ? `; “${near.name}” is` : ''}. What asks for it finds it blank.`;
    out.push({ kind: 'unknown_field', level: 'look', place, words, field, ...(near ? { meant: near.name } : {}) });
  }
  return out;
}

function checkLeaving(content: MessageContent, text: string): MessageCheck[] {
  const has = (source: string) => /\{\{-?\s*unsubscribe[ _-]?link\b/i.test(source);
  const inBody = liquidTexts(content).some(({ place, text: t }) => place === 'body' && has(t));
  if (inBody && has(text)) return [];
  const words = inBody
    ? 'The plain text has no unsubscribe link.'
    : 'There is no unsubscribe link: whoever wants out can only report it as spam.';
  return [
    { kind: 'no_unsubscribe', level: 'look', place: inBody ? 'plain' : 'body', words, field: 'unsubscribe link' },
  ];
}

/** Looks through links and pictures, wherever they stand. */
function lookThrough(content: MessageContent): Form {
  const form = new Form();
  form.doc(content.body, 'body');
  if (content.format === 'layout') for (const block of content.layout?.blocks ?? []) form.block(block);
  return form;
}

class Form {
  readonly checks: MessageCheck[] = [];
  /** Colours that pieces of the text have. */
  readonly colours = new Set<string>();
  pictures = 0;

  doc(doc: RichDoc, place: 'body' | 'layout'): void {
    this.blocks(doc.content, place);
  }

  block(block: LayoutBlock): void {
    if (block.kind === 'columns') for (const b of [...block.left, ...block.right]) this.simple(b);
    else this.simple(block);
  }

  private simple(block: SimpleBlock): void {
    if (block.kind === 'text' || block.kind === 'footer') this.doc(block.doc, 'layout');
    if (block.kind === 'button') this.link(block.href, block.text, 'layout');
    if (block.kind === 'picture') this.picture(block.src, block.alt, 'layout');
    if (block.kind === 'header' && block.picture !== '') this.picture(block.picture, block.alt || block.text, 'layout');
    if ((block.kind === 'picture' || block.kind === 'header') && block.href !== '')
      this.link(block.href, block.kind, 'layout');
  }

  private blocks(blocks: readonly RichBlock[], place: 'body' | 'layout'): void {
    for (const block of blocks) {
      if (block.type === 'paragraph' || block.type === 'heading') this.inlines(block.content ?? [], place);
      else if (block.type === 'image') this.picture(block.attrs.src, block.attrs.alt, place);
      else for (const inner of block.content) this.blocks(inner.type === 'listItem' ? inner.content : [inner], place);
    }
  }

  private inlines(content: readonly Inline[], place: 'body' | 'layout'): void {
    for (const node of content)
      for (const mark of 'marks' in node ? (node.marks ?? []) : [])
        if (mark.type === 'colour') this.colours.add(mark.attrs.colour);
    for (const { href, nodes } of linkRuns(content)) {
      const [first] = nodes;
      if (href !== null) this.link(href, first?.type === 'text' ? first.text : '', place);
    }
  }

  private link(href: string, label: string, place: 'body' | 'layout'): void {
    const near = label.trim();
    if (href.trim() === '') this.add('dead_link', 'stop', place, `“${near}” leads nowhere yet.`, near);
    else if (hrefSource(href) === null)
      this.add('dead_link', 'stop', place, `“${near || href}” leads to “${href}”, where a message cannot lead.`, near);
    else if (/^https?:\/\/\S{40,}$/.test(near))
      this.add('bare_link', 'look', place, 'A long address stands bare in the text; give the link a name.', near);
  }

  private picture(src: string, alt: string, place: 'body' | 'layout'): void {
    this.pictures++;
    if (imageSource(src) === null)
      this.add(
        'picture_without_source',
        'stop',
        place,
        `The picture “${alt || 'without text'}” has no file or address.`,
      );
    else if (alt.trim() === '')
      this.add('picture_without_text', 'look', place, 'A picture has no text for those who do not see it.');
  }

  private add(kind: CheckKind, level: 'stop' | 'look', place: 'body' | 'layout', words: string, near = ''): void {
    this.checks.push({ kind, level, place, words, ...(near === '' ? {} : { near }) });
  }
}

/** What cannot be read well on the sheet of the message. */
function checkColours({ format, layout }: MessageContent, used: ReadonlySet<string>): MessageCheck[] {
  const { sheet, ink, accent } = format === 'layout' && layout ? layout.theme : PLAIN_THEME;
  const pairs: [what: string, colour: string][] = [
    ['The text', ink],
    ['Links', accent],
    ...[...used].map((colour): [string, string] => [`Text in ${colour}`, colour]),
  ];
  return pairs.flatMap(([what, colour]): MessageCheck[] => {
    const found = contrast(colour, sheet);
    if (found >= LEAST_CONTRAST) return [];
    const words = `${what} can hardly be read: the contrast of ${colour} on ${sheet} is ${found.toFixed(1)}, and ${LEAST_CONTRAST} is the least.`;
    return [{ kind: 'low_contrast', level: 'look', place: format === 'layout' ? 'layout' : 'body', words }];
  });
}

function checkWords(content: MessageContent, text: string): MessageCheck[] {
  const out: MessageCheck[] = [];
  const subject = splitTags(content.subject)
    .filter((p) => !p.startsWith('{'))
    .join(' ');
  const letters = subject.replace(/[^\p{L}]/gu, '');
  if (letters.length > 5 && letters === letters.toUpperCase())
    out.push({ kind: 'loud', level: 'look', place: 'subject', words: 'The subject is all capitals.' });
  if (/!\s*!|\?\s*!|[€$£]{2,}/.test(`${subject}\n${text}`))
    out.push({
      kind: 'loud',
      level: 'look',
      place: 'body',
      words: 'Signs in a row (“!!”, “$$”) look like advertising to filters.',
    });
  for (const [place, words] of [
    ['subject', subject],
    ['body', text],
  ] as const) {
    const found = FILTER_WORDS.exec(words);
    if (found)
      out.push({
        kind: 'filter_words',
        level: 'look',
        place,
        near: found[0],
        words: `Filters dislike “${found[0]}”.`,
      });
  }
  return out;
}

function checkSizes(content: MessageContent, text: string, pictures: number, facts: CheckedFacts): MessageCheck[] {
  const out: MessageCheck[] = [];
  const words = text.replace(/https?:\S+/g, '').trim().length;
  if (pictures > 0 && words < 200 * pictures && words < 400)
    out.push({
      kind: 'few_words',
      level: 'look',
      place: 'body',
      words: 'There is little text for so much picture; filters dislike that.',
    });
  if (facts.htmlBytes > MOST_HTML_BYTES)
    out.push({
      kind: 'too_large',
      level: 'look',
      place: 'body',
      words: `The HTML has ${kilobytes(facts.htmlBytes)}; beyond ${kilobytes(MOST_HTML_BYTES)} some mail programs cut it off.`,
    });
  if (facts.fileBytes > MOST_MAIL_BYTES)
    out.push({
      kind: 'large_files',
      level: 'stop',
      place: 'attachments',
      words: `Files and pictures make ${megabytes(facts.fileBytes)}; most providers take ${megabytes(MOST_MAIL_BYTES)}.`,
    });
  for (const { name, people, who } of facts.missingFiles)
    out.push({
      kind: 'file_missing',
      level: 'stop',
      place: 'attachments',
      near: name,
      people,
      who,
      words: `“${name}” is not in the library; ${count(people, 'person', 'people')} should get it.`,
    });
  if (text.trim() === '')
    out.push({
      kind: 'no_plain',
      level: 'look',
      place: 'plain',
      words: 'The plain part is empty: whoever reads plain text sees nothing.',
    });
  else if (content.plain !== null)
    out.push({
      kind: 'plain_by_hand',
      level: 'look',
      place: 'plain',
      words: 'The plain text is written by hand and does not follow changes of the message.',
    });
  return out;
}

const count = (n: number, one: string, many: string): string => `${n.toLocaleString('en')} ${n === 1 ? one : many}`;
const kilobytes = (bytes: number): string => `${Math.round(bytes / 1024)} kB`;
const megabytes = (bytes: number): string => `${(bytes / 1024 / 1024).toFixed(1)} MB`;

/** Whether a name is one of a message's own values, in any spelling. */
export const isMessageField = (name: string): boolean => MESSAGE_KEYS.has(fieldKey(name));
