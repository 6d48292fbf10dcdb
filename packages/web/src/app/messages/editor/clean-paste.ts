/**
 * What was copied from a word processor or a web page, without what these put around it: empty paragraphs used
 * as space, line breaks used as paragraphs, comments, styles, and lists that are paragraphs with a dot.
 *
 * @param html of the clipboard
 * @returns HTML that the editor's own form is read from
 */
export function cleanPaste(html: string): string {
  const page = new DOMParser().parseFromString(html, 'text/html');
  for (const gone of page.querySelectorAll('style, script, meta, link, title, xml, o\\:p, head')) gone.remove();
  const comments = page.createTreeWalker(page.body, NodeFilter.SHOW_COMMENT);
  const found: Node[] = [];
  while (comments.nextNode()) found.push(comments.currentNode);
  for (const comment of found) comment.parentNode?.removeChild(comment);
  for (const list of page.querySelectorAll<HTMLElement>('p[class*="MsoList"], p[style*="mso-list"]')) listItem(list);
  joinLists(page.body);
  for (const block of page.querySelectorAll('p, div, li, td')) splitAtBreaks(block);
  for (const p of page.querySelectorAll('p, div, h1, h2, h3, h4, h5, h6')) if (isEmpty(p)) p.remove();
  return page.body.innerHTML;
}

const isEmpty = (element: Element): boolean =>
  element.querySelector('img, span[data-field], span[data-either]') === null &&
  (element.textContent ?? '').replace(/[\s\u00a0\u200b]/g, '') === '';

/** A word processor's list item: a paragraph that begins with its sign. */
function listItem(paragraph: HTMLElement): void {
  const text = paragraph.textContent ?? '';
  const isNumbered = /^\s*(?:\d+|[a-z])[.)]/i.test(text);
  for (const ignored of paragraph.querySelectorAll('[style*="mso-list:Ignore"], [style*="mso-list: Ignore"]'))
    ignored.remove();
  const item = paragraph.ownerDocument.createElement('li');
  item.innerHTML = paragraph.innerHTML.replace(/^(?:\s|&nbsp;)*(?:[·•o§–-]|\d+[.)]|[a-z][.)])(?:\s|&nbsp;)+/i, '');
  const list = paragraph.ownerDocument.createElement(isNumbered ? 'ol' : 'ul');
  list.append(item);
  paragraph.replaceWith(list);
}

/** Lists of one item each that follow one another are one list. */
function joinLists(root: Element): void {
  for (const list of root.querySelectorAll('ul, ol')) {
    let next = list.nextElementSibling;
    while (next !== null && next.tagName === list.tagName) {
      list.append(...next.children);
      const after = next.nextElementSibling;
      next.remove();
      next = after;
    }
  }
}

/** Two line breaks in a row are the end of a paragraph. */
function splitAtBreaks(block: Element): void {
  if (block.querySelector('p, div, ul, ol, table') !== null) return;
  const parts = block.innerHTML.split(/(?:<br[^>]*>\s*){2,}/i);
  if (parts.length < 2) return;
  const paragraphs = parts
    .filter((html) => html.replace(/<[^>]*>|&nbsp;|\s/g, '') !== '')
    .map((html) => {
      const p = block.ownerDocument.createElement('p');
      p.innerHTML = html;
      return p;
    });
  if (block.tagName === 'LI' || block.tagName === 'TD') block.replaceChildren(...paragraphs);
  else block.replaceWith(...paragraphs);
}
