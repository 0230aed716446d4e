import { term } from '../near';
import { thing } from '../thing';

export const networks = thing('networks', {
  title: 'Networks',
  singular: 'network',
  order: 'network',
  question: 'connected',
  hint: 'a network; vrf={vrf}',
  pictures: [],
  fields: [
    ['network', 'text', 'Network', 'Identity', 160, 's'],
    ['family', 'text', 'Family', 'Identity', 70],
    ['vrf', 'text', 'Virtual router', 'Identity', 110, 's'],
    ['knownAddresses', 'number', 'Known addresses', 'Reach', 120, 'sa'],
    ['devices', 'text', 'Devices in it', 'Reach', 320, 'scl'],
    ['ports', 'text', 'On ports', 'Reach', 320, 'l'],
  ],
  script: ['network', 'vrf', 'devices', 'ports', 'knownAddresses'],
  foundBy: [{ field: 'network' }],
  words: ({ text }) => [text('network'), text('vrf') && `in ${text('vrf')}`].filter(Boolean).join(' '),
  near: ({ row, text }) => [
    ['addresses of devices in it', 'addresses', `address:${text('network')}`],
    ['endpoints in it', 'endpoints', `addresses:${text('network')}`],
    ['routes to it', 'routes', term('destination', row.network)],
  ],
});
