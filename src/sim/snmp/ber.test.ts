import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import * as ber from './ber';

const hex = (octets: Buffer) => octets.toString('hex');

describe('BER as written', () => {
  test.each([
    [0, '020100'],
    [127, '02017f'],
    [128, '02020080'],
    [256, '02020100'],
    [-128, '020180'],
    [-129, '0202ff7f'],
    [32_767, '02027fff'],
    [32_768, '0203008000'],
    [-8_388_609, '0204ff7fffff'],
    [2_147_483_647, '02047fffffff'],
    [2_147_483_648, '02050080000000'],
    [-2_147_483_649, '0205ff7fffffff'],
  ])('integer %i has the fewest octets of two’s complement (X.690 8.3)', (value, expected) => {
    expect(hex(ber.integer(value))).toBe(expected);
  });
  test('an unsigned 32-bit value keeps its sign octet away from its value', () => {
    expect(hex(ber.integer(4_294_967_295, ber.tag.gauge32))).toBe('420500ffffffff');
    expect(hex(ber.counter64(2n ** 64n - 1n))).toBe('460900ffffffffffffffff');
  });
  test('an object identifier folds its first two parts (X.690 8.19)', () => {
    expect(hex(ber.oid([2, 100, 3]))).toBe('0603813403');
    expect(hex(ber.oid([1, 3, 6, 1, 2, 1]))).toBe('06052b06010201');
    expect(hex(ber.oid([1, 2, 840, 10006]))).toBe('06052a8648ce16');
  });
  test.each([
    [0x7f, '7f'],
    [0x80, '8180'],
    [0xff, '81ff'],
    [0x100, '820100'],
  ])('a body of %i octets has the length form of X.690 8.1.3', (length, form) => {
    expect(hex(ber.octets(Buffer.alloc(length))).slice(2, 2 + form.length)).toBe(form);
  });
});

describe('BER as read', () => {
  test('an object identifier is what it was written as, up to the largest number (X.690 8.19.2)', () => {
    const parts = [0x7f, 0x80, 0x3fff, 0x4000, 0x1f_ffff, 0x20_0000, 0xfff_ffff, 0x1000_0000, 0xffff_ffff];
    expect(hex(ber.oid([1, 3, 0xffff_ffff]))).toBe('06062b8fffffff7f');
    expect(ber.readOid(ber.element(ber.oid([1, 3, ...parts])).body)).toEqual([1, 3, ...parts]);
  });
  test('what is cut short or has an indefinite length is refused', () => {
    for (const bytes of ['', '30', '3005020100', '3080', '3084ffffffff', '3083ffffff'])
      expect(() => ber.element(Buffer.from(bytes, 'hex'))).toThrow(ber.BerError);
    expect(() => ber.readInteger(Buffer.alloc(0))).toThrow(ber.BerError);
    expect(() => ber.readInteger(Buffer.alloc(9))).toThrow(ber.BerError);
  });
  test('elements follow one another to the end', () => {
    fc.assert(
      fc.property(fc.array(fc.uint8Array({ maxLength: 300 }), { maxLength: 12 }), (bodies) => {
        const read = ber.elements(Buffer.concat(bodies.map((body) => ber.octets(Buffer.from(body)))));
        expect(read.map(({ body }) => hex(body))).toEqual(bodies.map((body) => hex(Buffer.from(body))));
      }),
    );
  });
});
