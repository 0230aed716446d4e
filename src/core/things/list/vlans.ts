import { term } from '../near';
import { thing } from '../thing';

export const vlans = thing('vlans', {
  title: 'VLANs',
  singular: 'VLAN',
  order: 'vlan',
  question: 'connected',
  hint: 'a number or name',
  pictures: [],
  fields: [
    ['vlan', 'number', 'VLAN', 'Identity', 70, 's'],
    ['name', 'text', 'Name', 'Identity', 160, 'sc'],
    ['devices', 'text', 'On devices', 'Reach', 320, 'sl'],
    ['deviceCount', 'number', 'Devices', 'Reach', 80, 's'],
    ['untaggedPorts', 'number', 'Untagged ports', 'Reach', 110, 'sa'],
    ['taggedPorts', 'number', 'Tagged ports', 'Reach', 110, 'sa'],
  ],
  script: ['vlan', 'name', 'devices', 'deviceCount', 'untaggedPorts', 'taggedPorts'],
  foundBy: [
    { field: 'name', loosely: true },
    { field: 'vlan', write: (vlan) => `VLAN ${String(vlan)}` },
    { field: 'vlan' },
  ],
  words: ({ words }) => `VLAN ${words('vlan', 'name')}`,
  near: ({ row }) => [
    ['ports that carry it untagged', 'ports', term('vlan', row.vlan)],
    ['ports that carry it tagged', 'ports', term('taggedVlans', row.vlan)],
    ['endpoints in it', 'endpoints', term('vlan', row.vlan)],
    ['wireless networks in it', 'wlans', term('vlan', row.vlan)],
  ],
});
