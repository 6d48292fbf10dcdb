import { checkColours, checkLinks, lookThrough } from './check-form';
import { checkWords } from './check-words';
import { fieldsOf } from './content-fields';
import { fieldKey } from './field-name';
import type { MessageCheck } from './message-check';
import { liquidTexts, type MessageContent } from './message-content';
import { followingText } from './message-source';
import { MESSAGE_KEYS } from './message-values';
import { unknownFields } from './unknown-fields';

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
    ...checkLinks(form.links, text),
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
  const unknown = unknownFields(content, columns);
  const keys = new Set(unknown.map((u) => u.key));
  const out = unknown.map(({ field, place, meant, without }): MessageCheck => {
    const words = `“${field}” is not a column of this list${meant === null ? '' : `; “${meant}” is`}.`;
    return {
      kind: 'unknown_field',
      level: without === 'left_out' ? 'stop' : 'look',
      place,
      words: without === 'asked' ? `${words} What asks for it finds it blank.` : words,
      field,
      ...(meant === null ? {} : { meant }),
    };
  });
  const done = new Set<string>();
  for (const { key, name, place } of fieldsOf(content)) {
    const blank = blanks.get(key);
    if (done.has(key) || keys.has(key) || !blank || blank.people === 0) continue;
    done.add(key);
    const field = name.replaceAll('_', ' ');
    const words = `${field} is blank for ${count(blank.people, 'person', 'people')} and has no fallback: they would be left out.`;
    out.push({ kind: 'blank_field', level: 'stop', place, field, words, ...blank });
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
