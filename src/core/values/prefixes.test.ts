import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { networkOf } from './ipAddress';
import { Prefixes } from './prefixes';

describe('looking up the network of an address', () => {
  test.each([
    ['10.72.4.17', '10.72.4.0/24'],
    ['10.72.4.130', '10.72.4.128/25'],
    ['10.72.99.1', '10.72.0.0/16'],
    ['192.0.2.1', null],
    ['fd00:72::17', 'fd00:72::/64'],
    ['fd01::1', null],
    ['10.72.4.256', null],
    ['nonsense', null],
    ['', null],
  ])('%s lies in %s', (address, network) => {
    expect(new Prefixes(['10.72.0.0/16', '10.72.4.0/24', '10.72.4.128/25', 'fd00:72::/64']).longestWith(address)).toBe(
      network,
    );
  });
  test('finds what trying every length finds', () => {
    const address = fc
      .tuple(fc.constantFrom(10, 192), fc.integer({ min: 0, max: 3 }), fc.nat(255), fc.nat(255))
      .map((octets) => octets.join('.'));
    const network = fc.tuple(address, fc.integer({ min: 0, max: 32 })).map(([own, length]) => networkOf(own, length));
    fc.assert(
      fc.property(fc.array(network, { maxLength: 12 }), address, (networks, own) => {
        const longest =
          Array.from({ length: 33 }, (_, at) => networkOf(own, 32 - at)).find((candidate) =>
            networks.includes(candidate),
          ) ?? null;
        expect(new Prefixes(networks).longestWith(own)).toBe(longest);
      }),
    );
  });
});
