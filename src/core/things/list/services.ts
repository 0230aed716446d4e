import { type Near } from '../near';
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
  hint: 'a process or port; port={port}',
  pictures: ['process', 'port', 'protocol'],
  fields: [
    ['device', 'text', 'Device', 'Place', 140, 's'],
    ['site', 'text', 'Site', 'Place', 60],
    ['process', 'text', 'Process', 'Identity', 140, 'sc'],
    ['protocol', 'text', 'Protocol', 'Listens', 75, 's'],
    ['port', 'number', 'Port', 'Listens', 70, 's'],
    ['address', 'text', 'On address', 'Listens', 130, 's'],
    ['path', 'text', 'Path', 'Identity', 240, 'sc'],
    ['arguments', 'text', 'Arguments', 'Identity', 240, 'c'],
  ],
  script: ['device', 'process', 'path', 'arguments', 'protocol', 'address', 'port'],
  words: ({ text }) => `${text('device')}: ${text('process') || 'somebody'} on ${text('protocol')} ${text('port')}`,
  near: ({ text, has, elsewhere }) => [
    ...(has('process') ? [[`${text('process')} elsewhere`, 'services', elsewhere('process')] as Near] : []),
    [`port ${text('port')} elsewhere`, 'services', elsewhere('port')],
  ],
});
