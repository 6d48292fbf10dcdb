import { open, readdir, stat } from 'node:fs/promises';
import { join } from 'node:path';

/** One message of a file. */
export interface MailInFile {
  file: string;
  /** Its number in a file of several, from 1; null in a file of one. */
  message: number | null;
  raw: Buffer;
}

/** As much as is read of one message. */
const MOST_BYTES = 64 * 1024 * 1024;
const CHUNK = 1024 * 1024;
const FROM_LINE = Buffer.from('From ');

/**
 * The messages of a file with one (RFC 5322), of an mbox (RFC 4155), or of the files of a folder and those within it, by
 * name; hidden files are left out.
 */
export async function* mailsIn(path: string): AsyncGenerator<MailInFile> {
  if ((await stat(path)).isDirectory()) {
    const names = (await readdir(path)).filter((name) => !name.startsWith('.')).sort();
    for (const name of names) yield* mailsIn(join(path, name));
    return;
  }
  const file = await open(path);
  try {
    const { bytesRead, buffer } = await file.read(Buffer.alloc(CHUNK), 0, CHUNK, 0);
    const head = buffer.subarray(0, bytesRead);
    if (head.subarray(0, FROM_LINE.length).equals(FROM_LINE)) {
      let message = 0;
      for await (const raw of splitMbox(file.createReadStream({ start: 0, autoClose: false })))
        yield { file: path, message: ++message, raw };
    } else {
      const size = Math.min((await file.stat()).size, MOST_BYTES);
      const raw = Buffer.alloc(size);
      const read = await file.read(raw, 0, size, 0);
      yield { file: path, message: null, raw: raw.subarray(0, read.bytesRead) };
    }
  } finally {
    await file.close();
  }
}

/**
 * Splits an mbox: a line that begins with "From " behind an empty one begins a message; lines that begin with ">From " had
 * their mark put there (RFC 4155, the "mboxrd" form).
 */
export async function* splitMbox(chunks: AsyncIterable<Buffer | string>): AsyncGenerator<Buffer> {
  let lines: Buffer[] = [];
  let bytes = 0;
  let isBehindEmpty = true;
  let hasBegun = false;
  for await (const line of linesOf(chunks)) {
    if (isBehindEmpty && line.subarray(0, FROM_LINE.length).equals(FROM_LINE)) {
      if (hasBegun) yield Buffer.concat(lines);
      hasBegun = true;
      lines = [];
      bytes = 0;
      isBehindEmpty = false;
      continue;
    }
    isBehindEmpty = line.length === 0 || line[0] === 10 || (line[0] === 13 && line[1] === 10);
    bytes += line.length;
    if (bytes <= MOST_BYTES) lines.push(/^>+From /.test(line.toString('latin1', 0, 12)) ? line.subarray(1) : line);
  }
  if (hasBegun) yield Buffer.concat(lines);
}

/** Lines with their ends. A line without end is given in pieces. */
async function* linesOf(chunks: AsyncIterable<Buffer | string>): AsyncGenerator<Buffer> {
  let rest: Buffer = Buffer.alloc(0);
  for await (const chunk of chunks) {
    let from = 0;
    const bytes = Buffer.concat([rest, Buffer.from(chunk)]);
    for (let at = bytes.indexOf(10); at >= 0; at = bytes.indexOf(10, from)) {
      yield bytes.subarray(from, at + 1);
      from = at + 1;
    }
    rest = bytes.subarray(from);
    if (rest.length > CHUNK) {
      yield rest;
      rest = Buffer.alloc(0);
    }
  }
  if (rest.length > 0) yield rest;
}
