import { describe, expect, it } from 'vitest';
import type { Asked } from './came-from';
import { OwnMachine } from './own-machine';

const asked = (remoteAddress: string, forwarded = ''): Asked => ({
  req: { socket: { remoteAddress } },
  get: ((name: string) => (name === 'X-Forwarded-For' ? forwarded : '')) as Asked['get'],
});

describe('this machine', () => {
  it.each([
    ['the loopback interface', asked('127.0.0.1')],
    ['the same over IPv6', asked('::ffff:127.0.0.1')],
    ['what a server on this machine says of itself', asked('::1', '127.0.0.1')],
  ])('is known by %s', (_, by) => expect(new OwnMachine(false).isFromHere(by)).toBe(true));

  it.each([
    ['from elsewhere', asked('203.0.113.7')],
    ['passed on by a server on this machine', asked('127.0.0.1', '203.0.113.7')],
    ['passed on in this network', asked('192.168.1.4', '127.0.0.1, 203.0.113.7')],
    ['from elsewhere that claims to be passed on', asked('203.0.113.7', '127.0.0.1')],
    ['in this network', asked('10.0.0.7', 'nonsense')],
  ])('is not who asks %s', (_, by) => expect(new OwnMachine(false).isFromHere(by)).toBe(false));

  it('is known by where its own question at its public address came from', () => {
    const machine = new OwnMachine(false);
    const outside = asked('127.0.0.1', '198.51.100.4');
    machine.wasAsked('guessed-word', outside);
    expect(machine.isFromHere(outside)).toBe(false);
    machine.asks('own-word');
    machine.wasAsked('own-word', outside);
    expect(machine.isFromHere(outside)).toBe(true);
    // The word is good for once.
    machine.wasAsked('own-word', asked('203.0.113.7'));
    expect(machine.isFromHere(asked('203.0.113.7'))).toBe(false);
  });

  it('is everybody in the demo, whose recipients live there', () =>
    expect(new OwnMachine(true).isFromHere(asked('127.0.0.1'))).toBe(false));
});
