import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { authorizationRefusalWords, judgeTokenRefusal, tokenLife } from './oauth-answer';

const HOST = 'sign-in.tidewaterkelp.example';
const judge = (status: number | null, error: string | null, said = '') =>
  judgeTokenRefusal({ status, error, said }, HOST).verdict;

describe('a token endpoint that gives no token', () => {
  it.each([
    [400, 'invalid_grant', 'withdrawn'],
    [400, 'interaction_required', 'withdrawn'],
    [401, 'invalid_client', 'misconfigured'],
    [400, 'unauthorized_client', 'misconfigured'],
    [400, 'invalid_scope', 'misconfigured'],
    [401, null, 'misconfigured'],
    [400, 'temporarily_unavailable', 'later'],
    [429, 'invalid_grant', 'later'],
    [500, 'invalid_grant', 'later'],
    [503, null, 'later'],
    [404, null, 'later'],
    [200, null, 'later'],
    [null, null, 'later'],
    [400, 'constructor', 'later'],
  ] as const)('with %s and %s means %s', (status, error, verdict) => expect(judge(status, error)).toBe(verdict));

  it('is told of in the server’s words, on one line, storable and not at any length', () => {
    const said = `Token\u0000 has\r\nbeen revoked ${'x'.repeat(10_000)}\ud800`;
    const { words } = judgeTokenRefusal({ status: 400, error: 'invalid_grant', said }, HOST);
    expect(words).toMatch(/^The provider has ended Baton’s access.*\(invalid_grant: Token has been revoked x+\)$/);
    expect(words.length).toBeLessThan(500);
  });

  it('has a sentence whatever it says', () => {
    fc.assert(
      fc.property(fc.option(fc.integer({ min: 100, max: 599 })), fc.option(fc.string()), fc.string(), (s, e, said) => {
        const { words } = judgeTokenRefusal({ status: s, error: e, said }, HOST);
        expect(words).toMatch(/^[A-Za-z].*[.)]$/u);
        expect(words).not.toMatch(/[\0\n\r]/);
      }),
    );
  });
});

it('a browser that comes back without access says why', () => {
  expect(authorizationRefusalWords('access_denied', '')).toBe('Access was refused at the provider. (access_denied)');
  expect(authorizationRefusalWords('invalid_scope', 'mail.all')).toContain('scopes');
  expect(authorizationRefusalWords('toString', '')).toBe('The provider gave no access. (toString)');
});

describe('the life of a token', () => {
  it('ends when the server says, and is renewed five minutes before', () => {
    expect(tokenLife(1_000_000, 3600)).toEqual({ expiresAt: 4_600_000, renewAt: 4_300_000 });
  });
  it('is renewed at its half where it is short', () => {
    expect(tokenLife(0, 60)).toEqual({ expiresAt: 60_000, renewAt: 30_000 });
  });
  it('is not known where the server does not say', () => {
    expect(tokenLife(0, undefined)).toEqual({ expiresAt: null, renewAt: null });
    expect(tokenLife(0, -1)).toEqual({ expiresAt: null, renewAt: null });
    expect(tokenLife(0, Infinity)).toEqual({ expiresAt: null, renewAt: null });
  });
  it('is never renewed after it has expired, and can be stored', () => {
    fc.assert(
      fc.property(fc.double({ min: 0, noNaN: true }), (s) => {
        const { expiresAt, renewAt } = tokenLife(1, s);
        if (expiresAt === null || renewAt === null) return;
        expect(renewAt).toBeLessThanOrEqual(expiresAt);
        expect(Number.isSafeInteger(expiresAt) && Number.isSafeInteger(renewAt)).toBe(true);
      }),
    );
  });
});
