import { type Near, term } from '../near';
import { thing } from '../thing';

export const contracts = thing('contracts', {
  title: 'Contracts',
  singular: 'contract',
  order: 'number',
  question: 'have',
  hint: 'a number, serial or supplier; state=ending',
  pictures: ['state', 'kind', 'supplier'],
  fields: [
    ['number', 'text', 'Number', 'Identity', 140, 's'],
    ['kind', 'text', 'Kind', 'Identity', 90, 'sv'],
    ['supplier', 'text', 'Supplier', 'Identity', 150, 's'],
    ['level', 'text', 'Promises', 'Identity', 210, 's'],
    ['contact', 'text', 'Call', 'Identity', 170],
    ['from', 'date', 'From', 'Time', 115],
    ['until', 'date', 'Until', 'Time', 115, 's'],
    ['daysLeft', 'number', 'Days left', 'Time', 80, 's'],
    ['state', 'text', 'State', 'Time', 85, 'scv'],
    ['serialCount', 'number', 'Serials', 'Covers', 70, 'sa'],
    ['inService', 'number', 'In service', 'Covers', 85, 'sa'],
    ['uncovered', 'number', 'Left without', 'Covers', 95, 'sa'],
    ['parts', 'boolean', 'With its parts', 'Covers', 100],
    ['devices', 'text', 'In devices', 'Covers', 300, 'lo'],
    ['serials', 'text', 'Their serials', 'Covers', 300, 'l'],
    ['note', 'text', 'Note', 'Identity', 220],
  ],
  script: [
    'number',
    'kind',
    'supplier',
    'level',
    'contact',
    'from',
    'until',
    'parts',
    'serials',
    'note',
    'state',
    'daysLeft',
    'inService',
    'uncovered',
    'devices',
  ],
  foundBy: [{ field: 'number' }, { field: 'supplier', loosely: true }],
  words: ({ text, words }) =>
    [
      text('number'),
      words('kind') + (text('supplier') && ` of ${text('supplier')}`),
      text('until') && `until ${text('until')}`,
    ]
      .filter(Boolean)
      .join(', '),
  near: ({ row, text, has }) => [
    ['devices it covers', 'devices', term('coveredBy', row.number)],
    ['serials it covers, with what they hold', 'ledger', term('coveredBy', row.number)],
    ...(Number(row.uncovered) > 0
      ? [
          [
            'of them left without',
            'ledger',
            `${term('coveredBy', row.number)} state="in service" (cover=ending or cover=ended)`,
          ] as Near,
        ]
      : []),
    ...(has('supplier')
      ? [
          [
            `others of ${text('supplier')}`,
            'contracts',
            `${term('supplier', row.supplier)} -${term('number', row.number)}`,
          ] as Near,
        ]
      : []),
  ],
});
