import { term } from '../near';
import { thing } from '../thing';

export const faults = thing('faults', {
  title: 'Faults',
  singular: 'fault',
  order: 'device',
  changeWord: 'fault',
  belongsTo: 'device',
  isSited: true,
  stepWord: 'fault',
  question: 'wrong',
  hint: 'a part; subsystem=power',
  pictures: ['subsystem', 'severity', 'device'],
  fields: [
    ['severity', 'text', 'Severity', 'What', 80, 'sv'],
    ['device', 'text', 'Device', 'Place', 130, 's'],
    ['site', 'text', 'Site', 'Place', 60],
    ['subsystem', 'text', 'Subsystem', 'What', 90, 's'],
    ['part', 'text', 'Part', 'Place', 220, 's'],
    ['message', 'text', 'Message', 'What', 240, 's'],
    ['action', 'text', 'What to do', 'What', 320, 's'],
    ['since', 'date', 'Since', 'Time', 125, 's'],
    ['firstSeen', 'date', 'First seen', 'Time', 125],
  ],
  script: ['device', 'subsystem', 'part', 'severity', 'message', 'action', 'since', 'firstSeen'],
  words: ({ text }) =>
    `${text('part').startsWith(text('device')) ? text('part').replaceAll(' / ', ', ') : [text('device'), text('part')].filter(Boolean).join(', ')}: ${text('message')}`,
  near: ({ row, text, here }) => [
    [`other faults of ${text('device')}`, 'faults', `${here} -${term('part', row.part)}`],
    ['the same elsewhere', 'faults', `${term('message', row.message)} -${here}`],
    ['the part', 'modules', term('path', row.part)],
  ],
});
