import { dirname, join, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';

export const ROOT = resolve(dirname(fileURLToPath(import.meta.url)), '../..');
/** Everything Baton keeps beside its code; git-ignored. */
export const STATE = join(ROOT, '.baton');
export const inRoot = (...parts) => join(ROOT, ...parts);
