/** Gives the browser a file to keep. */
export function saveFile(bytes: Blob, name: string): void {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(bytes);
  link.download = name;
  link.click();
  URL.revokeObjectURL(link.href);
}
