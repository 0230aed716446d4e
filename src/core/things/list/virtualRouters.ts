import { term } from '../near';
import { thing } from '../thing';

export const virtualRouters = thing('virtualRouters', {
  title: 'Virtual routers',
  singular: 'virtual router',
  order: 'device',
  changeWord: 'virtualRouter',
  belongsTo: 'device',
  isSited: true,
  question: 'connected',
  hint: 'a device or address; state=master',
  pictures: ['state', 'standing', 'device'],
  fields: [
    ['device', 'text', 'Device', 'Place', 140, 's'],
    ['site', 'text', 'Site', 'Place', 60],
    ['port', 'text', 'Port', 'Place', 110, 's'],
    ['group', 'number', 'Group', 'Router', 60, 's'],
    ['family', 'text', 'Family', 'Router', 60, 'v'],
    ['addresses', 'address', 'Addresses', 'Router', 150, 'scl'],
    ['mac', 'mac', 'MAC', 'Router', 140],
    ['state', 'text', 'State', 'State', 90, 'scvw'],
    ['priority', 'number', 'Priority', 'State', 70, 'sc'],
    ['partners', 'text', 'Stands in with', 'State', 160, 'sl'],
    ['standing', 'text', 'Together', 'State', 130, 'sv'],
  ],
  script: ['device', 'port', 'group', 'family', 'addresses', 'mac', 'state', 'priority', 'partners', 'standing'],
  words: ({ text }) => `${text('device')}: group ${text('group')} at ${text('port')}, ${text('state')}`,
  near: ({ row, text, here }) => [
    ['the others that carry it', 'virtualRouters', `${term('group', row.group)} ${term('mac', row.mac)} -${here}`],
    [`other virtual routers of ${text('device')}`, 'virtualRouters', `${here} -${term('group', row.group)}`],
  ],
});
