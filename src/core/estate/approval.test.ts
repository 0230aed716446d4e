import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { ipv4FromNumber } from '../values/ipAddress';
import {
  approvalMistake,
  approvalWords,
  approves,
  notApproved,
  nowhere,
  placesAsked,
  together,
  unapproved,
} from './approval';
import { readScope, scopeDefaults } from './scope';
import { translate } from '../values/translation';

const name = 'core';
const approved = { prefixes: ['10.72.0.0/16', '10.73.4.1-40', '192.0.2.9'], ports: [161, 443] };

describe('a secret', () => {
  test('is sent within its prefixes and to its ports alone', () => {
    const at = (address: string, port = 161) => approves({ name, approved }, { address, port });
    expect(['10.72.0.0', '10.72.255.255', '10.73.4.1', '10.73.4.40', '192.0.2.9'].map((one) => at(one))).toEqual(
      Array.from({ length: 5 }, () => true),
    );
    expect(['10.71.255.255', '10.73.0.0', '10.73.4.41', '192.0.2.8', '2001:db8::1'].map((one) => at(one))).toEqual(
      Array.from({ length: 5 }, () => false),
    );
    expect([at('10.72.4.1', 443), at('10.72.4.1', 8443), at('10.72.4.1', 1161)]).toEqual([true, false, false]);
  });
  test('of which nothing was approved goes nowhere; one from a file goes where it is asked to', () => {
    expect(approves({ name, approved: nowhere }, { address: '10.72.4.1', port: 161 })).toBe(false);
    expect(approves({ name }, { address: '192.0.2.1', port: 16100 })).toBe(true);
  });
  test('goes nowhere by a line that cannot be read', () => {
    const own = { name, approved: { prefixes: ['10.72.4.300', '10.72.4.9/24', ''], ports: [161] } };
    expect(approves(own, { address: '10.72.4.9', port: 161 })).toBe(false);
    expect(own.approved.prefixes.map((line) => approvalMistake(line) !== null)).toEqual([true, true, true]);
  });
  test('goes to no address outside a prefix, whichever it is', () => {
    const address = fc.integer({ min: 0, max: 2 ** 32 - 1 });
    fc.assert(
      fc.property(address, fc.integer({ min: 1, max: 32 }), address, (base, length, asked) => {
        const size = 2 ** (32 - length);
        const network = Math.floor(base / size) * size;
        const own = { name, approved: { prefixes: [`${ipv4FromNumber(network)}/${length}`], ports: [161] } };
        const isWithin = Math.floor(asked / size) * size === network;
        expect(approves(own, { address: ipv4FromNumber(asked), port: 161 })).toBe(isWithin);
      }),
    );
  });
  test('that may not be sent is told with its place', () => {
    expect(notApproved([{ name }, { name: 'spare' }], { address: '10.9.0.3', port: 161 }).reason).toBe(
      'not asked: “core” and “spare” may not be sent to 10.9.0.3 port 161',
    );
  });
});

describe('what a scope asks', () => {
  const scope = {
    ...scopeDefaults,
    name: 'north',
    ranges: ['10.72.4.0/24', '10.72.5.1-40', '10.73.0.9', '10.72.300.0/24'],
    translations: ['10.72.0.0/16 via 127.72.0.0/16 port 1161 https 1443'],
    credentials: ['core'],
  };
  test('is its ranges behind translations, and the ports of the kind', () => {
    expect(placesAsked(scope, 'snmp3')).toEqual({
      prefixes: ['127.72.4.0/24', '127.72.5.1-127.72.5.40', '10.73.0.9'],
      ports: [161, 1161],
    });
    expect(placesAsked(scope, 'redfish').ports).toEqual([443, 1443]);
    // neighbours are followed within private addresses, of which a part is translated
    expect(placesAsked({ ...scope, ranges: ['192.0.2.1'], neighbourSteps: 1 }, 'snmp3')).toEqual({
      prefixes: ['192.0.2.1', '10.0.0.0/8', '127.72.0.0/16', '172.16.0.0/12', '192.168.0.0/16'],
      ports: [161, 1161],
    });
  });
  test('covers every address that it sends to', () => {
    const octet = fc.integer({ min: 0, max: 255 });
    const line = fc.oneof(
      fc.tuple(octet, octet).map(([net, host]) => `10.${net % 4}.0.${host}`),
      fc.tuple(octet, fc.integer({ min: 24, max: 32 })).map(([net, length]) => `10.${net % 4}.8.0/${length}`),
      fc.tuple(octet, octet).map(([net, last]) => `10.${net % 4}.9.0-${last}`),
    );
    const rules = fc.subarray(['10.1.0.0/16 via 127.1.0.0/16 port 1161', '10.2.9.0/28 via 127.2.0.0/28']);
    fc.assert(
      fc.property(fc.array(line, { minLength: 1, maxLength: 5 }), rules, (ranges, translations) => {
        const read = readScope({ ...scope, ranges, translations });
        if ('mistakes' in read) return;
        const own = { name: 'core', approved: placesAsked({ ...scope, ranges, translations }, 'snmp3') };
        const places = read.scope.addresses.map((address) => translate(address, read.scope.translations, 161));
        expect(places.filter((place) => !approves(own, place))).toEqual([]);
      }),
    );
  });
  test('is approved as far as it is held by what is approved', () => {
    const wanted = placesAsked(scope, 'snmp3');
    expect(unapproved(nowhere, wanted)).toEqual(wanted);
    const partly = { prefixes: ['127.72.0.0/16'], ports: [1161] };
    expect(unapproved(partly, wanted)).toEqual({ prefixes: ['10.73.0.9'], ports: [161] });
    expect(unapproved(together(partly, wanted), wanted)).toEqual(nowhere);
    expect([approvalWords(nowhere), approvalWords(wanted)]).toEqual([
      'nowhere',
      '127.72.4.0/24, 127.72.5.1-127.72.5.40, 10.73.0.9, ports 161, 1161',
    ]);
  });
});
