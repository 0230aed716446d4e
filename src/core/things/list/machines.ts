import { type Near, term } from '../near';
import { thing } from '../thing';

export const machines = thing('machines', {
  title: 'Virtual machines',
  singular: 'virtual machine',
  order: 'name',
  changeWord: 'machine',
  question: 'runs',
  hint: 'a name; state=off; host={host}',
  pictures: ['state', 'host', 'cluster'],
  fields: [
    ['name', 'text', 'Name', 'Identity', 150, 's'],
    ['state', 'text', 'State', 'State', 80, 'scv'],
    ['host', 'text', 'Host', 'Place', 130, 'sc'],
    ['cluster', 'text', 'Cluster', 'Place', 100, 'c'],
    ['system', 'text', 'System', 'Identity', 160, 'sc'],
    ['processors', 'number', 'Processors', 'Size', 80, 'sca'],
    ['memoryBytes', 'bytes', 'Memory', 'Size', 80, 'sca'],
    ['networks', 'text', 'Networks', 'Place', 140, 'scl'],
    ['macs', 'mac', 'MAC', 'Identity', 145, 'scl'],
    ['uuid', 'text', 'UUID', 'Identity', 270],
    ['toldBy', 'text', 'Told by', 'Evidence', 120],
  ],
  script: ['name', 'uuid', 'state', 'system', 'processors', 'memoryBytes', 'host', 'cluster', 'adapters'],
  foundBy: [{ field: 'name', loosely: true }],
  words: ({ text }) => [text('name'), text('host') && `on ${text('host')}`, text('state')].filter(Boolean).join(', '),
  near: ({ row, text, has }) => [
    [
      'the machine as an endpoint',
      'endpoints',
      text('macs')
        .split(/,\s*/)
        .filter(Boolean)
        .map((mac) => term('mac', mac))
        .join(' or ') || 'mac=""',
    ],
    [`other machines on ${text('host')}`, 'machines', `${term('host', row.host)} -${term('name', row.name)}`],
    ...(has('cluster')
      ? [
          [
            `other hosts of cluster ${text('cluster')}`,
            'machines',
            `${term('cluster', row.cluster)} -${term('host', row.host)}`,
          ] as Near,
        ]
      : []),
    ['its host', 'devices', term('name', row.host)],
  ],
});
