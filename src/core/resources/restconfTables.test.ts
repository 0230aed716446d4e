import { expect, test } from '@jest/globals';
import { alarmsOfModel, bridgeOfModel, routesOfModel } from './restconfTables';

const numbers = new Map([
  ['U1', 1],
  ['U2', 2],
]);

test('ietf-routing (RFC 8349): one row a way, local networks without a next hop', () => {
  expect(
    routesOfModel(
      {
        ribs: {
          rib: [
            {
              name: 'main',
              routes: {
                route: [
                  {
                    'ietf-ipv4-unicast-routing:destination-prefix': '0.0.0.0/0',
                    'source-protocol': 'ietf-routing:static',
                    'next-hop': {
                      'outgoing-interface': 'U1',
                      'ietf-ipv4-unicast-routing:next-hop-address': '10.72.0.1',
                    },
                  },
                  {
                    'ietf-ipv4-unicast-routing:destination-prefix': '10.72.4.0/24',
                    'source-protocol': 'ietf-routing:direct',
                    'next-hop': { 'outgoing-interface': 'U2' },
                  },
                  {
                    'ietf-ipv4-unicast-routing:destination-prefix': '10.72.9.0/24',
                    'source-protocol': 'ietf-routing:static',
                    'next-hop': { 'special-next-hop': 'blackhole' },
                  },
                  { 'source-protocol': 'ietf-routing:static', 'next-hop': { 'outgoing-interface': 'U2' } },
                ],
              },
            },
          ],
        },
      },
      numbers,
    ),
  ).toEqual([
    { destination: '0.0.0.0/0', nextHop: '10.72.0.1', ifIndex: 1, protocol: 'static' },
    { destination: '10.72.4.0/24', nextHop: null, ifIndex: 2, protocol: 'local' },
  ]);
});

test('ietf-alarms (RFC 8632): what is cleared is none, and the last key says what it is about', () => {
  expect(
    alarmsOfModel({
      'alarm-list': {
        alarm: [
          {
            resource: "/ietf-interfaces:interfaces/interface[name='U2']",
            'alarm-text': 'loss of signal',
            'last-raised': '2026-05-04T03:02:01Z',
            'is-cleared': false,
          },
          { resource: 'fan', 'alarm-type-id': 'kestrane:fan-failed', 'is-cleared': true },
        ],
      },
    }),
  ).toEqual([{ resource: 'U2', words: 'loss of signal', since: '2026-05-04T03:02:01.000Z' }]);
});

test('ieee802-dot1q-bridge: VLANs by the names of their ports, PVIDs by interface, machines by port', () => {
  expect(
    bridgeOfModel(
      {
        bridge: [
          {
            address: '02-00-00-00-00-01',
            component: [
              {
                'bridge-vlan': {
                  vlan: [
                    { vid: 20, name: 'cctv', 'egress-ports': ['U2'] },
                    { vid: 10, name: 'ops', 'egress-ports': ['U2'], 'untagged-ports': ['U1'] },
                    { vid: 4095, name: 'none' },
                  ],
                },
                'filtering-database': {
                  'filtering-entry': [
                    { address: '02-00-00-00-09-01', vids: '10', 'port-map': [{ 'port-ref': 7 }] },
                    { address: '02-00-00-00-09-02', vids: '10', 'port-map': [{ 'port-ref': 7 }, { 'port-ref': 8 }] },
                    { address: '01-80-C2-00-00-0E', vids: '10', 'port-map': [{ 'port-ref': 7 }] },
                  ],
                },
              },
            ],
          },
        ],
      },
      [
        { name: 'U1', 'ieee802-dot1q-bridge:bridge-port': { pvid: 10, 'port-number': 7 } },
        { name: 'U2', 'ieee802-dot1q-bridge:bridge-port': { pvid: 1, 'port-number': 8 } },
      ],
      numbers,
    ),
  ).toEqual({
    address: '02:00:00:00:00:01',
    ifIndexByBridgePort: new Map([
      [1, 1],
      [2, 2],
    ]),
    forwarding: [{ mac: '02:00:00:00:09:01', bridgePort: 1, vlan: 10 }],
    vlans: [
      { vlan: 10, name: 'ops', egressBridgePorts: [2, 1], untaggedBridgePorts: [1] },
      { vlan: 20, name: 'cctv', egressBridgePorts: [2], untaggedBridgePorts: [] },
    ],
    pvid: new Map([
      [1, 10],
      [2, 1],
    ]),
    stp: { root: null, rootBridgePort: null, ports: [] },
  });
  expect(bridgeOfModel(null, [], numbers)).toBeNull();
});
