import { describe, expect, test } from '@jest/globals';
import type { Lldp, LldpLocalPort } from '../mib/lldp';
import { lldpPorts } from './lldpPorts';
import { interfaceRow } from './testHarvest';

const local = (portNumber: number, more: Partial<LldpLocalPort> = {}): LldpLocalPort => ({
  portNumber,
  portIdSubtype: 'local',
  portId: '',
  description: '',
  ...more,
});
const speaking = (...localPorts: LldpLocalPort[]): Lldp => ({
  chassisIdSubtype: 'macAddress',
  chassisId: '02:00:00:00:00:01',
  localPorts,
  neighbours: [],
});
/** Bridge ports 1 to 4 on the interfaces 101 to 104. */
const bridge = { ifIndexByBridgePort: new Map([1, 2, 3, 4].map((port) => [port, 100 + port])) };
const sockets = [101, 102, 103, 104].map((ifIndex) => interfaceRow(ifIndex, `x${ifIndex - 100}`));
const found = (lldp: Lldp, interfaces = sockets, of: typeof bridge | null = bridge) =>
  Object.fromEntries([...lldpPorts(lldp, interfaces, of)].map(([number, row]) => [number, row.ifIndex]));

describe('which interface a port number of LLDP is (IEEE 802.1AB)', () => {
  test('on a bridge that of the bridge port', () => {
    expect(found(speaking(local(1), local(3)))).toEqual({ 1: 101, 3: 103 });
  });
  test('an ifIndex, where the numbers are those of interfaces', () => {
    expect(found(speaking(local(101), local(103)))).toEqual({ 101: 101, 103: 103 });
    expect(found(speaking(local(101)), sockets, null)).toEqual({ 101: 101 });
  });
  test('where both fit, the ports whose names are clear say which of the two', () => {
    const low = [1, 2, 3, 4].map((ifIndex) => interfaceRow(ifIndex, `x${ifIndex}`));
    const turned = { ifIndexByBridgePort: new Map([1, 2, 3, 4].map((port) => [port, 5 - port])) };
    const clear = (name: string) => local(1, { portIdSubtype: 'interfaceName', portId: name });
    expect(found(speaking(clear('x4'), local(2)), low, turned)).toEqual({ 1: 4, 2: 3 });
    expect(found(speaking(clear('x1'), local(2)), low, turned)).toEqual({ 1: 1, 2: 2 });
    expect(found(speaking(local(1), local(2)), low, turned)).toEqual({ 1: 4, 2: 3 });
  });
  test('numbers that neither numbering knows whole tell nothing', () => {
    expect(found(speaking(local(1), local(9)))).toEqual({});
  });
  test('one description or one MAC for every port draws nobody to one of them', () => {
    const alike = sockets.map((row) => ({ ...row, description: 'Ethernet port', mac: '02:00:00:00:00:09' }));
    const described = [1, 2, 3].map((number) => local(number, { portId: 'p', description: 'Ethernet port' }));
    const addressed = [1, 2, 3].map((number) =>
      local(number, { portIdSubtype: 'macAddress', portId: '02:00:00:00:00:09' }),
    );
    expect(found(speaking(...described), alike)).toEqual({ 1: 101, 2: 102, 3: 103 });
    expect(found(speaking(...addressed), alike)).toEqual({ 1: 101, 2: 102, 3: 103 });
    // one socket of that description, and every port of LLDP has it
    expect(found(speaking(...described), [alike[0] ?? sockets[0]!, ...sockets.slice(1)])).toEqual({
      1: 101,
      2: 102,
      3: 103,
    });
  });
  test('an interface of a VLAN, a bridge or an aggregate is no end of a cable, though it has the MAC', () => {
    const shared = { mac: '02:00:00:00:00:09' };
    const interfaces = [
      interfaceRow(1, 'vlan10', { ...shared, ifType: 136 }),
      interfaceRow(2, 'ae1', { ...shared, ifType: 161 }),
      interfaceRow(3, 'x1', shared),
    ];
    expect(found(speaking(local(7, { portIdSubtype: 'macAddress', portId: shared.mac })), interfaces, null)).toEqual({
      7: 3,
    });
  });
});
