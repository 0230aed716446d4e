import type { ObjectWriter } from '../snmp/objects';
import type { SimDevice } from './model';

/** An InetAddressType with its length and octets, as an index. */
export function addressIndex(address: string): string {
  if (!address.includes(':')) return `1.4.${address}`;
  if (address !== '::') throw new Error('the sample has no other IPv6 listeners');
  return `2.16.${Array(16).fill(0).join('.')}`;
}

/** DateAndTime of eight octets, or of eleven where it says how far it is from UTC. */
export function dateAndTimeOctets(at: Date, withZone = false): Buffer {
  const year = at.getUTCFullYear();
  return Buffer.from([
    year >> 8,
    year & 255,
    at.getUTCMonth() + 1,
    at.getUTCDate(),
    at.getUTCHours(),
    at.getUTCMinutes(),
    at.getUTCSeconds(),
    0,
    ...(withZone ? [0x2b, 0, 0] : []),
  ]);
}

/** Processes, listeners, connections, installed software and virtual machines. */
export function writeHost(write: ObjectWriter, device: SimDevice): void {
  for (const { number, name, path, parameters, listens } of device.processes ?? []) {
    const run = '1.3.6.1.2.1.25.4.2.1';
    write.integer(`${run}.1.${number}`, number);
    write.text(`${run}.2.${number}`, name);
    write.text(`${run}.4.${number}`, path);
    write.text(`${run}.5.${number}`, parameters);
    write.integer(`${run}.6.${number}`, number === 1 ? 2 : 4);
    write.integer(`${run}.7.${number}`, 2);
    for (const { protocol, address, port } of listens) {
      if (protocol === 'tcp') write.gauge(`1.3.6.1.2.1.6.20.1.4.${addressIndex(address)}.${port}`, number);
      else write.gauge(`1.3.6.1.2.1.7.7.1.8.${addressIndex(address)}.${port}.1.4.0.0.0.0.0.${number}`, number);
    }
  }
  for (const { process, local, remote } of device.connections ?? []) {
    const ends = `${addressIndex(local.address)}.${local.port}.${addressIndex(remote.address)}.${remote.port}`;
    write.integer(`1.3.6.1.2.1.6.19.1.7.${ends}`, 5);
    write.gauge(`1.3.6.1.2.1.6.19.1.8.${ends}`, process);
  }
  (device.installed ?? []).forEach(({ name, type, at }, row) => {
    const base = '1.3.6.1.2.1.25.6.3.1';
    write.integer(`${base}.1.${row + 1}`, row + 1);
    write.text(`${base}.2.${row + 1}`, name);
    write.integer(`${base}.4.${row + 1}`, type);
    write.text(`${base}.5.${row + 1}`, dateAndTimeOctets(at));
  });
  if (!device.machines) return;
  write.text('1.3.6.1.2.1.236.1.1.1.0', 'Brannick Host');
  write.text('1.3.6.1.2.1.236.1.1.2.0', '4.2');
  for (const { index, name, uuid, system, running, processors, memoryMB, mac, port } of device.machines) {
    const base = '1.3.6.1.2.1.236.1.4.1';
    write.text(`${base}.2.${index}`, name);
    write.text(`${base}.3.${index}`, Buffer.from(uuid.replaceAll('-', ''), 'hex'));
    write.text(`${base}.4.${index}`, system);
    write.integer(`${base}.5.${index}`, running ? 1 : 4);
    write.integer(`${base}.6.${index}`, running ? 4 : 11);
    write.integer(`${base}.9.${index}`, processors);
    write.integer(`${base}.12.${index}`, 1_048_576);
    write.integer(`${base}.13.${index}`, memoryMB);
    const net = `1.3.6.1.2.1.236.1.8.1`;
    write.integer(`${net}.2.${index}.1`, 0);
    write.integer(`${net}.3.${index}.1`, device.ports.find((candidate) => candidate.name === port)?.index ?? 0);
    write.text(`${net}.5.${index}.1`, Buffer.from(mac.replaceAll(':', ''), 'hex'));
  }
}
