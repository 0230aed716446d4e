import { type Near, term } from '../near';
import { thing } from '../thing';

export const wlans = thing('wlans', {
  title: 'Wireless networks',
  singular: 'wireless network',
  order: 'name',
  changeWord: 'wlan',
  belongsTo: 'device',
  isSited: true,
  question: 'connected',
  hint: 'a name; vlan={vlan}',
  pictures: [],
  fields: [
    ['name', 'text', 'Name', 'Identity', 160, 's'],
    ['security', 'text', 'Security', 'Identity', 140, 'sc'],
    ['vlan', 'number', 'VLAN', 'Identity', 70, 'sc'],
    ['enabled', 'boolean', 'On air', 'State', 70, 'sc'],
    ['accessPoints', 'number', 'Access points', 'Reach', 110, 'sa'],
    ['clients', 'number', 'Clients', 'Reach', 80, 'sa'],
    ['device', 'text', 'Controller', 'Place', 140, 's'],
    ['site', 'text', 'Site', 'Place', 60],
  ],
  script: ['name', 'security', 'vlan', 'enabled', 'accessPoints', 'clients', 'device'],
  foundBy: [{ field: 'name', loosely: true }],
  words: ({ text }) => [text('name'), text('security')].filter(Boolean).join(', '),
  near: ({ row, text }) => [
    ['access points', 'devices', 'role=access-point'],
    ...(row.vlan === null
      ? []
      : ([
          [`VLAN ${text('vlan')}`, 'vlans', term('vlan', row.vlan)],
          ['machines by radio', 'endpoints', `${term('vlan', row.vlan)} via=wireless`],
        ] as Near[])),
  ],
});
