import { HttpErrorResponse } from '@angular/common/http';
import type { Problem } from '@baton/contract';
import { liveTexts } from './texts';

const texts = liveTexts.sentenceOf;

/** The server's sentence about what went wrong, or one of our own when it cannot be reached. */
export function sentenceOf(error: unknown): string {
  if (!(error instanceof HttpErrorResponse)) return texts.somethingWentWrongOnThis;
  if (error.status === 0) return texts.theServerDoesNotAnswer;
  const body: unknown = typeof error.error === 'string' ? parse(error.error) : error.error;
  return (body as Problem | null)?.detail ?? texts.theServerAnswered(error.status);
}

function parse(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}
