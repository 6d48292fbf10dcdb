import { tagName, tagParts } from './field-head';
import type { Tag } from './split-tags';

/** A tag that is read as one, and where the template's text before it begins. */
export interface LiveTag extends Tag {
  from: number;
}

/** The tags of a source that are no part of a `raw` or a comment, whose own tags included. @param tags see findTags */
export function* liveTags(source: string, tags: readonly Tag[]): Generator<LiveTag> {
  const nameOf = ({ start, end, isOutput }: Tag) =>
    isOutput ? '' : tagName(tagParts(source.slice(start, end)).inner).name;
  let from = 0;
  let until = '';
  for (const tag of tags) {
    const name = nameOf(tag);
    if (until !== '' && name !== until) continue;
    yield { ...tag, from: until === '' ? from : tag.start };
    until = until === '' && (name === 'raw' || name === 'comment') ? `end${name}` : '';
    from = tag.end;
  }
}
