import { ObjectTree, ObjectWriter } from '../snmp/objects';
import { makers } from './makers';
import type { SimDevice } from './model';

/** Routes, routing neighbours, and the list of virtual routers. */
export function writeRouting(write: ObjectWriter, device: SimDevice): void {
  const routes = device.routes ?? [];
  if (routes.length > 0) write.gauge('1.3.6.1.2.1.4.24.6.0', routes.length);
  for (const { network, length, nextHop, port, protocol } of routes) {
    const index = `1.4.${network}.${length}.2.0.0.1.4.${nextHop ?? '0.0.0.0'}`;
    const base = '1.3.6.1.2.1.4.24.7.1';
    write.integer(`${base}.7.${index}`, port);
    write.integer(`${base}.8.${index}`, nextHop === null ? 3 : 4);
    write.integer(`${base}.9.${index}`, protocol);
  }
  const { localAs, bgp = [], ospf = [] } = device.peers ?? {};
  if (localAs !== undefined) write.integer('1.3.6.1.2.1.15.2.0', localAs);
  for (const { address, identifier, localAddress, remoteAs, state } of bgp) {
    const base = '1.3.6.1.2.1.15.3.1';
    write.address(`${base}.1.${address}`, identifier);
    write.integer(`${base}.2.${address}`, state);
    write.integer(`${base}.3.${address}`, 2);
    write.address(`${base}.5.${address}`, localAddress);
    write.address(`${base}.7.${address}`, address);
    write.integer(`${base}.9.${address}`, remoteAs);
    write.gauge(`${base}.16.${address}`, 864_000);
  }
  for (const { address, routerId, state } of ospf) {
    const base = '1.3.6.1.2.1.14.10.1';
    write.address(`${base}.1.${address}.0`, address);
    write.integer(`${base}.2.${address}.0`, 0);
    write.address(`${base}.3.${address}.0`, routerId);
    write.integer(`${base}.6.${address}.0`, state);
  }
  for (const { port, group, address, isMaster, priority } of device.standby ?? []) {
    const base = '1.3.6.1.2.1.207.1.1.1.1';
    const index = `${port}.${group}.1`;
    write.address(`${base}.4.${index}`, device.address);
    write.text(`${base}.5.${index}`, Buffer.from([0, 0, 0x5e, 0, 1, group]));
    write.integer(`${base}.6.${index}`, isMaster ? 3 : 2);
    write.gauge(`${base}.7.${index}`, priority);
    write.gauge(`${base}.8.${index}`, 1);
    write.integer(`1.3.6.1.2.1.207.1.1.2.1.2.${index}.4.${address}`, 1);
  }
  (device.contexts ?? []).forEach(({ name }, at) => {
    const base = '1.3.6.1.2.1.47.1.2.1.1';
    write.text(`${base}.2.${at + 1}`, `virtual router ${name}`);
    write.text(`${base}.8.${at + 1}`, name);
  });
}

/** What a device answers in each of its further contexts: the address tables of a virtual router. */
export function contextTrees(device: SimDevice): Map<string, ObjectTree> {
  return new Map(
    (device.contexts ?? []).map(({ name, addresses, neighbours }) => {
      const write = new ObjectWriter();
      write.objectId('1.3.6.1.2.1.1.2.0', `1.3.6.1.4.1.${makers[device.maker].enterprise}.1.${device.modelNumber}`);
      for (const { address, length, port } of addresses) {
        write.address(`1.3.6.1.2.1.4.20.1.1.${address}`, address);
        write.integer(`1.3.6.1.2.1.4.20.1.2.${address}`, port);
        write.address(`1.3.6.1.2.1.4.20.1.3.${address}`, length === 30 ? '255.255.255.252' : '255.255.255.0');
      }
      for (const { address, mac, port } of neighbours) {
        write.integer(`1.3.6.1.2.1.4.22.1.1.${port}.${address}`, port);
        write.text(`1.3.6.1.2.1.4.22.1.2.${port}.${address}`, Buffer.from(mac.replaceAll(':', ''), 'hex'));
        write.integer(`1.3.6.1.2.1.4.22.1.4.${port}.${address}`, 3);
      }
      return [name, new ObjectTree(write.instances)] as const;
    }),
  );
}
