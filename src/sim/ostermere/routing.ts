import { macFor } from './parts';
import { nets, southStops, transit } from './sites';
import type { SimDevice } from './model';

/** Which networks are at home at each centre; the other learns them. */
const atHome = {
  sgh: [0, 1, nets.signalHouse, 3, 4, 5, 6, 17],
  qdp: [nets.quarry, nets.harbour, ...southStops.map(({ net }) => net)],
};

const local = 2;
const netmgmt = 3;
const ospf = 13;
const established = 6;
const active = 3;
const full = 8;

/** Networks of a centre over the core of the other that has the same number. */
const learnedFrom = (centre: 'sgh' | 'qdp', at: number, port: number) =>
  atHome[centre].map((net) => ({
    network: `10.72.${net}.0`,
    length: 24,
    nextHop: transit.of(centre, at),
    port,
    protocol: ospf,
  }));

/** Routes and routing neighbours of the cores and edges; sgh-edge-1 keeps a virtual router of its own for the ticketing lines. */
export function applyRouting(device: SimDevice): void {
  const gateways = device.ports.flatMap(({ index, addresses }) =>
    addresses.map(({ address, length }) => ({ index, address, length })),
  );
  const connected = gateways.map(({ index, address, length }) => ({
    network: `${address.split('.').slice(0, 3).join('.')}.0`,
    length,
    nextHop: null,
    port: index,
    protocol: local,
  }));
  const core = /^sgh-core-([12])$/.exec(device.name)?.[1];
  if (core) {
    const other = core === '1' ? '2' : '1';
    const over = gateways.find(({ address }) => address === transit.of('sgh', Number(core)))?.index ?? 0;
    device.routes = [
      ...connected,
      ...learnedFrom('qdp', Number(core), over),
      {
        network: '0.0.0.0',
        length: 0,
        nextHop: `10.72.0.${4 + Number(core)}`,
        port: gateways[0]?.index ?? 0,
        protocol: netmgmt,
      },
    ];
    device.peers = {
      bgp: [],
      ospf: [
        { address: `10.72.0.${other}`, routerId: `10.72.0.${other}`, state: full },
        { address: `10.72.0.${4 + Number(core)}`, routerId: `10.72.0.${4 + Number(core)}`, state: full },
      ],
    };
  }
  // whatever is managed asks one address, whichever of the cores has it
  if (core)
    device.standby = [
      {
        port: gateways[0]?.index ?? 0,
        group: 10,
        address: '10.72.0.254',
        isMaster: core === '1',
        priority: core === '1' ? 200 : 100,
      },
    ];
  const far = /^qdp-core-([12])$/.exec(device.name)?.[1];
  if (far) {
    const over = gateways.find(({ address }) => address === transit.of('qdp', Number(far)))?.index ?? 0;
    device.routes = [
      ...connected,
      ...learnedFrom('sgh', Number(far), over),
      { network: '0.0.0.0', length: 0, nextHop: transit.of('sgh', Number(far)), port: over, protocol: ospf },
    ];
    device.peers = {
      bgp: [],
      ospf: [{ address: transit.of('sgh', Number(far)), routerId: `10.72.0.${far}`, state: full }],
    };
  }
  const edge = /^sgh-edge-([12])$/.exec(device.name)?.[1];
  if (edge) {
    const other = edge === '1' ? '2' : '1';
    device.routes = [
      ...connected,
      { network: '10.72.0.0', length: 16, nextHop: `10.72.0.${edge}`, port: 1, protocol: ospf },
      { network: '0.0.0.0', length: 0, nextHop: `10.72.250.${edge}`, port: 8, protocol: 14 },
    ];
    device.peers = {
      localAs: 64_701,
      bgp: [
        {
          address: `10.72.0.${4 + Number(other)}`,
          identifier: `10.72.0.${4 + Number(other)}`,
          localAddress: device.address,
          remoteAs: 64_701,
          state: established,
        },
        {
          address: `10.72.250.${edge}`,
          identifier: edge === '1' ? '10.72.250.1' : '0.0.0.0',
          localAddress: device.address,
          remoteAs: 64_690,
          state: edge === '1' ? established : active,
        },
      ],
      ospf: [{ address: `10.72.0.${edge}`, routerId: `10.72.0.${edge}`, state: full }],
    };
    if (edge === '1')
      device.contexts = [
        {
          name: 'ticketing',
          addresses: [{ address: '10.72.90.1', length: 30, port: 5 }],
          neighbours: [{ address: '10.72.90.2', mac: macFor('Orrery', 'payment gateway line'), port: 5 }],
        },
      ];
  }
}
