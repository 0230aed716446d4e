import fc from 'fast-check';
import { ObjectTree, ObjectWriter } from '../../src/sim/snmp/objects';
import type { Disturbance } from './disturbedAgent';
import { countIn, element, kindOf, namesIn, withVariables } from './snmpMessages';

/** Switches as they come: numbered this way or that, with tables missing, and answers bent. What is so of them is known. */
export interface OddOptions {
  ports: number;
  /** ifIndex of the first port */
  firstIndex: number;
  /** bridge port of the first port */
  firstBridgePort: number;
  names: 'ifName' | 'description' | 'all alike';
  /** rows of dot1dBasePortTable */
  mapsBridgePorts: boolean;
  forwarding: 'q-bridge' | 'bridge' | 'both' | 'ieee';
  lldp: 'by bridge port' | 'by ifIndex' | 'version 2' | 'none';
  /** what the ports call themselves by LLDP */
  localPorts: 'named' | 'one MAC' | 'missing';
  addresses: 'newer' | 'older';
  neighbours: 'newer' | 'older' | 'both';
  speeds: 'both' | 'ifSpeed alone' | 'saturated';
  bend: (typeof bends)[number];
}

const bends = [
  'none',
  'drops what is wide',
  'drops GETBULK',
  'drops foreign roots',
  'tooBig',
  'genErr to GETBULK',
  'cuts GET short',
  'extra variables',
  'goes back',
  'stops answering',
] as const;
/** Bends after which nothing may be missing: the agent keeps the standard, or is asked in a way that it answers. */
export const harmless = new Set<OddOptions['bend']>([
  'none',
  'drops what is wide',
  'drops GETBULK',
  'tooBig',
  'genErr to GETBULK',
  'cuts GET short',
]);

export const anyOddAgent: fc.Arbitrary<OddOptions> = fc.record({
  ports: fc.integer({ min: 2, max: 7 }),
  firstIndex: fc.constantFrom(1, 101, 10_101),
  firstBridgePort: fc.constantFrom(1, 21),
  names: fc.constantFrom('ifName', 'description', 'all alike'),
  mapsBridgePorts: fc.boolean(),
  forwarding: fc.constantFrom('q-bridge', 'bridge', 'both', 'ieee'),
  lldp: fc.constantFrom('by bridge port', 'by ifIndex', 'version 2', 'none'),
  localPorts: fc.constantFrom('named', 'one MAC', 'missing'),
  addresses: fc.constantFrom('newer', 'older'),
  neighbours: fc.constantFrom('newer', 'older', 'both'),
  speeds: fc.constantFrom('both', 'ifSpeed alone', 'saturated'),
  bend: fc.constantFrom(...bends),
});

export interface OddTruth {
  ports: { ifIndex: number; name: string; speedBps: number | null }[];
  /** which machine is heard where, in which VLAN */
  machines: { mac: string; port: string; bridgePort: number; vlan: number }[];
  neighbours: { port: string; chassisId: string; portId: string }[];
  addresses: { address: string; prefixLength: number }[];
  /** who has which address */
  heard: { mac: string; address: string }[];
}

const macOf = (...last: number[]) => [2, 0, 0, 0, ...last];
const written = (octets: number[]) => octets.map((octet) => octet.toString(16).padStart(2, '0')).join(':');
const bitmap = (ports: number[]): Buffer => {
  const octets = Buffer.alloc(Math.ceil(Math.max(8, ...ports) / 8));
  for (const port of ports) octets[(port - 1) >> 3] = (octets[(port - 1) >> 3] ?? 0) | (0x80 >> ((port - 1) & 7));
  return octets;
};
const gigabit = 1_000_000_000;

/** What is so, and the objects in which the agent tells it. The names of objects stand as numbers: nothing of the reader is used. */
export function oddAgent(options: OddOptions): { truth: OddTruth; tree: ObjectTree; bend: Disturbance } {
  const tell = new ObjectWriter();
  const truth: OddTruth = { ports: [], machines: [], neighbours: [], addresses: [], heard: [] };
  tellSystem(tell);
  const ports = Array.from({ length: options.ports }, (_, at) => ({
    at,
    ifIndex: options.firstIndex + at,
    bridgePort: options.firstBridgePort + at,
    own: options.names === 'all alike' ? 'port' : `U${at + 1}`,
    vlan: 10 + (at % 2),
  }));
  const nameOf = ({ own, ifIndex }: (typeof ports)[number]) =>
    options.names === 'all alike' ? `${own} #${ifIndex}` : own;
  for (const port of ports) {
    const { ifIndex, own } = port;
    tell.text(`1.3.6.1.2.1.2.2.1.2.${ifIndex}`, own);
    tell.integer(`1.3.6.1.2.1.2.2.1.3.${ifIndex}`, 6);
    tell.gauge(`1.3.6.1.2.1.2.2.1.5.${ifIndex}`, options.speeds === 'saturated' ? 4_294_967_295 : gigabit);
    tell.integer(`1.3.6.1.2.1.2.2.1.7.${ifIndex}`, 1);
    tell.integer(`1.3.6.1.2.1.2.2.1.8.${ifIndex}`, 1);
    if (options.names !== 'description') tell.text(`1.3.6.1.2.1.31.1.1.1.1.${ifIndex}`, own);
    if (options.speeds === 'both') tell.gauge(`1.3.6.1.2.1.31.1.1.1.15.${ifIndex}`, 1000);
    truth.ports.push({
      ifIndex,
      name: nameOf(port),
      speedBps: options.speeds === 'saturated' ? null : gigabit,
    });
  }
  tellBridge(tell, options, ports);
  for (const port of ports)
    truth.machines.push({
      mac: written(macOf(9, port.at)),
      port: nameOf(port),
      bridgePort: port.bridgePort,
      vlan: port.vlan,
    });
  if (options.lldp !== 'none') {
    tellLldp(tell, options, ports);
    for (const port of ports.slice(0, 2))
      truth.neighbours.push({ port: nameOf(port), chassisId: written(macOf(8, port.at)), portId: `A${port.at}` });
  }
  tellAddresses(tell, options, ports[0]?.ifIndex ?? 1, truth);
  return { truth, tree: new ObjectTree(tell.instances), bend: bendOf(options.bend) };
}

interface OddPort {
  at: number;
  ifIndex: number;
  bridgePort: number;
  own: string;
  vlan: number;
}

function tellSystem(tell: ObjectWriter): void {
  tell.text('1.3.6.1.2.1.1.1.0', 'a switch for tests');
  tell.objectId('1.3.6.1.2.1.1.2.0', '1.3.6.1.4.1.59199.7');
  tell.ticks('1.3.6.1.2.1.1.3.0', 100_000);
  tell.text('1.3.6.1.2.1.1.5.0', 'odd-one');
  tell.integer('1.3.6.1.2.1.1.7.0', 2);
}

function tellBridge(tell: ObjectWriter, { mapsBridgePorts, forwarding }: OddOptions, ports: OddPort[]): void {
  const isIeee = forwarding === 'ieee';
  const ieee = '1.3.111.2.802.1.1';
  if (isIeee) tell.text(`${ieee}.2.1.1.1.1.2.1`, Buffer.from(macOf(0, 1)));
  else tell.text('1.3.6.1.2.1.17.1.1.0', Buffer.from(macOf(0, 1)));
  if (mapsBridgePorts)
    for (const { bridgePort, ifIndex } of ports)
      tell.integer(isIeee ? `${ieee}.2.1.1.4.1.3.1.${bridgePort}` : `1.3.6.1.2.1.17.1.4.1.2.${bridgePort}`, ifIndex);
  for (const vlan of [10, 11]) {
    const members = bitmap(ports.filter((port) => port.vlan === vlan).map(({ bridgePort }) => bridgePort));
    const [current, index, shift] = isIeee
      ? [`${ieee}.4.1.4.2.1`, `0.1.${vlan}`, 1]
      : ['1.3.6.1.2.1.17.7.1.4.2.1', `0.${vlan}`, 0];
    if (forwarding === 'bridge') continue;
    tell.gauge(`${current}.${3 + shift}.${index}`, vlan + 100);
    tell.text(`${current}.${4 + shift}.${index}`, members);
    tell.text(`${current}.${5 + shift}.${index}`, members);
  }
  for (const { at, bridgePort, vlan } of ports) {
    const mac = macOf(9, at).join('.');
    const row = (entry: string, index: string) => {
      tell.integer(`${entry}.2.${index}`, bridgePort);
      tell.integer(`${entry}.3.${index}`, 3);
    };
    if (isIeee) row(`${ieee}.4.1.2.2.1`, `1.${vlan + 100}.${mac}`);
    if (forwarding === 'q-bridge' || forwarding === 'both') row('1.3.6.1.2.1.17.7.1.2.2.1', `${vlan + 100}.${mac}`);
    if (forwarding === 'bridge' || forwarding === 'both') row('1.3.6.1.2.1.17.4.3.1', mac);
  }
}

function tellLldp(tell: ObjectWriter, { lldp, localPorts }: OddOptions, ports: OddPort[]): void {
  const isSecond = lldp === 'version 2';
  const root = isSecond ? '1.3.111.2.802.1.1.13.1' : '1.0.8802.1.1.2.1';
  const shift = isSecond ? 1 : 0;
  const numberOf = ({ bridgePort, ifIndex }: OddPort) => (lldp === 'by bridge port' ? bridgePort : ifIndex);
  tell.integer(`${root}.3.1.0`, 4);
  tell.text(`${root}.3.2.0`, Buffer.from(macOf(0, 1)));
  if (localPorts !== 'missing')
    for (const port of ports) {
      const number = numberOf(port);
      tell.integer(`${root}.3.7.1.2.${number}`, localPorts === 'named' ? 5 : 3);
      tell.text(`${root}.3.7.1.3.${number}`, localPorts === 'named' ? port.own : Buffer.from(macOf(0, 1)));
      tell.text(`${root}.3.7.1.4.${number}`, localPorts === 'named' ? port.own : 'Ethernet port');
    }
  for (const port of ports.slice(0, 2)) {
    const index = `0.${numberOf(port)}.${isSecond ? '1.' : ''}1`;
    tell.integer(`${root}.4.1.1.${4 + shift}.${index}`, 4);
    tell.text(`${root}.4.1.1.${5 + shift}.${index}`, Buffer.from(macOf(8, port.at)));
    tell.integer(`${root}.4.1.1.${6 + shift}.${index}`, 5);
    tell.text(`${root}.4.1.1.${7 + shift}.${index}`, `A${port.at}`);
    tell.text(`${root}.4.1.1.${9 + shift}.${index}`, `neighbour-${port.at}`);
  }
}

function tellAddresses(
  tell: ObjectWriter,
  { addresses, neighbours }: OddOptions,
  ifIndex: number,
  truth: OddTruth,
): void {
  const own = '10.72.4.9';
  if (addresses === 'newer') {
    tell.integer(`1.3.6.1.2.1.4.34.1.3.1.4.${own}`, ifIndex);
    tell.integer(`1.3.6.1.2.1.4.34.1.4.1.4.${own}`, 1);
    tell.objectId(`1.3.6.1.2.1.4.34.1.5.1.4.${own}`, `1.3.6.1.2.1.4.32.1.5.${ifIndex}.1.4.10.72.4.0.24`);
    tell.integer(`1.3.6.1.2.1.4.34.1.7.1.4.${own}`, 1);
  } else {
    tell.integer(`1.3.6.1.2.1.4.20.1.2.${own}`, ifIndex);
    tell.address(`1.3.6.1.2.1.4.20.1.3.${own}`, '255.255.255.0');
  }
  truth.addresses.push({ address: own, prefixLength: 24 });
  for (const at of [1, 2, 3]) {
    const mac = macOf(9, at);
    const address = `10.72.4.${100 + at}`;
    // where both tables are there, each has some the other has not
    const [isNewer, isOlder] =
      neighbours === 'both' ? [at < 3, at > 1] : [neighbours === 'newer', neighbours === 'older'];
    if (isNewer) {
      tell.text(`1.3.6.1.2.1.4.35.1.4.${ifIndex}.1.4.${address}`, Buffer.from(mac));
      tell.integer(`1.3.6.1.2.1.4.35.1.6.${ifIndex}.1.4.${address}`, 3);
      tell.integer(`1.3.6.1.2.1.4.35.1.7.${ifIndex}.1.4.${address}`, 1);
    }
    if (isOlder) {
      tell.text(`1.3.6.1.2.1.4.22.1.2.${ifIndex}.${address}`, Buffer.from(mac));
      tell.integer(`1.3.6.1.2.1.4.22.1.4.${ifIndex}.${address}`, 3);
    }
    truth.heard.push({ mac: written(mac), address });
  }
}

const [get, getBulk] = [0xa0, 0xa5];
const [tooBig, genErr] = [1, 5];
const wide = 12;
const stopsAfter = 4;
const isForeign = (name: Buffer) => !name.subarray(0, 5).equals(Buffer.from([0x2b, 6, 1, 2, 1]));

function bendOf(bend: OddOptions['bend']): Disturbance {
  const plainly = (octets: Buffer) => [{ octets }];
  switch (bend) {
    case 'drops what is wide':
      return (octets, _, question) => (countIn(question) > wide ? [] : plainly(octets));
    case 'drops GETBULK':
      return (octets, _, question) => (kindOf(question) === getBulk ? [] : plainly(octets));
    case 'drops foreign roots':
      return (octets, _, question) =>
        namesIn(question).some((name) => isForeign(name) && !name.subarray(0, 4).equals(Buffer.from([0x2b, 6, 1, 6])))
          ? []
          : plainly(octets);
    case 'tooBig':
      return (octets) => plainly(octets.length > 500 ? withVariables(octets, () => [], [tooBig, 0]) : octets);
    case 'genErr to GETBULK':
      return (octets, _, question) =>
        plainly(kindOf(question) === getBulk ? withVariables(octets, () => [], [genErr, 0]) : octets);
    case 'cuts GET short':
      return (octets, _, question) =>
        plainly(kindOf(question) === get ? withVariables(octets, (all) => all.slice(0, 5)) : octets);
    case 'extra variables':
      return (octets, _, question) =>
        plainly(kindOf(question) === get ? octets : withVariables(octets, (all) => all.flatMap((one) => [one, one])));
    case 'goes back':
      return (octets, _, question) =>
        plainly(
          kindOf(question) === get
            ? octets
            : withVariables(octets, ([first, ...rest]) => [
                ...(first ? [first] : []),
                ...rest.map((one, at) =>
                  at === rest.length - 1
                    ? element(0x30, element(0x06, Buffer.from('2b06010201010100', 'hex')), Buffer.from([2, 1, 1]))
                    : one,
                ),
              ]),
        );
    case 'stops answering':
      return (octets, count) => (count > stopsAfter ? [] : plainly(octets));
    case 'none':
      return plainly;
  }
}
