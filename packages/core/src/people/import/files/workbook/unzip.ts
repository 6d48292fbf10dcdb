import { Unzip, UnzipInflate } from 'fflate';
import { DomainError } from '../../../../errors';

/** What an archive may grow to when unpacked; a sheet of a million rows has about 200 MB of XML. */
export const MAX_UNPACKED_BYTES = 600 * 1024 * 1024;

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
  let unpacked = 0;
  let open = 0;
  const unzipper = new Unzip((file) => {
    if (!isWanted(file.name)) return;
    open++;
    file.ondata = (error, piece, last) => {
      // What is thrown here comes back as an error of the inflating.
      if (error) throw error instanceof DomainError ? error : broken(error);
      unpacked += piece.length;
      if (unpacked > maxBytes)
        throw new DomainError(
          'too_large',
          `The workbook unpacks to more than ${Math.round(maxBytes / 1024 / 1024)} MB, which no list of people does. Save the sheet as CSV if it really is that large; nothing has been imported.`,
        );
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

const broken = (cause: unknown): DomainError =>
  new DomainError(
    'invalid',
    'The workbook cannot be opened: it is damaged, cut short, or locked with a password. Open it in your spreadsheet program and save it again; nothing has been imported.',
    { cause },
  );
