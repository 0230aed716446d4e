import { digitsOf } from '../../values/mac';
import { type Near, term } from '../near';
import { thing } from '../thing';

export const endpoints = thing('endpoints', {
  title: 'Endpoints',
  singular: 'endpoint',
  order: 'mac',
  changeWord: 'endpoint',
  comparedBy: { device: 'deviceId' },
  formerly: { endpointGroup: 'fabricGroup' },
  belongsTo: 'device',
  isSited: true,
  question: 'connected',
  hint: 'a MAC, address or host; vlan={vlan}',
  pictures: ['vlan', 'maker', 'via'],
  fields: [
    ['mac', 'mac', 'MAC', 'Identity', 160, 's'],
    ['addresses', 'address', 'Addresses', 'Identity', 130, 'scl'],
    ['host', 'text', 'Host', 'Identity', 130, 's'],
    ['maker', 'text', 'Maker', 'Identity', 110, 's'],
    ['vlan', 'number', 'VLAN', 'Place', 60, 'sc'],
    ['device', 'text', 'On device', 'Place', 120, 'sc'],
    ['site', 'text', 'Site', 'Place', 60],
    ['port', 'text', 'Port', 'Place', 60, 'sc'],
    ['via', 'text', 'Via', 'Place', 90, 'scv'],
    ['basis', 'text', 'Known by', 'Place', 120, 'vo'],
    ['tenant', 'text', 'Tenant', 'Fabric', 100],
    ['fabricGroup', 'text', 'Group', 'Fabric', 120],
    ['outlet', 'text', 'Outlet', 'Place', 100],
    ['panel', 'text', 'Patch panel', 'Place', 100],
    ['room', 'text', 'Room', 'Place', 110],
    ['firstSeen', 'date', 'First seen', 'Time', 125, 's'],
    ['lastSeen', 'date', 'Last seen', 'Time', 125],
  ],
  script: ['mac', 'addresses', 'host', 'maker', 'vlan', 'device', 'port', 'via', 'firstSeen', 'lastSeen'],
  foundBy: [
    { field: 'host', loosely: true },
    { field: 'addresses' },
    { field: 'mac', write: (mac) => digitsOf(String(mac)) },
  ],
  isFoundLast: true,
  words: ({ text, words }) =>
    [text('host') || text('mac'), text('device') && `on ${words('device', 'port')}`].filter(Boolean).join(' '),
  near: ({ row, text, has, here }) => [
    ...(has('device', 'port')
      ? [['others at this port', 'endpoints', `${here} ${term('port', row.port)} -${term('mac', row.mac)}`] as Near]
      : []),
    ...(has('maker')
      ? [[`others by ${text('maker')}`, 'endpoints', `${term('maker', row.maker)} -${term('mac', row.mac)}`] as Near]
      : []),
    ...((row.addresses as string[])[0]
      ? [
          [
            'faults of its address',
            'faults',
            `subsystem=addresses ${term('part', (row.addresses as string[])[0])}`,
          ] as Near,
        ]
      : []),
    ['virtual machine with this MAC', 'machines', term('macs', row.mac)],
  ],
});
