import { parseAddress } from '../people/address/address';
import { usualKey } from '../people/import/columns/column-roles';
import type { MessageSource } from './message-source';
import { compileTemplate, type Rendered, type Template, type Values } from './template';

/** A message ready for many recipients. */
export interface CompiledMessage {
  subject: Template;
  preview: Template;
  html: Template;
  text: Template;
  senderName: Template;
  replyTo: Template;
  cc: Template;
  bcc: Template;
  attachmentNames: Template[];
  attachmentIds: number[];
  /** Keys of fields that have no fallback somewhere. */
  needs: readonly string[];
}

/** One finished message, exactly as it will leave, for one recipient. */
export interface Proof {
  subject: string;
  preview: string;
  /** A whole page; pictures that come with the message are `cid:` addresses. */
  html: string;
  text: string;
  /** '' for the mailbox's own. */
  senderName: string;
  replyTo: string;
  cc: string[];
  bcc: string[];
  /** Of the library. */
  attachmentIds: number[];
  /** Names of files of the library that only this recipient gets. */
  attachmentNames: string[];
  /** Fields that were blank and had no fallback. Not empty: must not leave. */
  blanks: string[];
  /** What else keeps it from leaving, each a sentence. */
  faults: string[];
}

/** Recipients of copies that one message may have: more is a mistake in the list. */
const MOST_COPIES = 20;

/** @throws DomainError `template_invalid` naming line and column */
export function compileMessage(source: MessageSource): CompiledMessage {
  const [subject, preview, text] = [source.subject, source.preview, source.text].map((t) => compileTemplate(t)) as [
    Template,
    Template,
    Template,
  ];
  const html = compileTemplate(source.html, 'html');
  const senderName = compileTemplate(source.senderName);
  const uses = [subject, preview, text, html, senderName].flatMap((t) => t.fields);
  return {
    subject,
    preview,
    html,
    text,
    needs: [...new Set(uses.filter((u) => u.fallback === null).map((u) => u.key))],
    senderName,
    replyTo: compileTemplate(source.replyTo),
    cc: compileTemplate(source.cc),
    bcc: compileTemplate(source.bcc),
    attachmentNames: source.attachmentNames.map((name) => compileTemplate(name)),
    attachmentIds: source.attachmentIds,
  };
}

/**
 * Puts one recipient's values into a message.
 *
 * @param values see {@link recipientValues}
 */
export function renderProof(message: CompiledMessage, values: Values): Proof {
  const blanks = new Set<string>();
  const faults: string[] = [];
  const note = (text: string) => {
    if (!faults.includes(text)) faults.push(text);
  };
  const rendered = (template: Template): Rendered => {
    const made = template.render(values);
    made.faults.forEach(note);
    return made;
  };
  const fill = (template: Template): string => {
    if (template.source === '') return '';
    const { text, blanks: own } = rendered(template);
    for (const blank of own) blanks.add(blank);
    return text;
  };
  // A copy's address and a file of one's own may be blank: most people have none.
  const fillIfAny = (template: Template): string => (template.source === '' ? '' : rendered(template).text.trim());
  const subject = headerText(fill(message.subject));
  // A condition that takes the first paragraph away leaves its blank line.
  const text = fill(message.text).replace(/^\n+/, '');
  const html = fill(message.html);
  const replyTo = addresses('Reply to', fillIfAny(message.replyTo), faults);
  const proof = {
    subject,
    preview: headerText(fill(message.preview)),
    html,
    text,
    senderName: headerText(fill(message.senderName)),
    replyTo: replyTo[0] ?? '',
    cc: addresses('Cc', fillIfAny(message.cc), faults),
    bcc: addresses('Bcc', fillIfAny(message.bcc), faults),
    attachmentIds: message.attachmentIds,
    attachmentNames: message.attachmentNames.flatMap((name) => fileNames(fillIfAny(name))),
  };
  // What is blank inside a signature is a gap in the message.
  const inner = typeof values === 'function' ? values.inner : undefined;
  for (const blank of inner?.blanks ?? []) blanks.add(blank);
  inner?.faults.forEach(note);
  return { ...proof, blanks: [...blanks], faults };
}

/**
 * Fields that are blank for a recipient and have no fallback, as {@link renderProof} would say, with a look at the
 * values alone for most.
 */
export function blanksOf(message: CompiledMessage, values: Values): string[] {
  const of = typeof values === 'function' ? values : (key: string) => values[key];
  const isFilled = (key: string) => ((of(key) ?? of(usualKey(key)))?.trim() ?? '') !== '';
  // A signature that has been looked for may have gaps of its own.
  const hasGaps = () => typeof values === 'function' && (values.inner?.blanks.length ?? 0) > 0;
  return message.needs.every(isFilled) && !hasGaps() ? [] : renderProof(message, values).blanks;
}

/** How many more than the recipient get a message: those of Cc and Bcc. */
export function copiesOf(message: CompiledMessage, values: Values): number {
  if (message.cc.source === '' && message.bcc.source === '') return 0;
  const of = (template: Template, what: string) => addresses(what, template.render(values).text.trim(), []).length;
  return of(message.cc, 'Cc') + of(message.bcc, 'Bcc');
}

/**
 * A text as a header can hold it: on one line (RFC 5322 2.2), without control characters, and without the marks that turn
 * the direction of what is beside them and make a name look like another.
 */
export function headerText(text: string): string {
  return /[^\x20-\x7e]/.test(text)
    ? text
        .replace(/[\r\n\t\v\f\u0085\u2028\u2029]+/g, ' ')
        .replace(/[\p{Cc}\u202a-\u202e\u2066-\u2069]/gu, '')
        .trim()
    : text.trim();
}

/** Addresses separated by commas, semicolons or line breaks; those inside of quotes or brackets separate nothing. */
function addresses(what: string, text: string, faults: string[]): string[] {
  if (text === '') return [];
  const out: string[] = [];
  for (const [written] of text.matchAll(/(?:"(?:[^"\\\n]|\\.)*"|<[^<>\n]*>|[^,;\n])+/g)) {
    if (written.trim() === '') continue;
    const parsed = parseAddress(written);
    if (!parsed.ok) faults.push(`${what}: ${parsed.reason}`);
    else if (!out.includes(parsed.value.address)) out.push(parsed.value.address);
  }
  if (out.length > MOST_COPIES) faults.push(`${what}: more than ${MOST_COPIES} addresses`);
  return out;
}

const fileNames = (text: string): string[] =>
  text
    .split(/[;\n]+/)
    .map((name) => name.trim())
    .filter((name) => name !== '');
