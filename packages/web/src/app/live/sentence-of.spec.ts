import { HttpErrorResponse } from '@angular/common/http';
import { describe, expect, it } from 'vitest';
import { sentenceOf } from './sentence-of';

describe('sentenceOf', () => {
  it('gives the server’s own sentence, however it came', () => {
    const error = { detail: 'There is no such list.' };
    for (const body of [error, JSON.stringify(error)])
      expect(sentenceOf(new HttpErrorResponse({ status: 404, error: body }))).toBe('There is no such list.');
  });

  it('has a sentence for a server that does not answer, or not in words', () => {
    expect(sentenceOf(new HttpErrorResponse({ status: 0 }))).toContain('does not answer');
    expect(sentenceOf(new HttpErrorResponse({ status: 502, error: '<html>' }))).toBe('The server answered 502.');
    expect(sentenceOf(new Error('x'))).toContain('Reload');
  });
});
