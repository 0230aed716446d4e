import * as ber from '../snmp/ber';
import { ObjectTree, ObjectWriter, type Instance } from '../snmp/objects';
import { writeHealth } from './answersHealth';
import { dateAndTimeOctets, writeHost } from './answersHost';
import { writeRouting } from './answersRouting';
import { learnForwarding, type Learned } from './forwarding';
import { bridgePortNumbers, spanningTree, type TreeAtBridge } from './spanningTree';
import { makers } from './makers';
import type { Hands, PortChange } from './hands';
import type { Cable, Guest, SimDevice, SimEstate } from './model';

const macOctets = (mac: string) => Buffer.from(mac.replaceAll(':', ''), 'hex');
const macIndex = (mac: string) => [...macOctets(mac)].join('.');

/** Local VLAN databases are numbered apart from VLANs: database = VLAN + 1000. */
const fdbOf = (vlan: number) => vlan + 1000;

export const vlanNames: Record<number, string> = {
  10: 'OPS',
  20: 'TICKET',
  30: 'CCTV',
  40: 'WIFI-STAFF',
  50: 'VOICE',
  60: 'WIFI-GUEST',
  70: 'MGMT',
  80: 'SCADA',
};

export function engineIdOf(device: SimDevice): Buffer {
  return Buffer.concat([Buffer.from('8000e6dd03', 'hex'), macOctets(device.mac)]);
}

/** When the clocks of a network began, and what becomes of what is set in it. Without hands nothing can be set. */
export interface Running {
  startedAt: number;
  hands?: Hands;
}

/** What every agent of the estate answers, by device name: made for each when it is asked for the first time. */
export function answersOf(estate: SimEstate, running: Running = { startedAt: Date.now() }): Map<string, ObjectTree> {
  const learned = once(() => learnForwarding(estate));
  const trees = once(() => spanningTree(estate));
  return new Map(
    estate.devices.map((device) => [
      device.name,
      new ObjectTree(() =>
        answersOfDevice(device, estate, learned().get(device.name) ?? [], trees().get(device.name), running),
      ),
    ]),
  );
}

function once<Made>(make: () => Made): () => Made {
  let made: Made | undefined;
  return () => (made ??= make());
}

function answersOfDevice(
  device: SimDevice,
  estate: SimEstate,
  learned: Learned[],
  tree: TreeAtBridge | undefined,
  { startedAt, hands }: Running,
): Instance[] {
  const write = new ObjectWriter();
  const uptimeAt = (at: number) => device.uptimeSeconds * 100 + Math.floor((at - startedAt) / 10);
  const uptime = () => uptimeAt(Date.now());
  const enterprise = `1.3.6.1.4.1.${makers[device.maker].enterprise}`;
  write.text('1.3.6.1.2.1.1.1.0', device.description);
  write.objectId('1.3.6.1.2.1.1.2.0', `${enterprise}.1.${device.modelNumber}`);
  write.changing('1.3.6.1.2.1.1.3.0', () => ber.integer(uptime() % 4_294_967_296, ber.tag.timeticks));
  write.text('1.3.6.1.2.1.1.4.0', 'network control, ext. 2100');
  write.text('1.3.6.1.2.1.1.5.0', device.name);
  write.text('1.3.6.1.2.1.1.6.0', device.location);
  write.integer('1.3.6.1.2.1.1.7.0', device.services);
  write.text('1.3.6.1.6.3.10.2.1.1.0', engineIdOf(device));
  if (device.own) {
    write.gauge(`${enterprise}.2.1.1.0`, device.own.memoryMB);
    write.gauge(`${enterprise}.2.1.2.0`, device.own.flashMB);
    write.gauge(`${enterprise}.2.1.3.0`, device.own.flashFreeMB);
    write.text(`${enterprise}.2.1.4.0`, device.own.boot);
    if (device.own.bootImage) write.text(`${enterprise}.2.1.5.0`, device.own.bootImage);
    if (device.own.standbyReady !== undefined) write.integer(`${enterprise}.2.1.6.0`, device.own.standbyReady ? 2 : 1);
    if (device.own.saved !== undefined) write.integer(`${enterprise}.2.1.7.0`, device.own.saved ? 1 : 2);
    if (device.own.loadPercent !== undefined) write.gauge(`${enterprise}.2.1.8.0`, device.own.loadPercent);
    for (const { index, name } of device.modules)
      if (device.moduleMemoryMB?.[name] !== undefined)
        write.gauge(`${enterprise}.3.1.2.${index}`, device.moduleMemoryMB[name] ?? 0);
  }
  interfaces(write, device, uptimeAt, hands);
  powerGroup(write, device);
  entities(write, device);
  addressTables(write, device, estate);
  if (tree) bridging(write, device, learned, tree);
  if (device.lldp) neighbours(write, device, estate);
  if (device.host) host(write, device.host, device.clockAheadSeconds ?? 0);
  writeHost(write, device);
  writeHealth(write, device);
  writeRouting(write, device);
  return write.instances;
}

/** Watts that a class of RFC 3621 takes in the sample, by its number. */
export const wattsOfClass = [0, 0, 3, 5, 9, 18];

function powerGroup(write: ObjectWriter, { ports, powerBudget }: SimDevice): void {
  if (powerBudget === undefined) return;
  const drawn = ports.reduce(
    (sum, { power }) => sum + (power?.status === 3 ? (wattsOfClass[power.classification] ?? 0) : 0),
    0,
  );
  const base = '1.3.6.1.2.1.105.1.3.1.1';
  write.gauge(`${base}.2.1`, powerBudget);
  write.integer(`${base}.3.1`, 1);
  write.gauge(`${base}.4.1`, drawn);
  write.integer(`${base}.5.1`, 80);
}

function interfaces(
  write: ObjectWriter,
  device: SimDevice,
  uptimeAt: (at: number) => number,
  hands: Hands | undefined,
): void {
  for (const port of device.ports) {
    const turn = hands && ((change: PortChange) => hands.switchPort(device.name, port.name, change));
    const at = port.index;
    const base = '1.3.6.1.2.1.2.2.1';
    write.integer(`${base}.1.${at}`, at);
    write.text(`${base}.2.${at}`, port.description);
    write.integer(`${base}.3.${at}`, port.ifType);
    write.integer(`${base}.4.${at}`, port.mtu);
    write.gauge(`${base}.5.${at}`, Math.min(4_294_967_295, port.speedMbps * 1e6));
    write.text(`${base}.6.${at}`, macOctets(port.mac));
    const admin = port.admin === 'up' ? 1 : 2;
    if (turn && port.ifType === 6)
      write.settableInteger(`${base}.7.${at}`, admin, [1, 2], (value) => turn({ admin: value === 1 ? 'up' : 'down' }));
    else write.integer(`${base}.7.${at}`, admin);
    write.integer(`${base}.8.${at}`, port.oper === 'up' ? 1 : 2);
    // of a port that nobody touched the story tells for how long it has been as it is, whenever it is asked
    const changed = () =>
      port.changedAt === undefined ? uptimeAt(Date.now()) - port.sinceSeconds * 100 : uptimeAt(port.changedAt);
    write.changing(`${base}.9.${at}`, () =>
      ber.integer(((changed() % 4_294_967_296) + 4_294_967_296) % 4_294_967_296, ber.tag.timeticks),
    );
    if (port.ifType === 6) {
      const [inErrors, outErrors, inDiscards, outDiscards] = port.lost ?? [0, 0, 0, 0];
      for (const [column, count] of [
        [13, inDiscards],
        [14, inErrors],
        [19, outDiscards],
        [20, outErrors],
      ] as const)
        write.add(`${base}.${column}.${at}`, () => ber.integer(count, ber.tag.counter32));
    }
    const more = '1.3.6.1.2.1.31.1.1.1';
    write.text(`${more}.1.${at}`, port.name);
    write.gauge(`${more}.15.${at}`, port.speedMbps);
    write.integer(`${more}.17.${at}`, port.ifType === 6 ? 1 : 2);
    if (turn) write.settableText(`${more}.18.${at}`, port.alias, 64, (alias) => turn({ alias }));
    else write.text(`${more}.18.${at}`, port.alias);
    if (port.ifType === 6)
      write.integer(`1.3.6.1.2.1.10.7.2.1.19.${at}`, port.oper === 'up' ? (port.duplex === 'full' ? 3 : 2) : 1);
    if (port.ifType === 6 && device.maker !== 'Brannick') {
      const mau = port.oper === 'up' ? mauTypeOf(port.speedMbps, port.duplex) : undefined;
      if (mau) {
        write.objectId(`1.3.6.1.2.1.26.2.1.1.3.${at}.1`, `1.3.6.1.2.1.26.4.${mau}`);
        write.integer(`1.3.6.1.2.1.26.5.1.1.1.${at}.1`, port.speedMbps === 10 ? 2 : 1);
      }
    }
    if (port.power) {
      const power = `1.3.6.1.2.1.105.1.1.1`;
      const enabled = port.power.switchedOff ? 2 : 1;
      if (turn) write.settableInteger(`${power}.3.1.${at}`, enabled, [1, 2], (value) => turn({ power: value === 1 }));
      else write.integer(`${power}.3.1.${at}`, enabled);
      write.integer(`${power}.6.1.${at}`, port.power.status);
      write.integer(`${power}.10.1.${at}`, port.power.classification);
    }
    if (device.powerBudget !== undefined && port.ifType === 6) {
      const own = `1.3.6.1.4.1.${makers[device.maker].enterprise}.4.1`;
      write.integer(`${own}.2.${at}`, port.cutOff ?? 1);
      if (port.power)
        write.gauge(
          `${own}.3.${at}`,
          port.power.status === 3 ? (wattsOfClass[port.power.classification] ?? 0) * 10 : 0,
        );
    }
    if (port.aggregate) write.integer(`1.2.840.10006.300.43.1.2.1.1.13.${at}`, port.aggregate);
  }
}

/** Types of IANA-MAU-MIB for the sockets of the sample: copper up to 1 Gbit/s, long-reach fibre at 10. */
function mauTypeOf(speedMbps: number, duplex: 'full' | 'half'): number | undefined {
  const full: Record<number, number> = { 10: 11, 100: 16, 1000: 30, 10_000: 35 };
  const half: Record<number, number> = { 10: 10, 100: 15, 1000: 29 };
  return (duplex === 'full' ? full : half)[speedMbps];
}

function entities(write: ObjectWriter, device: SimDevice): void {
  const base = '1.3.6.1.2.1.47.1.1.1.1';
  for (const part of device.modules) {
    const at = part.index;
    write.text(`${base}.2.${at}`, part.description);
    write.objectId(`${base}.3.${at}`, '0.0');
    write.integer(`${base}.4.${at}`, part.parent);
    write.integer(`${base}.5.${at}`, part.class);
    write.integer(`${base}.6.${at}`, part.position);
    write.text(`${base}.7.${at}`, part.name);
    write.text(`${base}.8.${at}`, part.hardware);
    write.text(`${base}.9.${at}`, part.firmware);
    write.text(`${base}.10.${at}`, part.software);
    write.text(`${base}.11.${at}`, part.serial);
    write.text(`${base}.12.${at}`, part.model ? device.maker : '');
    write.text(`${base}.13.${at}`, part.model);
    write.integer(`${base}.16.${at}`, part.replaceable ? 1 : 2);
    if (part.socket !== undefined)
      write.objectId(`1.3.6.1.2.1.47.1.3.2.1.2.${at}.0`, `1.3.6.1.2.1.2.2.1.1.${part.socket}`);
  }
}

const network = (address: string) => address.slice(0, address.lastIndexOf('.'));

function addressTables(write: ObjectWriter, device: SimDevice, estate: SimEstate): void {
  for (const port of device.ports) {
    for (const { address, length } of port.addresses) {
      write.address(`1.3.6.1.2.1.4.20.1.1.${address}`, address);
      write.integer(`1.3.6.1.2.1.4.20.1.2.${address}`, port.index);
      write.address(
        `1.3.6.1.2.1.4.20.1.3.${address}`,
        length === 8 ? '255.0.0.0' : length === 28 ? '255.255.255.240' : '255.255.255.0',
      );
    }
  }
  if (!device.name.includes('core')) return;
  const machines = [
    ...estate.guests.map(({ address, mac }) => ({ address, mac })),
    ...estate.devices.map(({ address, mac, ports }) => ({
      address,
      mac: ports.find(({ addresses }) => addresses.some((own) => own.address === address))?.mac || mac,
    })),
  ];
  // of two machines with one address, each of a pair of gateways knows another
  const known = new Map(
    device.name.endsWith('2')
      ? machines.map((machine) => [machine.address, machine])
      : [...machines].reverse().map((machine) => [machine.address, machine]),
  );
  for (const port of device.ports) {
    for (const { address: gateway } of port.addresses) {
      for (const { address, mac } of known.values()) {
        if (!address || address === gateway || network(address) !== network(gateway)) continue;
        write.integer(`1.3.6.1.2.1.4.22.1.1.${port.index}.${address}`, port.index);
        write.text(`1.3.6.1.2.1.4.22.1.2.${port.index}.${address}`, macOctets(mac));
        write.address(`1.3.6.1.2.1.4.22.1.3.${port.index}.${address}`, address);
        write.integer(`1.3.6.1.2.1.4.22.1.4.${port.index}.${address}`, 3);
      }
    }
  }
}

function bridging(
  write: ObjectWriter,
  device: SimDevice,
  learned: Learned[],
  { self, root, rootPort, designated }: TreeAtBridge,
): void {
  const bridged = device.ports.filter(({ bridged: takesPart, aggregate }) => takesPart && !aggregate);
  const bridgePort = bridgePortNumbers(device);
  write.text('1.3.6.1.2.1.17.1.1.0', macOctets(device.mac));
  write.integer('1.3.6.1.2.1.17.1.2.0', bridged.length);
  write.text('1.3.6.1.2.1.17.2.5.0', root);
  write.integer('1.3.6.1.2.1.17.2.7.0', rootPort === null ? 0 : (bridgePort.get(rootPort) ?? 0));
  for (const port of bridged) {
    const at = bridgePort.get(port.name) ?? 0;
    write.integer(`1.3.6.1.2.1.17.1.4.1.1.${at}`, at);
    write.integer(`1.3.6.1.2.1.17.1.4.1.2.${at}`, port.index);
    write.integer(`1.3.6.1.2.1.17.2.15.1.3.${at}`, port.oper !== 'up' ? 1 : port.blocked ? 2 : 5);
    const speaks = designated.get(port.name) ?? { bridge: self, port: at };
    write.text(`1.3.6.1.2.1.17.2.15.1.8.${at}`, speaks.bridge);
    // four bits of priority, twelve of the port’s number (IEEE 802.1D)
    write.text(`1.3.6.1.2.1.17.2.15.1.9.${at}`, Buffer.from([0x80 | (speaks.port >> 8), speaks.port & 255]));
    write.gauge(`1.3.6.1.2.1.17.7.1.4.5.1.1.${at}`, port.pvid);
  }
  const octets = Math.ceil(bridged.length / 8);
  for (const [vlanText, name] of Object.entries(vlanNames)) {
    const vlan = Number(vlanText);
    const egress = Buffer.alloc(octets);
    const untagged = Buffer.alloc(octets);
    for (const port of bridged) {
      const bit = (bridgePort.get(port.name) ?? 1) - 1;
      const mask = 0x80 >> (bit % 8);
      const octet = Math.floor(bit / 8);
      if (port.pvid === vlan || port.tagged.includes(vlan)) egress[octet] = (egress[octet] ?? 0) | mask;
      if (port.pvid === vlan) untagged[octet] = (untagged[octet] ?? 0) | mask;
    }
    write.gauge(`1.3.6.1.2.1.17.7.1.4.2.1.3.0.${vlan}`, fdbOf(vlan));
    write.text(`1.3.6.1.2.1.17.7.1.4.2.1.4.0.${vlan}`, egress);
    write.text(`1.3.6.1.2.1.17.7.1.4.2.1.5.0.${vlan}`, untagged);
    write.text(`1.3.6.1.2.1.17.7.1.4.3.1.1.${vlan}`, name);
  }
  const written = new Set<string>();
  for (const { mac, vlan, port } of learned) {
    const at = bridgePort.get(port);
    const key = `${fdbOf(vlan)}.${macIndex(mac)}`;
    if (!at || written.has(key)) continue;
    written.add(key);
    write.gauge(`1.3.6.1.2.1.17.7.1.2.2.1.2.${key}`, at);
    write.integer(`1.3.6.1.2.1.17.7.1.2.2.1.3.${key}`, 3);
  }
}

const capabilityOctet = { bridge: 0x20, router: 0x08, accessPoint: 0x10, phone: 0x04 };

function neighbours(write: ObjectWriter, device: SimDevice, estate: SimEstate): void {
  const base = '1.0.8802.1.1.2.1';
  write.integer(`${base}.3.1.0`, 4);
  write.text(`${base}.3.2.0`, macOctets(device.mac));
  write.text(`${base}.3.3.0`, device.name);
  const sockets = device.ports.filter(({ ifType }) => ifType === 6);
  // LLDP numbers ports in a row, which is not ifIndex
  sockets.forEach((port, at) => {
    write.integer(`${base}.3.7.1.2.${at + 1}`, 5);
    write.text(`${base}.3.7.1.3.${at + 1}`, port.name);
    write.text(`${base}.3.7.1.4.${at + 1}`, port.description);
  });
  mediaPolicies(write, sockets);
  let row = 0;
  const hear = (
    localPort: string,
    chassis: Buffer,
    portSubtype: number,
    portId: string | Buffer,
    portDescription: string,
    name: string,
    description: string,
    capability: number,
    management: string | null,
  ) => {
    const local = sockets.findIndex((port) => port.name === localPort) + 1;
    if (!local) return;
    const key = `0.${local}.${++row}`;
    write.integer(`${base}.4.1.1.4.${key}`, 4);
    write.text(`${base}.4.1.1.5.${key}`, chassis);
    write.integer(`${base}.4.1.1.6.${key}`, portSubtype);
    write.text(`${base}.4.1.1.7.${key}`, portId);
    write.text(`${base}.4.1.1.8.${key}`, portDescription);
    write.text(`${base}.4.1.1.9.${key}`, name);
    write.text(`${base}.4.1.1.10.${key}`, description);
    write.text(`${base}.4.1.1.11.${key}`, Buffer.from([capability]));
    write.text(`${base}.4.1.1.12.${key}`, Buffer.from([capability]));
    if (management) write.integer(`${base}.4.2.1.3.${key}.1.4.${management}`, 2);
  };
  for (const cable of estate.cables) {
    for (const [here, there] of ends(cable)) {
      if (here.device !== device.name) continue;
      const other = estate.devices.find(({ name }) => name === there.device);
      const otherPort = other?.ports.find(({ name }) => name === there.port);
      const ownPort = device.ports.find(({ name }) => name === here.port);
      if (cable.deaf === device.name || !other?.lldp || !otherPort || ownPort?.oper !== 'up' || otherPort.oper !== 'up')
        continue;
      const capability =
        other.maker === 'Tessaly'
          ? capabilityOctet.accessPoint
          : (other.bridge ? capabilityOctet.bridge : 0) | (other.services & 4 ? capabilityOctet.router : 0);
      hear(
        here.port,
        macOctets(other.mac),
        5,
        otherPort.name,
        otherPort.description,
        other.name,
        other.description,
        capability,
        other.address,
      );
    }
  }
  for (const phone of estate.guests.filter(
    (candidate: Guest) => candidate.lldp === 'phone' && candidate.device === device.name,
  )) {
    hear(
      phone.port,
      macOctets(phone.mac),
      3,
      macOctets(phone.mac),
      'lan',
      phone.name,
      'Calivex desk phone P2',
      capabilityOctet.phone | capabilityOctet.bridge,
      phone.address,
    );
  }
}

/** What a port offers to phones (ANSI/TIA-1057): wherever a phone may be plugged in, voice in its VLAN, tagged. */
function mediaPolicies(write: ObjectWriter, sockets: SimDevice['ports']): void {
  const base = '1.0.8802.1.1.2.1.5.4795.1.2.1.1';
  sockets.forEach((port, at) => {
    if (port.pvid === voiceVlan || !port.tagged.includes(voiceVlan) || port.tagged.length > 1) return;
    for (const [column, value] of [
      [2, voiceVlan],
      [3, 5],
      [4, 46],
      [5, 2],
      [6, 1],
    ] as const)
      write.integer(`${base}.${column}.${at + 1}.1`, value);
  });
}

const voiceVlan = 50;
const ends = ({ a, b }: Cable) =>
  [
    [a, b],
    [b, a],
  ] as const;

function host(
  write: ObjectWriter,
  { memoryMB, storage, processors }: NonNullable<SimDevice['host']>,
  clockAheadSeconds: number,
): void {
  write.changing('1.3.6.1.2.1.25.1.2.0', () =>
    ber.octets(dateAndTimeOctets(new Date(Date.now() + clockAheadSeconds * 1000), true)),
  );
  write.integer('1.3.6.1.2.1.25.2.2.0', memoryMB * 1024);
  storage.forEach(({ name, type, megabytes, usedMB }, at) => {
    const base = '1.3.6.1.2.1.25.2.3.1';
    write.integer(`${base}.1.${at + 1}`, at + 1);
    write.objectId(`${base}.2.${at + 1}`, `1.3.6.1.2.1.25.2.1.${type}`);
    write.text(`${base}.3.${at + 1}`, name);
    write.integer(`${base}.4.${at + 1}`, 4096);
    write.integer(`${base}.5.${at + 1}`, megabytes * 256);
    write.integer(`${base}.6.${at + 1}`, usedMB * 256);
  });
  processors.forEach((description, at) => {
    write.objectId(`1.3.6.1.2.1.25.3.2.1.2.${768 + at}`, '1.3.6.1.2.1.25.3.1.3');
    write.text(`1.3.6.1.2.1.25.3.2.1.3.${768 + at}`, description);
  });
}
