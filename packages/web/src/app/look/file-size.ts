import { lookTexts } from './texts';

const texts = lookTexts.fileSize;

/** A file's size as it is said: whole kilobytes, megabytes with one decimal. */
export function fileSize(bytes: number): string {
  return bytes < 1024 * 1024 ? texts.kb(Math.ceil(bytes / 1024)) : texts.mb(bytes / 1024 / 1024);
}
