import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { heardTables } from '../switching/heardTables';
import { macFromOctets, macNumber, macOfNumber } from '../values/mac';
import { addressFromOctets } from '../values/ipAddress';
import type { SightingFacts } from './facts';
import { packSightings, unpackHeard, unpackSightings } from './sightingCodec';

const mac = fc.uint8Array({ minLength: 6, maxLength: 6 }).map((octets) => macFromOctets(octets) ?? '');
const address = fc
  .oneof(fc.uint8Array({ minLength: 4, maxLength: 4 }), fc.uint8Array({ minLength: 16, maxLength: 16 }))
  .map((octets) => addressFromOctets(octets) ?? '');
const port = fc.constantFrom('1', 'U1', 'Ethernet 1/1', 'Müll "2"', '');
/** what agents and controllers also write */
const odd = fc.constantFrom(
  '',
  'none',
  '02-4C-91-0E-77-10',
  '02:4c:91:0e:77',
  '010.001.2.3',
  '300.1.1.1',
  'fe80::0001',
  '::ffff:10.0.0.1',
);
const sightings = fc.record({
  forwarding: fc.array(
    fc.record({
      mac: fc.oneof({ weight: 9, arbitrary: mac }, odd),
      port,
      vlan: fc.oneof(fc.constant(null), fc.nat({ max: 4095 }), fc.constantFrom(65_534, 65_535, 70_000)),
    }),
    { maxLength: 30 },
  ),
  addresses: fc.array(
    fc.record({
      mac: fc.oneof({ weight: 9, arbitrary: mac }, odd),
      address: fc.oneof({ weight: 9, arbitrary: address }, odd),
    }),
    { maxLength: 30 },
  ),
});
const inOrder = ({ forwarding, addresses }: SightingFacts) =>
  [...forwarding, ...addresses].map((row) => JSON.stringify(row)).sort();

test('what was packed comes back, whatever stood in it', () => {
  fc.assert(
    fc.property(sightings, (rows) => {
      expect(inOrder(unpackSightings(packSightings(rows)) ?? { forwarding: [], addresses: [] })).toEqual(inOrder(rows));
    }),
    { numRuns: 500 },
  );
});

test('in columns it holds the same rows as the facts themselves in columns, but for what has no place in numbers', () => {
  const fits = ({ forwarding, addresses }: SightingFacts): SightingFacts => ({
    forwarding: forwarding.filter(({ vlan }) => vlan === null || vlan < 65_535),
    addresses: addresses.filter(
      ({ address: text }) =>
        ![
          '',
          'none',
          '010.001.2.3',
          '300.1.1.1',
          'fe80::0001',
          '02-4C-91-0E-77-10',
          '02:4c:91:0e:77',
          '::ffff:10.0.0.1',
        ].includes(text),
    ),
  });
  const rowsOf = (tables: ReturnType<typeof heardTables> | null) =>
    tables && [
      Array.from(tables.macs, (number, at) => [number, tables.ports[tables.portPlaces[at] ?? -1], tables.vlans[at]]),
      Array.from(tables.addressMacs, (number, at) => [number, tables.addresses[at]]),
    ];
  fc.assert(
    fc.property(sightings.map(fits), (rows) => {
      expect(rowsOf(unpackHeard(packSightings(rows)))).toEqual(rowsOf(heardTables(rows)));
    }),
    { numRuns: 500 },
  );
});

test('octets of another origin are told, not guessed at', () => {
  fc.assert(fc.property(fc.uint8Array({ maxLength: 13 }), (octets) => unpackSightings(octets) === null));
  expect(unpackSightings(Buffer.from('1f8b08000000000000030000000000', 'hex'))).toBeNull();
});

test('a MAC and its number are the same thing', () => {
  fc.assert(fc.property(mac, (text) => macOfNumber(macNumber(text) ?? -1) === text));
  expect([macNumber('02:4C:91:0e:77:10'), macNumber('nothing'), macOfNumber(0)]).toEqual([
    null,
    null,
    '00:00:00:00:00:00',
  ]);
});
