import type { MessageCheck } from './message-check';
import type { MessageContent } from './message-content';
import { proseOf, splitTags } from './split-tags';

const FILTER_WORDS =
  /\b(?:100 ?% free|act now|amazing (?:deal|offer)|cash bonus|click (?:here|below)|congratulations|double your|earn money|extra income|free (?:gift|money|trial!)|guaranteed?|limited[- ]time|no obligation|once in a lifetime|order now|risk[- ]free|special promotion|this is not spam|urgent|winner|you have been selected)\b/i;

/** What filters count against the words of a message. @param text the plain part */
export function checkWords(content: MessageContent, text: string): MessageCheck[] {
  const out: MessageCheck[] = [];
  const subject = splitTags(content.subject)
    .filter((p) => !p.startsWith('{'))
    .join(' ');
  if (/^\s*(?:re|fwd?|aw|wg|sv|vs|tr|ynt|odp|rif|res|enc)\s*:/i.test(content.subject))
    out.push({
      kind: 'false_reply',
      level: 'look',
      place: 'subject',
      words:
        'The subject looks like an answer or a forwarded message, which a first message is not; filters and people dislike that.',
    });
  const letters = subject.replace(/[^\p{L}]/gu, '');
  if (letters.length > 5 && letters === letters.toUpperCase())
    out.push({ kind: 'loud', level: 'look', place: 'subject', words: 'The subject is all capitals.' });
  const loud = loudSentence(text);
  if (loud !== null)
    out.push({ kind: 'loud', level: 'look', place: 'body', near: loud, words: 'A whole sentence is in capitals.' });
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

/** A sentence of four words and more that is in capitals throughout; null where there is none. */
function loudSentence(text: string): string | null {
  for (const sentence of proseOf(text).split(/[.!?\n]+/)) {
    const words = sentence.match(/\p{L}{2,}/gu) ?? [];
    if (words.length >= 4 && words.every((w) => w === w.toUpperCase() && w !== w.toLowerCase())) return sentence.trim();
  }
  return null;
}
