import { term, type Near } from '../near';
import { thing } from '../thing';

export const services = thing('services', {
  title: 'Services',
  singular: 'service',
  order: 'device',
  changeWord: 'service',
  belongsTo: 'device',
  isSited: true,
  stepWord: 'service',
  question: 'runs',
  hint: 'a process or port; kind={kind}',
  pictures: ['kind', 'process', 'port'],
  fields: [
    ['device', 'text', 'Device', 'Place', 140, 's'],
    ['site', 'text', 'Site', 'Place', 60],
    ['service', 'text', 'Service', 'Recognised', 150, 's'],
    ['kind', 'text', 'Kind', 'Recognised', 110, 'sv'],
    ['process', 'text', 'Process', 'Identity', 140, 'sc'],
    ['protocol', 'text', 'Protocol', 'Listens', 75, 's'],
    ['port', 'number', 'Port', 'Listens', 70, 's'],
    ['address', 'text', 'On address', 'Listens', 130, 's'],
    ['path', 'text', 'Path', 'Identity', 240, 'sc'],
    ['arguments', 'text', 'Arguments', 'Identity', 240, 'c'],
    ['package', 'text', 'Package', 'Package', 130],
    ['version', 'release', 'Version', 'Package', 110],
    ['publisher', 'text', 'Publisher', 'Recognised', 120],
    ['category', 'text', 'Category', 'Recognised', 140],
    ['knownBy', 'text', 'Recognised by', 'Recognised', 160],
  ],
  script: ['device', 'process', 'path', 'arguments', 'protocol', 'address', 'port'],
  words: ({ text }) => `${text('device')}: ${text('process') || 'somebody'} on ${text('protocol')} ${text('port')}`,
  near: ({ row, text, has, elsewhere }) => [
    ...(has('process') ? [[`${text('process')} elsewhere`, 'services', elsewhere('process')] as Near] : []),
    [`port ${text('port')} elsewhere`, 'services', elsewhere('port')],
    ...(has('service') ? [[`${text('service')} elsewhere`, 'services', elsewhere('service')] as Near] : []),
    [
      'who talks to it',
      'conversations',
      `${term('serverName', row.device)} ${term('port', row.port)} ${term('protocol', row.protocol)}`,
    ],
  ],
});
