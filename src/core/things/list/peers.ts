import { term } from '../near';
import { thing } from '../thing';

export const peers = thing('peers', {
  title: 'Routing peers',
  singular: 'routing peer',
  order: 'device',
  changeWord: 'peer',
  belongsTo: 'device',
  isSited: true,
  question: 'connected',
  hint: 'a device or address; up=no',
  pictures: ['state', 'protocol', 'device'],
  fields: [
    ['device', 'text', 'Device', 'Place', 140, 's'],
    ['site', 'text', 'Site', 'Place', 60],
    ['protocol', 'text', 'Protocol', 'Peer', 80, 's'],
    ['peer', 'text', 'Peer', 'Peer', 140, 's'],
    ['address', 'address', 'Its address', 'Peer', 140, 's'],
    ['state', 'text', 'State', 'State', 110, 'scvw'],
    ['up', 'boolean', 'Talks', 'State', 70, 'c'],
    ['localAs', 'number', 'Own AS', 'Peer', 80, 'c'],
    ['remoteAs', 'number', 'Its AS', 'Peer', 80, 'sc'],
    ['identifier', 'text', 'Router id', 'Peer', 130],
  ],
  script: ['device', 'protocol', 'peer', 'address', 'state', 'up', 'localAs', 'remoteAs', 'identifier'],
  words: ({ text }) =>
    `${text('device')}: ${text('protocol').toUpperCase()} ${text('peer') || text('address')}, ${text('state')}`,
  near: ({ row, text, here }) => [
    ['how the other end sees it', 'peers', `${term('device', row.peer)} ${term('peer', row.device)}`],
    [`other peers of ${text('device')}`, 'peers', `${here} -${term('address', row.address)}`],
  ],
});
