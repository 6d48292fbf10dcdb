import { Tokenizer } from 'htmlparser2';
import { escapeHtml } from '../messages/escape-html';

/** What is put into a page so that what its reader does can be counted. */
export interface Watching {
  /**
   * The address that leads on to a link; null leaves the link as it is.
   *
   * @param of how many links the page has that can be counted
   */
  link(url: string, of: number): string | null;
  /** Address of the picture that tells that the page was opened; null for none. */
  picture: string | null;
  /** Address of a link that no person sees, and that only a program follows; null for none. */
  hidden: string | null;
}

/** A longer address would not get through every mail program once it is inside of another. */
const MOST_URL = 1500;

/** An address in a page, and where it stands. */
interface FoundLink {
  url: string;
  from: number;
  to: number;
}

/**
 * A message's page with links that lead over Baton, and a picture by which its opening is noticed. Everything else stays as it
 * is, letter for letter.
 *
 * @param html a whole page, as a proof has it
 */
export function watchedHtml(html: string, watching: Watching): string {
  const links = linksIn(html).filter((l) => isCountable(l.url));
  const out: string[] = [];
  let at = 0;
  for (const { url, from, to } of links) {
    const onward = watching.link(url, links.length);
    if (onward === null) continue;
    out.push(html.slice(at, from), '"', escapeHtml(onward), '"');
    at = to;
  }
  const added = [
    ...(watching.hidden === null || links.length === 0
      ? []
      : [`<a href="${escapeHtml(watching.hidden)}" style="display:none" tabindex="-1" aria-hidden="true"></a>`]),
    ...(watching.picture === null
      ? []
      : [`<img src="${escapeHtml(watching.picture)}" width="1" height="1" alt="" style="display:block;border:0">`]),
  ].join('');
  const rest = html.slice(at);
  const end = rest.search(/<\/body\s*>(?![\s\S]*<\/body\s*>)/i);
  out.push(...(end === -1 ? [rest, added] : [rest.slice(0, end), added, rest.slice(end)]));
  return out.join('');
}

/** Whether a link can be counted: it leads to a page, and is not too long. */
const isCountable = (url: string): boolean =>
  /^https?:\/\/[^\s/]/i.test(url) && url.length <= MOST_URL && URL.canParse(url);

/** The addresses that the anchors and image maps of a page lead to. */
function linksIn(html: string): FoundLink[] {
  const found: FoundLink[] = [];
  let isLink = false;
  let isHref = false;
  let hasHref = false;
  let nameEnd = 0;
  let value = '';
  const nothing = () => undefined;
  const tokenizer = new Tokenizer(
    { decodeEntities: true },
    {
      onopentagname(from, to) {
        isLink = /^(?:a|area)$/i.test(html.slice(from, to));
        hasHref = false;
      },
      onattribname(from, to) {
        // Of two attributes of the same name the first one counts.
        isHref = isLink && !hasHref && /^href$/i.test(html.slice(from, to));
        nameEnd = to;
        value = '';
      },
      onattribdata(from, to) {
        if (isHref) value += html.slice(from, to);
      },
      onattribentity(code) {
        if (isHref) value += String.fromCodePoint(code);
      },
      // Behind the closing quote, where there is one.
      onattribend(_quote, to) {
        if (!isHref) return;
        hasHref = true;
        const gap = /^\s*=\s*/.exec(html.slice(nameEnd, to))?.[0].length ?? 0;
        found.push({ url: value.trim(), from: nameEnd + gap, to });
      },
      ...{ onopentagend: nothing, onselfclosingtag: nothing, onclosetag: nothing, onend: nothing },
      ...{ oncdata: nothing, oncomment: nothing, ondeclaration: nothing, onprocessinginstruction: nothing },
      ...{ ontext: nothing, ontextentity: nothing },
    },
  );
  tokenizer.write(html);
  tokenizer.end();
  return found.filter((l) => l.url !== '');
}
