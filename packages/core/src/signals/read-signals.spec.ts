import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { askedByProgram, readSignals, SIGNAL_KINDS, type Signal } from './read-signals';

const SENT = Date.UTC(2026, 10, 2, 9);
const MINUTE = 60_000;
const A = 'https://tidewaterkelp.example/soil';
const B = 'https://tidewaterkelp.example/trial';
const C = 'https://tidewaterkelp.example/prices';
const signal = (
  kind: Signal['kind'],
  afterMs: number,
  link = kind === 'click' ? A : '',
  over: Partial<Signal> = {},
) => ({
  ...{ kind, at: SENT + afterMs, link, links: 3, told: '' },
  ...over,
});
const read = (...signals: Signal[]) => readSignals(signals, SENT);

describe('what comes back from a message', () => {
  it('counts what a person does, with the first and the last time', () => {
    const { opens, clicks, byMachine } = read(
      signal('open', 30 * MINUTE),
      signal('open', 90 * MINUTE),
      signal('click', 31 * MINUTE),
    );
    expect(opens).toEqual({ count: 2, firstAt: SENT + 30 * MINUTE, lastAt: SENT + 90 * MINUTE });
    expect(clicks).toEqual({ count: 1, firstAt: SENT + 31 * MINUTE, lastAt: SENT + 31 * MINUTE });
    expect(byMachine).toBe(0);
  });

  it('takes a click for an opening, where the picture was not loaded', () =>
    expect(read(signal('click', 31 * MINUTE)).opens).toMatchObject({ count: 1, firstAt: SENT + 31 * MINUTE }));

  it.each<[string, Signal[]]>([
    ['looks at the message on its way', [signal('open', 2000), signal('click', 9000)]],
    ['says what it is', [signal('click', 40 * MINUTE, A, { told: 'it names itself as a program' })]],
    ['follows every link at once', [A, B, C].map((link, i) => signal('click', 40 * MINUTE + i * 300, link))],
    ['follows the hidden link', [signal('hidden', 40 * MINUTE), signal('click', 40 * MINUTE + 4000)]],
  ])('does not count a program that %s', (_, signals) => {
    const { opens, clicks, byMachine } = read(...signals);
    expect([opens.count, clicks.count]).toEqual([0, 0]);
    expect(byMachine).toBe(signals.filter((s) => s.kind !== 'hidden').length);
  });

  it('counts a person who follows two links one after the other, and the same one twice', () => {
    expect(read(signal('click', 40 * MINUTE, A), signal('click', 40 * MINUTE + 1500, B)).clicks.count).toBe(2);
    expect(read(signal('click', 40 * MINUTE, A), signal('click', 40 * MINUTE + 500, A)).clicks.count).toBe(2);
    const only = { links: 1 };
    expect(read(signal('click', 40 * MINUTE, A, only), signal('click', 40 * MINUTE + 5, A, only)).clicks.count).toBe(2);
  });

  it('reads the same signals alike in whatever order they are known', () => {
    const some = fc.array(
      fc.record({
        kind: fc.constantFrom(...SIGNAL_KINDS),
        at: fc.integer({ min: -5, max: 100 }).map((s) => SENT + s * 1000),
        link: fc.constantFrom(A, B, C),
        links: fc.constant(3),
        told: fc.constantFrom('', '', '', 'it names itself as a program'),
      }),
      { maxLength: 20 },
    );
    fc.assert(
      fc.property(some, fc.infiniteStream(fc.nat()), (signals, order) => {
        const { machine, ...counts } = readSignals(signals, SENT);
        const keys = signals.map(() => order.next().value as number);
        const shuffled = signals.map((_, i) => i).sort((a, b) => (keys[a] as number) - (keys[b] as number));
        const { machine: again, ...same } = readSignals(
          shuffled.map((i) => signals[i] as Signal),
          SENT,
        );
        expect(same).toEqual(counts);
        expect(again).toEqual(shuffled.map((i) => machine[i]));
      }),
    );
  });
});

describe('a request', () => {
  const browser = 'Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0';
  it.each([
    ['GET', browser, '', ''],
    ['GET', `${browser} (via example.test ImageProxy)`, '', ''],
    ['HEAD', browser, '', 'it only asked whether the link leads anywhere'],
    ['GET', browser, 'prefetch;prerender', 'it was fetched ahead'],
    ['GET', '', '', 'it did not say what it is'],
    ['GET', 'Mozilla/5.0', '', 'it names no browser'],
    ['GET', 'link-checker-bot/2.1', '', 'it names itself as a program'],
    ['GET', 'python-requests/2.32', '', 'it names itself as a program'],
  ])('%s by “%s” (%s) tells: %s', (method, userAgent, purpose, told) =>
    expect(askedByProgram({ method, userAgent, purpose })).toBe(told),
  );
});
