import { describe, expect, it } from 'vitest';
import { Countries } from './countries';

describe('the country of an address', () => {
  it.each([
    // For documentation (RFC 5737, RFC 3849); the list has two of their networks.
    ['203.0.113.5', 'AU'],
    ['2001:db8::7', 'JP'],
    ['192.0.2.8', null],
    // Of this machine, of a network of its own, of no network.
    ['127.0.0.1', null],
    ['::1', null],
    ['10.0.0.1', null],
    ['fe80::1', null],
    ['0.0.0.0', null],
    ['255.255.255.255', null],
    // No addresses.
    ['', null],
    ['1.2.3', null],
    ['tidewaterkelp.example', null],
    ['203.0.113.5, 203.0.113.6', null],
    ['\0', null],
  ])('%j: %s', async (address, country) => {
    expect(await new Countries().of(address)).toBe(country);
  });

  it('is found for any number at once', async () => {
    const countries = new Countries();
    const all = await Promise.all(Array.from({ length: 50 }, (_, i) => countries.of(`203.0.113.${i}`)));
    expect(new Set(all)).toEqual(new Set(['AU']));
  });
});
