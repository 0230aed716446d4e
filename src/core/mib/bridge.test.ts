import { describe, expect, test } from '@jest/globals';
import { bridgeTables, parseBridge } from './bridge';
import { integer, octets, rows, text } from './testVarbinds';
import type { Varbind } from './varbind';

const address = { oid: `${bridgeTables.dot1dBaseBridgeAddress}.0`, value: octets(2, 0, 0, 0, 0, 1) };
const heardInDatabase = (fdbId: number, last: number, port: number, status = 3) =>
  rows(bridgeTables.dot1qTpFdbEntry, `${fdbId}.2.0.0.0.9.${last}`, { 2: integer(port), 3: integer(status) });
const heard = (last: number, port: number, status = 3) =>
  rows(bridgeTables.dot1dTpFdbEntry, `2.0.0.0.9.${last}`, { 2: integer(port), 3: integer(status) });
const current = (vlan: number, fdbId: number, egress: number, untagged: number) =>
  rows(bridgeTables.dot1qVlanCurrentEntry, `0.${vlan}`, {
    3: integer(fdbId),
    4: octets(egress),
    5: octets(untagged),
  });
const pvid = (port: number, vlan: number) => rows(bridgeTables.dot1qPortVlanEntry, `${port}`, { 1: integer(vlan) });
const vlansHeard = (answered: Varbind[]) =>
  Object.fromEntries(
    (parseBridge([address, ...answered])?.forwarding ?? []).map(({ mac, vlan }) => [mac.at(-1), vlan]),
  );

describe('which VLAN a machine was heard in (RFC 4363)', () => {
  test('several VLANs may share one filtering database: then the only one that its port is a member of', () => {
    // port 1: VLAN 10 untagged; port 2: VLAN 20 untagged; port 3: both, tagged
    expect(
      vlansHeard([
        ...current(10, 1, 0b1010_0000, 0b1000_0000),
        ...current(20, 1, 0b0110_0000, 0b0100_0000),
        ...heardInDatabase(1, 1, 1),
        ...heardInDatabase(1, 2, 2),
        ...heardInDatabase(1, 3, 3),
      ]),
    ).toEqual({ 1: 10, 2: 20, 3: null });
  });
  test('where nobody tells who is a member, the port’s own', () => {
    const shared = [10, 20].flatMap((vlan) => rows(bridgeTables.dot1qVlanCurrentEntry, `0.${vlan}`, { 3: integer(7) }));
    expect(
      vlansHeard([
        ...shared,
        ...pvid(1, 20),
        ...pvid(2, 30),
        ...heardInDatabase(7, 1, 1),
        ...heardInDatabase(7, 2, 2),
        ...heardInDatabase(7, 3, 3),
      ]),
    ).toEqual({ 1: 20, 2: null, 3: null });
  });
  test('a database of one VLAN says so itself, whatever its number', () => {
    expect(vlansHeard([...current(30, 5001, 0x80, 0x80), ...heardInDatabase(5001, 1, 4)])).toEqual({ 1: 30 });
  });
  test('without a mapping a database is not taken for a VLAN', () => {
    expect(vlansHeard(heardInDatabase(3, 1, 1))).toEqual({ 1: null });
    expect(vlansHeard([...pvid(1, 10), ...pvid(2, 20), ...heardInDatabase(1, 1, 1)])).toEqual({ 1: 10 });
  });
  test('several databases, each numbered like a VLAN there is, are numbered like VLANs', () => {
    expect(
      vlansHeard([...pvid(1, 10), ...pvid(2, 20), ...heardInDatabase(10, 1, 3), ...heardInDatabase(20, 2, 3)]),
    ).toEqual({ 1: 10, 2: 20 });
  });
});

describe('rows that place no machine', () => {
  test('those not valid any longer (2), those of the bridge itself (4), groups, no port', () => {
    const group = rows(bridgeTables.dot1dTpFdbEntry, '1.0.94.0.0.1', { 2: integer(4), 3: integer(3) });
    const bridge = parseBridge([
      address,
      ...heard(1, 1, 2),
      ...heard(2, 1, 4),
      ...heard(3, 0),
      ...heard(4, 1, 5),
      ...group,
    ]);
    expect(bridge?.forwarding).toEqual([{ mac: '02:00:00:00:09:04', bridgePort: 1, vlan: null }]);
  });
  test('Q-BRIDGE with entries of its own only, or of some machines, hides no other that BRIDGE places', () => {
    const bridge = parseBridge([
      address,
      ...heardInDatabase(1, 1, 1, 4),
      ...heardInDatabase(1, 2, 2),
      ...heard(2, 2),
      ...heard(3, 3),
    ]);
    expect(bridge?.forwarding.map(({ mac, bridgePort }) => [mac.at(-1), bridgePort])).toEqual([
      ['2', 2],
      ['3', 3],
    ]);
  });
  test('an agent that tells machines alone is a bridge', () => {
    expect(parseBridge(heard(1, 1))?.forwarding).toHaveLength(1);
    expect(parseBridge([{ oid: address.oid, value: octets(0, 0, 0, 0, 0, 0) }])).toBeNull();
  });
});

describe('VLANs', () => {
  const fixed = (vlan: number, name: string, status: number, egress = 0xc0, untagged = 0x40) =>
    rows(bridgeTables.dot1qVlanStaticEntry, `${vlan}`, {
      1: text(name),
      2: octets(egress),
      4: octets(untagged),
      5: integer(status),
    });
  test('without a current table the static one tells who is a member; what is not in service (2) or not ready (3) does not hold', () => {
    expect(
      parseBridge([address, ...fixed(10, 'ticketing', 1), ...fixed(20, 'old', 2), ...fixed(30, 'new', 3)])?.vlans,
    ).toEqual([{ vlan: 10, name: 'ticketing', egressBridgePorts: [1, 2], untaggedBridgePorts: [2] }]);
  });
  test('with a current table the static one gives names alone', () => {
    expect(parseBridge([address, ...current(10, 1, 0x80, 0), ...fixed(10, 'ticketing', 1)])?.vlans).toEqual([
      { vlan: 10, name: 'ticketing', egressBridgePorts: [1], untaggedBridgePorts: [] },
    ]);
  });
  test('columns that come in two lots are one row', () => {
    const name = rows(bridgeTables.dot1qVlanStaticEntry, '10', { 1: text('ticketing'), 5: integer(1) });
    const members = rows(bridgeTables.dot1qVlanStaticEntry, '10', { 2: octets(0x80), 4: octets(0) });
    expect(parseBridge([address, ...name, ...members])?.vlans).toMatchObject([{ vlan: 10, egressBridgePorts: [1] }]);
  });
  test('0 and 4095 are no VLANs (IEEE 802.1Q)', () => {
    const bridge = parseBridge([
      address,
      ...current(0, 1, 0x80, 0),
      ...fixed(4095, 'reserved', 1),
      ...pvid(1, 0),
      ...pvid(2, 4095),
      ...pvid(3, 4094),
    ]);
    expect(bridge?.vlans).toEqual([]);
    expect(bridge?.pvid).toEqual(new Map([[3, 4094]]));
  });
});

test('a designated bridge of noughts is none', () => {
  const bridge = parseBridge([
    address,
    ...rows(bridgeTables.dot1dStpPortEntry, '3', {
      3: integer(5),
      8: octets(0, 0, 0, 0, 0, 0, 0, 0),
      9: octets(0, 0),
    }),
  ]);
  expect(bridge?.stp.ports).toMatchObject([{ bridgePort: 3, state: 'forwarding', designatedBridge: null }]);
});
