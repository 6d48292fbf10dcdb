import { SaxesParser, type SaxesTagPlain } from 'saxes';
import { DomainError } from '../../../../errors';

/** What a reader of XML is told, in order; names without their namespace prefix. */
export interface XmlHandler {
  open(name: string, attribute: (name: string) => string | undefined): void;
  close(name: string): void;
  text(text: string): void;
}

/** Bytes of one tag or text; more of a cell's text is not kept anyway. */
const MOST_AT_ONCE = 4 * 1024 * 1024;

interface StreamingDecoder {
  decode(bytes?: Uint8Array, options?: { stream: boolean }): string;
}
interface WithTextDecoder {
  TextDecoder: new (encoding: string) => StreamingDecoder;
}

/** Feeds pieces of an XML file in UTF-8 to a handler. No entity is ever fetched or expanded beyond XML's own five. */
export function xmlReader(handler: XmlHandler): (piece: Uint8Array, last: boolean) => void {
  const parser = new SaxesParser({ xmlns: false });
  const decoder = new (globalThis as unknown as WithTextDecoder).TextDecoder('utf-8');
  // The parser holds a tag or a text until it is whole.
  let held = 0;
  parser.on('opentag', (tag: SaxesTagPlain) => {
    held = 0;
    handler.open(local(tag.name), (name) => attributeOf(tag, name));
  });
  parser.on('closetag', (tag: SaxesTagPlain) => {
    held = 0;
    handler.close(local(tag.name));
  });
  parser.on('text', (text) => handler.text(text));
  parser.on('cdata', (text) => handler.text(text));
  parser.on('error', (error) => {
    throw new DomainError('invalid', 'The workbook is damaged: one of its parts does not read as XML.', {
      cause: error,
    });
  });
  const write = (piece: Uint8Array, last: boolean) => {
    held += piece.length;
    parser.write(decoder.decode(piece, { stream: !last }));
    if (held > MOST_AT_ONCE)
      throw new DomainError(
        'too_large',
        'One cell of the workbook holds megabytes of text, which no list of people does; nothing has been imported.',
      );
  };
  return (piece, last) => {
    for (let at = 0; at < piece.length; at += PIECE)
      write(piece.subarray(at, at + PIECE), last && at + PIECE >= piece.length);
    if (last) parser.close();
  };
}

const PIECE = 64 * 1024;

const local = (name: string): string => name.slice(name.indexOf(':') + 1);

function attributeOf(tag: SaxesTagPlain, name: string): string | undefined {
  if (Object.hasOwn(tag.attributes, name)) return tag.attributes[name];
  const prefixed = Object.keys(tag.attributes).find((key) => local(key) === name);
  return prefixed === undefined ? undefined : tag.attributes[prefixed];
}
