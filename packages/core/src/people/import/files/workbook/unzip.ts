import { Unzip, UnzipInflate } from 'fflate';
import { DomainError } from '../../../../errors';

/** What an archive may grow to when unpacked; a sheet of a million rows has about 200 MB of XML. */
export const MAX_UNPACKED_BYTES = 400 * 1024 * 1024;

const CHUNK = 64 * 1024;

/**
 * Unpacks chosen entries of a zip archive piece by piece, so that memory stays bounded whatever they grow to.
 *
 * @param onPiece is given each piece of each wanted entry in order; `last` with the final one
 * @throws DomainError `too_large` when more than {@link MAX_UNPACKED_BYTES} would come out (a zip bomb); `invalid` for
 *   what is not a zip archive, is cut short or encrypted
 */
export function unzip(
  bytes: Uint8Array,
  isWanted: (name: string) => boolean,
  onPiece: (name: string, piece: Uint8Array, last: boolean) => void,
  maxBytes = MAX_UNPACKED_BYTES,
): void {
  // What the archive says of itself comes first; what comes out is counted all the same.
  const said = entriesOf(bytes).filter(({ name }) => isWanted(name));
  if (said.some(({ isEncrypted }) => isEncrypted)) throw locked();
  if (said.reduce((sum, { size }) => sum + size, 0) > maxBytes) throw tooLarge(maxBytes);
  let unpacked = 0;
  let open = 0;
  const unzipper = new Unzip((file) => {
    if (!isWanted(file.name)) return;
    open++;
    file.ondata = (error, piece, last) => {
      // What is thrown here comes back as an error of the inflating.
      if (error) throw error instanceof DomainError ? error : broken(error);
      unpacked += piece.length;
      if (unpacked > maxBytes) throw tooLarge(maxBytes);
      if (last) open--;
      onPiece(file.name, piece, last);
    };
    file.start();
  });
  unzipper.register(UnzipInflate);
  try {
    for (let at = 0; at < bytes.length; at += CHUNK)
      unzipper.push(bytes.subarray(at, at + CHUNK), at + CHUNK >= bytes.length);
  } catch (error) {
    throw error instanceof DomainError ? error : broken(error);
  }
  if (open > 0) throw broken(null);
}

interface ZipEntry {
  name: string;
  /** Bytes when unpacked, as the archive says. */
  size: number;
  isEncrypted: boolean;
}

/** Signatures and lengths of PKWARE's APPNOTE 4.3.12 and 4.3.16. */
const END = { signature: 0x06054b50, bytes: 22, mostComment: 0xffff };
const ENTRY = { signature: 0x02014b50, bytes: 46 };

/** What an archive's directory lists; as far as it can be read. */
function entriesOf(bytes: Uint8Array): ZipEntry[] {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const entries: ZipEntry[] = [];
  let end = bytes.length - END.bytes;
  const first = Math.max(0, end - END.mostComment);
  while (end >= first && view.getUint32(end, true) !== END.signature) end--;
  if (end < first) return entries;
  for (let at = view.getUint32(end + 16, true); at + ENTRY.bytes <= end;) {
    if (view.getUint32(at, true) !== ENTRY.signature) break;
    const length = view.getUint16(at + 28, true);
    const name = String.fromCharCode(...bytes.subarray(at + ENTRY.bytes, at + ENTRY.bytes + Math.min(length, 500)));
    entries.push({ name, size: view.getUint32(at + 24, true), isEncrypted: (view.getUint16(at + 8, true) & 1) === 1 });
    at += ENTRY.bytes + length + view.getUint16(at + 30, true) + view.getUint16(at + 32, true);
  }
  return entries;
}

const tooLarge = (maxBytes: number): DomainError =>
  new DomainError(
    'too_large',
    `The workbook unpacks to more than ${Math.round(maxBytes / 1024 / 1024)} MB, which no list of people does. Save the sheet as CSV if it really is that large; nothing has been imported.`,
  );

const locked = (): DomainError =>
  new DomainError(
    'invalid',
    'The workbook is locked with a password. Save it without one in your spreadsheet program; nothing has been imported.',
  );

const broken = (cause: unknown): DomainError =>
  new DomainError(
    'invalid',
    'The workbook cannot be opened: it is damaged or cut short. Open it in your spreadsheet program and save it again; nothing has been imported.',
    { cause },
  );
