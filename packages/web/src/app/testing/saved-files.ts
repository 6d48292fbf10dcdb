import { vi } from 'vitest';

/** Keeps what the page gives to the browser to save, by name. */
export function keepSavedFiles(): Map<string, Blob> {
  const [saved, urls] = [new Map<string, Blob>(), new Map<string, Blob>()];
  vi.spyOn(URL, 'createObjectURL').mockImplementation((file) => {
    const url = `blob:${urls.size}`;
    urls.set(url, file as Blob);
    return url;
  });
  vi.spyOn(URL, 'revokeObjectURL').mockReturnValue();
  vi.spyOn(HTMLAnchorElement.prototype, 'click').mockImplementation(function (this: HTMLAnchorElement) {
    const file = urls.get(this.href);
    if (file) saved.set(this.download, file);
  });
  return saved;
}

/** A saved file's text; Chromium's blobs have this themselves, those of the tests do not. */
export const textOfFile = (file: Blob | undefined): Promise<string> =>
  new Promise((resolve, reject) => {
    const reader = new FileReader();
    reader.onload = () => resolve(String(reader.result));
    reader.onerror = () => reject(new Error('The file cannot be read.'));
    reader.readAsText(file ?? new Blob());
  });

/** The rows of a table that was saved as CSV; no cell of it has a comma or a quote. */
export const rowsOfCsv = async (file: Blob | undefined): Promise<string[][]> =>
  (await textOfFile(file))
    .trim()
    .split('\r\n')
    .map((row) => row.split(','));
