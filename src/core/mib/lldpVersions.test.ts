import { describe, expect, test } from '@jest/globals';
import { lldpTables, parseLldp } from './lldp';
import { lldpExtensionTables } from './lldpExtensions';
import { integer, octets, rows, text } from './testVarbinds';

const chassis = octets(2, 0, 0, 0, 0, 9);

/** LLDP-V2-MIB: one neighbour at ifIndex 101, heard at two group addresses. */
const second = [
  ...rows(lldpTables.lldpV2LocalData, '0', { 1: integer(4), 2: octets(2, 0, 0, 0, 0, 1) }),
  ...rows(lldpTables.lldpV2LocPortEntry, '101', { 2: integer(5), 3: text('U1'), 4: text('uplink') }),
  ...[1, 2].flatMap((destination) =>
    rows(lldpTables.lldpV2RemEntry, `0.101.${destination}.1`, {
      5: integer(4),
      6: chassis,
      7: integer(5),
      8: text('A7'),
      9: text('to plat'),
      10: text('rpw-dist'),
      11: text('Kestrane K-Dist'),
      12: octets(0x28),
      13: octets(0x20),
    }),
  ),
  ...rows(lldpTables.lldpV2RemManAddrEntry, '0.101.1.1.1.4.10.72.4.9', { 3: integer(2) }),
];

describe('LLDP-V2-MIB (IEEE 802.1AB-2009)', () => {
  test('numbers ports by ifIndex, and tells a neighbour once whatever address its frames go to', () => {
    expect(parseLldp(second)).toEqual({
      chassisIdSubtype: 'macAddress',
      chassisId: '02:00:00:00:00:01',
      byIfIndex: true,
      localPorts: [{ portNumber: 101, portIdSubtype: 'interfaceName', portId: 'U1', description: 'uplink' }],
      neighbours: [
        {
          localPortNumber: 101,
          chassisIdSubtype: 'macAddress',
          chassisId: '02:00:00:00:00:09',
          portIdSubtype: 'interfaceName',
          portId: 'A7',
          portDescription: 'to plat',
          systemName: 'rpw-dist',
          systemDescription: 'Kestrane K-Dist',
          capabilities: ['bridge'],
          managementAddresses: ['10.72.4.9'],
        },
      ],
    });
  });
  test('counts where the older MIB knows no neighbour', () => {
    const older = rows(lldpTables.lldpLocPortEntry, '1', { 2: integer(5), 3: text('U1'), 4: text('') });
    expect(parseLldp([...older, ...second])?.byIfIndex).toBe(true);
    const heard = rows(lldpTables.lldpRemEntry, '0.1.1', { 4: integer(4), 5: chassis, 6: integer(5), 7: text('A7') });
    expect(parseLldp([...older, ...heard, ...second])?.byIfIndex).toBeUndefined();
  });
});

describe('what neighbours say of themselves', () => {
  const neighbour = rows(lldpTables.lldpRemEntry, '0.1.1', { 4: integer(4), 5: chassis, 6: integer(5), 7: text('A7') });
  const told = (...more: ReturnType<typeof rows>[]) => parseLldp([...neighbour, ...more.flat()])?.neighbours[0]?.told;
  test('PVID, where it has one (IEEE 802.1AB annex F)', () => {
    expect(told(rows(lldpExtensionTables.lldpXdot1RemEntry, '0.1.1', { 1: integer(12) }))).toEqual({ vlan: 12 });
    expect(told(rows(lldpExtensionTables.lldpXdot1RemEntry, '0.1.1', { 1: integer(0) }))).toBeUndefined();
  });
  test('medium, negotiation, aggregation and frame size (annex G)', () => {
    expect(
      told(
        rows(lldpExtensionTables.lldpXdot3RemPortEntry, '0.1.1', { 2: integer(2), 4: integer(30) }),
        rows(lldpExtensionTables.lldpXdot3RemLinkAggEntry, '0.1.1', { 1: octets(0xc0) }),
        rows(lldpExtensionTables.lldpXdot3RemMaxFrameSizeEntry, '0.1.1', { 1: integer(9216) }),
      ),
    ).toEqual({ autoNegotiation: false, mauType: 30, aggregated: true, maxFrame: 9216 });
    expect(told(rows(lldpExtensionTables.lldpXdot3RemLinkAggEntry, '0.1.1', { 1: octets(0x80) }))).toEqual({
      aggregated: false,
    });
  });
  test('VLANs it names, VLANs by protocol, and power', () => {
    const name = (vlan: number, words: string) =>
      rows(lldpExtensionTables.lldpXdot1RemVlanNameEntry, `0.1.1.${vlan}`, { 2: text(words) });
    const protocol = (vlan: number, enabled: number) =>
      rows(lldpExtensionTables.lldpXdot1RemProtoVlanEntry, `0.1.1.${vlan}`, { 3: integer(enabled) });
    expect(
      told(
        name(10, 'OPS'),
        name(20, 'CCTV'),
        name(4095, 'none'),
        protocol(30, 1),
        protocol(31, 2),
        rows(lldpExtensionTables.lldpXdot3RemPowerEntry, '0.1.1', { 1: integer(2), 6: integer(4) }),
      ),
    ).toEqual({
      vlanNames: [
        { vlan: 10, name: 'OPS' },
        { vlan: 20, name: 'CCTV' },
      ],
      protocolVlans: [30],
      power: { takes: true, class: 3 },
    });
  });
  test('what it is (ANSI/TIA-1057)', () => {
    expect(
      told(
        rows(lldpExtensionTables.lldpXMedRemInventoryEntry, '0.1.1', {
          3: text('2.11'),
          4: text('PH-0771'),
          5: text('Calivex'),
          6: text('C-Help 2'),
        }),
      ),
    ).toEqual({ softwareRevision: '2.11', serial: 'PH-0771', vendor: 'Calivex', model: 'C-Help 2' });
  });
  test('is of the neighbour that said it', () => {
    expect(told(rows(lldpExtensionTables.lldpXdot1RemEntry, '0.2.1', { 1: integer(12) }))).toBeUndefined();
  });
});
