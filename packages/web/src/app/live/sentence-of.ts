import { HttpErrorResponse } from '@angular/common/http';
import type { Problem } from '@baton/contract';

/** The server's sentence about what went wrong, or one of our own when it cannot be reached. */
export function sentenceOf(error: unknown): string {
  if (!(error instanceof HttpErrorResponse)) return 'Something went wrong on this page. Reload it, please.';
  if (error.status === 0) return 'The server does not answer. Is Baton still running?';
  const body: unknown = typeof error.error === 'string' ? parse(error.error) : error.error;
  return (body as Problem | null)?.detail ?? `The server answered ${error.status}.`;
}

function parse(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}
