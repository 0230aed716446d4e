import { type Near, term } from '../near';
import { thing } from '../thing';

export const routes = thing('routes', {
  title: 'Routes',
  singular: 'route',
  order: 'device',
  changeWord: 'route',
  belongsTo: 'device',
  isSited: true,
  question: 'connected',
  hint: 'a destination; learned by protocol=static',
  pictures: ['protocol', 'vrf', 'device'],
  fields: [
    ['device', 'text', 'Device', 'Place', 140, 's'],
    ['site', 'text', 'Site', 'Place', 60],
    ['destination', 'text', 'Destination', 'Route', 160, 's'],
    ['nextHop', 'address', 'Next hop', 'Route', 140, 'sc'],
    ['port', 'text', 'Port', 'Route', 100, 'sc'],
    ['protocol', 'text', 'Learned by', 'Route', 100, 'sc'],
    ['vrf', 'text', 'Virtual router', 'Route', 110, 's'],
  ],
  script: ['device', 'destination', 'nextHop', 'port', 'protocol', 'vrf'],
  words: ({ text }) =>
    [text('destination'), text('nextHop') && `by ${text('nextHop')}`, text('device') && `on ${text('device')}`]
      .filter(Boolean)
      .join(' '),
  near: ({ row, has, elsewhere }) => [
    ['the same destination elsewhere', 'routes', elsewhere('destination')],
    ...(has('nextHop') ? [['whose address the next hop is', 'addresses', term('address', row.nextHop)] as Near] : []),
  ],
});
