import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { expandRanges, parseRange, rangeSize } from './addressRange';
import {
  AddressError,
  addressFromOctets,
  addressKey,
  compareAddresses,
  ipv4FromNumber,
  ipv4Number,
  maskLength,
  octetsOf,
  parseAddress,
  parsePrefix,
  prefixContains,
} from './ipAddress';
import { isGroupMac, isLocalMac, macFromOctets, parseMac } from './mac';
import { compareOids, indexBelow, isBelow, parseOid } from './oid';
import { formsOf, nameMistake, passwordMistake } from './password';
import { formatAge, formatBytes, formatShare, formatSpeed, parseQuantity } from './quantity';
import { formatTranslation, parseTranslation, translate } from './translation';

const anyIpv4 = fc.integer({ min: 0, max: 0xffffffff }).map((value) => ipv4FromNumber(value >>> 0));

describe('IP addresses', () => {
  test('a number and its address are two forms of one value', () => {
    fc.assert(
      fc.property(
        anyIpv4,
        (address) => ipv4FromNumber(ipv4Number(address)) === address && parseAddress(address) === address,
      ),
    );
  });
  test('octets and text are two forms of one value, for IPv6 too', () => {
    fc.assert(
      fc.property(fc.uint8Array({ minLength: 16, maxLength: 16 }), (octets) => {
        const text = addressFromOctets(octets);
        return text !== null && octetsOf(text).join() === Array.from(octets).join();
      }),
    );
  });
  test('garbage is refused, never guessed', () => {
    for (const text of ['', '10.72', '10.72.4.256', '10.72.4.1.5', '0x0a480401', '010.72.4.1 x', 'fe80::g'])
      expect(() => parseAddress(text)).toThrow(AddressError);
    expect(addressFromOctets([10, 72, 4])).toBeNull();
  });
  test('a prefix with host bits names the one that was meant', () => {
    expect(() => parsePrefix('10.72.4.1/24')).toThrow('did you mean 10.72.4.0/24?');
    expect(parsePrefix('fd00:72::/32')).toEqual({ network: 'fd00:72::', length: 32, family: 6 });
    for (const text of ['10.72.4.0', '10.72.4.0/33', '10.72.4.0/x', '10.72.4.0/24/8'])
      expect(() => parsePrefix(text)).toThrow(AddressError);
  });
  test('a prefix holds exactly the addresses with its leading bits', () => {
    fc.assert(
      fc.property(anyIpv4, fc.integer({ min: 0, max: 32 }), anyIpv4, (inside, length, other) => {
        const keep = length === 0 ? 0 : (0xffffffff << (32 - length)) >>> 0;
        const network = (ipv4Number(inside) & keep) >>> 0;
        const prefix = parsePrefix(`${ipv4FromNumber(network)}/${length}`);
        return (
          prefixContains(prefix, inside) &&
          prefixContains(prefix, other) === ((ipv4Number(other) & keep) >>> 0 === network)
        );
      }),
    );
  });
  test('order is numeric, IPv4 before IPv6', () => {
    expect(['fd00::1', '10.72.10.1', '10.72.9.1'].sort(compareAddresses)).toEqual([
      '10.72.9.1',
      '10.72.10.1',
      'fd00::1',
    ]);
    expect(
      ['gone', 'fd00::1', '10.72.10.1', '10.72.9.1'].sort((x, y) => (addressKey(x) < addressKey(y) ? -1 : 1)),
    ).toEqual(['10.72.9.1', '10.72.10.1', 'fd00::1', 'gone']);
    expect(maskLength('255.255.252.0')).toBe(22);
    expect(maskLength('255.0.255.0')).toBeNull();
  });
});

describe('ranges', () => {
  test('a prefix leaves out network and broadcast, a /31 and a /32 do not', () => {
    expect(expandRanges([parseRange('10.72.4.0/30')], [])).toEqual(['10.72.4.1', '10.72.4.2']);
    expect(rangeSize(parseRange('10.72.4.0/31'))).toBe(2);
    expect(rangeSize(parseRange('10.72.4.9/32'))).toBe(1);
  });
  test('short and long ends of a range mean the same', () => {
    expect(parseRange('10.72.4.1-40')).toMatchObject({
      first: ipv4Number('10.72.4.1'),
      last: ipv4Number('10.72.4.40'),
    });
    expect(parseRange('10.72.4.1 - 10.72.5.3')).toMatchObject({ last: ipv4Number('10.72.5.3') });
    for (const text of ['10.72.4.9-3', '10.72.4.1-', 'a-b', '1-2-3', '', 'fd00::/120'])
      expect(() => parseRange(text)).toThrow(AddressError);
  });
  test('expansion is the set difference, each address once and in order', () => {
    const range = fc
      .tuple(fc.integer({ min: 0, max: 300 }), fc.integer({ min: 0, max: 40 }))
      .map(([first, more]) => ({ text: '', first, last: first + more }));
    fc.assert(
      fc.property(fc.array(range, { maxLength: 5 }), fc.array(range, { maxLength: 5 }), (ranges, exclusions) => {
        const inAny = (list: typeof ranges, value: number) =>
          list.some(({ first, last }) => value >= first && value <= last);
        const expected = Array.from({ length: 400 }, (_, value) => value)
          .filter((value) => inAny(ranges, value) && !inAny(exclusions, value))
          .map(ipv4FromNumber);
        expect(expandRanges(ranges, exclusions)).toEqual(expected);
      }),
    );
  });
});

describe('address translation', () => {
  test('keeps the offset in the prefix and may change the port', () => {
    const rules = [parseTranslation('10.72.0.0/16 via 127.72.0.0/16 port 1161')];
    expect(translate('10.72.4.2', rules, 161)).toEqual({ address: '127.72.4.2', port: 1161 });
    expect(translate('10.73.4.2', rules, 161)).toEqual({ address: '10.73.4.2', port: 161 });
  });
  test('the written form reads back as itself', () => {
    for (const text of ['10.72.0.0/16 via 127.72.0.0/16 port 1161', '10.0.0.0/8 via 11.0.0.0/8'])
      expect(formatTranslation(parseTranslation(text))).toBe(text);
    expect(formatTranslation(parseTranslation('10.72.0.0/16=127.72.0.0/16:1161'))).toBe(
      '10.72.0.0/16 via 127.72.0.0/16 port 1161',
    );
  });
  test('prefixes of different length are refused', () => {
    expect(() => parseTranslation('10.72.0.0/16 via 127.72.0.0/24')).toThrow('same prefix length');
    expect(() => parseTranslation('10.72.0.0/16')).toThrow('is not a translation');
    expect(() => parseTranslation('10.72.0.0/16 via 127.72.0.0/16 port 70000')).toThrow('1–65535');
  });
});

describe('MAC addresses', () => {
  test('every notation gives the same text', () => {
    for (const text of ['02:4C:91:0E:77:10', '02-4c-91-0e-77-10', '024c.910e.7710', '024c910e7710', '2:4c:91:e:77:10'])
      expect(parseMac(text)).toBe('02:4c:91:0e:77:10');
    for (const text of ['02:4c:91:0e:77', '02:4c:91:0e:77:1g', '', '024c.910e.77', '10.72.4.1'])
      expect(parseMac(text)).toBeNull();
  });
  test('six octets and text are two forms of one value', () => {
    fc.assert(
      fc.property(
        fc.uint8Array({ minLength: 6, maxLength: 6 }),
        (octets) => parseMac(macFromOctets(octets) ?? '') === macFromOctets(octets),
      ),
    );
    expect(macFromOctets([1, 2, 3])).toBeNull();
  });
  test('group and local bits', () => {
    expect([isGroupMac('01:00:5e:00:00:01'), isGroupMac('02:00:00:00:00:01')]).toEqual([true, false]);
    expect([isLocalMac('02:4b:45:00:00:01'), isLocalMac('00:4b:45:00:00:01')]).toEqual([true, false]);
  });
});

describe('object identifiers', () => {
  test('order is by sub-identifier, and a prefix comes first', () => {
    expect(['1.3.10', '1.3.9', '1.3', '1.3.9.1'].sort(compareOids)).toEqual(['1.3', '1.3.9', '1.3.9.1', '1.3.10']);
  });
  test('and it is the order of their numbers, whatever they are', () => {
    const oid = fc.array(fc.nat({ max: 300 }), { minLength: 1, maxLength: 5 });
    const byNumbers = (left: number[], right: number[]) => {
      const at = left.findIndex((part, place) => part !== right[place]);
      return at < 0 ? left.length - right.length : at >= right.length ? 1 : (left[at] ?? 0) - (right[at] ?? 0);
    };
    fc.assert(
      fc.property(oid, oid, (left, right) =>
        expect(Math.sign(compareOids(left.join('.'), right.join('.')))).toBe(Math.sign(byNumbers(left, right))),
      ),
      { numRuns: 2000 },
    );
  });
  test('below means below, not alike', () => {
    expect(isBelow('1.3.6.1', '1.3.6.11')).toBe(false);
    expect(indexBelow('1.3.6.1', '1.3.6.1.4.7')).toEqual([4, 7]);
    expect([parseOid('.1.3.6'), parseOid('1..3'), parseOid('x')]).toEqual(['1.3.6', null, null]);
  });
});

describe('quantities', () => {
  test('units as people write them', () => {
    expect(parseQuantity('1G', 'bitsPerSecond')).toBe(1e9);
    expect(parseQuantity('512M', 'bytes')).toBe(512 * 1024 ** 2);
    expect(parseQuantity('2GB', 'bytes')).toBe(2 * 1024 ** 3);
    expect(parseQuantity('30d', 'seconds')).toBe(2_592_000);
    expect(parseQuantity('5 parsecs', 'seconds')).toBeNull();
    expect(parseQuantity('', 'number')).toBeNull();
  });
  test('and as tables write them', () => {
    expect([formatSpeed(1e9), formatSpeed(2.5e9), formatSpeed(1e8), formatSpeed(1e11)]).toEqual([
      '1G',
      '2.5G',
      '100M',
      '100G',
    ]);
    expect([formatBytes(4 * 1024 ** 3), formatBytes(22 * 1024 ** 2), formatBytes(500)]).toEqual([
      '4 GB',
      '22 MB',
      '500 B',
    ]);
    expect([
      formatShare(54, 152),
      formatShare(1, 3),
      formatShare(1, 152),
      formatShare(1, 40_000),
      formatShare(399, 400),
      formatShare(39_999, 40_000),
      formatShare(7, 7),
      formatShare(0, 7),
      formatShare(0, 0),
    ]).toEqual(['36 %', '33 %', '0.7 %', '< 0.1 %', '99.8 %', '> 99.9 %', '100 %', '0 %', '0 %']);
    expect([formatAge(40), formatAge(7200), formatAge(86_400 * 3), formatAge(86_400 * 100)]).toEqual([
      '40 s',
      '2 h',
      '3 d',
      '14 w',
    ]);
  });
});

describe('people', () => {
  test('what everybody tries first is no password', () => {
    for (const password of ['short', 'aaaaaaaaaaaaa', 'marla12345', 'x'.repeat(201)])
      expect(passwordMistake(password, 'marla')).not.toBeNull();
    expect(passwordMistake('ostermere-lights', 'duty engineer')).toBeNull();
    expect(formsOf('Lantern-2026!')).toEqual(['lantern-2026!', 'lantern2026', 'lantern']);
    expect([nameMistake('duty engineer'), nameMistake(' ')]).toEqual([null, 'Give a name']);
  });
});
