import { term, type Near } from '../near';
import { thing } from '../thing';

export const conversations = thing('conversations', {
  title: 'Conversations',
  singular: 'conversation',
  order: 'clientName',
  changeWord: 'conversation',
  belongsTo: ['client', 'server'],
  question: 'runs',
  hint: 'a host, process or port; port={port}',
  pictures: ['serverProcess', 'port', 'clientName'],
  fields: [
    ['clientName', 'text', 'Client', 'Client', 120, 's'],
    ['clientProcess', 'text', 'Client process', 'Client', 110, 's'],
    ['clientAddress', 'address', 'Client address', 'Client', 120],
    ['clientSite', 'text', 'Client site', 'Client', 70],
    ['serverName', 'text', 'Server', 'Server', 120, 's'],
    ['serverProcess', 'text', 'Server process', 'Server', 110, 's'],
    ['protocol', 'text', 'Protocol', 'Server', 70, 's'],
    ['port', 'number', 'Port', 'Server', 60, 's'],
    ['serverAddress', 'address', 'Server address', 'Server', 120],
    ['serverSite', 'text', 'Server site', 'Server', 70],
    ['sources', 'text', 'Told by', 'Evidence', 160, 'l'],
    ['heardBy', 'text', 'Known by', 'Evidence', 120],
    ['samples', 'number', 'Seen in surveys', 'Evidence', 100, 'a'],
    ['events', 'number', 'Connections', 'Counted', 90, 'a'],
    ['packets', 'number', 'Packets', 'Counted', 80, 'a'],
    ['bytes', 'bytes', 'Bytes', 'Counted', 80, 'sa'],
    ['bytesToServer', 'bytes', 'Bytes to the server', 'Counted', 110, 'a'],
    ['bytesToClient', 'bytes', 'Bytes to the client', 'Counted', 110, 'a'],
    ['activeHours', 'number', 'Active hours', 'Counted', 90, 'a'],
    ['serves', 'text', 'Who serves is known by', 'Evidence', 150],
    ['firstSeen', 'date', 'First seen', 'Time', 125, 's'],
    ['lastSeen', 'date', 'Last seen', 'Time', 125, 's'],
  ],
  script: ['client', 'server', 'protocol', 'samples', 'events', 'packets', 'bytes', 'firstSeen', 'lastSeen', 'sources'],
  foundBy: [
    { field: 'clientAddress', once: true },
    { field: 'serverAddress', once: true },
  ],
  parts: { client: ['address', 'device', 'process'], server: ['address', 'device', 'process', 'port'] },
  words: ({ text, words }) => {
    const end = (which: 'client' | 'server') =>
      [text(`${which}Process`), text(`${which}Name`)].filter(Boolean).join(' on ');
    return `${end('client')} to ${end('server')}, ${words('protocol', 'port')}`;
  },
  near: ({ row, text, has }) => [
    [
      `all that ${text('clientName')} and ${text('serverName')} say to each other`,
      'conversations',
      `(${term('clientAddress', row.clientAddress)} ${term('serverAddress', row.serverAddress)}) or (${term('clientAddress', row.serverAddress)} ${term('serverAddress', row.clientAddress)})`,
    ],
    [
      `who else talks to ${text('serverName')} on port ${text('port')}`,
      'conversations',
      `${term('serverAddress', row.serverAddress)} ${term('port', row.port)} -${term('clientAddress', row.clientAddress)}`,
    ],
    [
      `whom else ${text('clientName')} talks to`,
      'conversations',
      `${term('clientAddress', row.clientAddress)} -${term('serverAddress', row.serverAddress)}`,
    ],
    ...(has('serverDevice')
      ? [
          [
            'the service it talks to',
            'services',
            `${term('device', row.serverName)} ${term('protocol', row.protocol)} ${term('port', row.port)}`,
          ] as Near,
        ]
      : []),
  ],
});
