import { term } from '../near';
import { thing } from '../thing';

export const addresses = thing('addresses', {
  title: 'Addresses',
  singular: 'address',
  order: 'address',
  changeWord: 'address',
  belongsTo: 'device',
  isSited: true,
  stepWord: 'address',
  question: 'connected',
  hint: 'an address or device; network: address:192.0.2.0/24',
  pictures: [],
  fields: [
    ['address', 'address', 'Address', 'Identity', 150, 's'],
    ['prefixLength', 'number', 'Length', 'Identity', 70, 'sc'],
    ['device', 'text', 'Device', 'Place', 140, 's'],
    ['site', 'text', 'Site', 'Place', 60],
    ['port', 'text', 'Port', 'Place', 90, 'sc'],
  ],
  script: ['address', 'prefixLength', 'device', 'port'],
  words: ({ text, words }) => [text('address'), words('device', 'port')].filter(Boolean).join(' on '),
  near: ({ row, text, here }) => [
    ['endpoints that use it', 'endpoints', term('addresses', row.address)],
    [`other addresses of ${text('device')}`, 'addresses', `${here} -${term('address', row.address)}`],
  ],
});
