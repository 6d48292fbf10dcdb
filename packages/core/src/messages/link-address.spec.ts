import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { linkAddress } from './link-address';

describe('linkAddress', () => {
  it.each([
    ['https://kelp.example/a?b=1', 'https://kelp.example/a?b=1'],
    ['HTTP://kelp.example', 'HTTP://kelp.example'],
    ['kelp.example/trial', 'https://kelp.example/trial'],
    ['kelp.example:8080', 'https://kelp.example:8080'],
    ['www.kelp.example?x', 'https://www.kelp.example?x'],
    ['ines@kelp.example', 'mailto:ines@kelp.example'],
    ['mailto:ines@kelp.example', 'mailto:ines@kelp.example'],
    ['tel:+353 1 555', 'tel:+353%201%20555'],
    [' https://kelp.example/a b ', 'https://kelp.example/a%20b'],
    ['https://kelp.example/"x"', 'https://kelp.example/%22x%22'],
    ['java\tscript:alert(1)', null],
    ['javascript:alert(1)', null],
    ['data:text/html,x', null],
    ['file:///etc/passwd', null],
    ['//kelp.example', null],
    ['kelp', null],
    ['https:', null],
    ['', null],
  ])('%j leads to %j', (written, address) => expect(linkAddress(written)).toBe(address));

  it('never leads but by a scheme that messages may have, and stays inside its quotes', () => {
    fc.assert(
      fc.property(
        fc.oneof(
          fc.string(),
          fc.webUrl(),
          fc.string().map((s) => `javascript:${s}`),
        ),
        (written) => {
          const address = linkAddress(written);
          return address === null || (/^(?:https?|mailto|tel):/i.test(address) && !/[\s"<>]/.test(address));
        },
      ),
    );
  });
});
