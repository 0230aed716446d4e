import { term } from '../near';
import { thing } from '../thing';

export const links = thing('links', {
  title: 'Links',
  singular: 'link',
  order: 'from',
  changeWord: 'link',
  belongsTo: ['from', 'to'],
  fields: [
    ['from', 'text', 'From', 'Ends', 130, 's'],
    ['fromPort', 'text', 'Port', 'Ends', 70, 's'],
    ['to', 'text', 'To', 'Ends', 130, 's'],
    ['toPort', 'text', 'Port', 'Ends', 70, 's'],
    ['speedBps', 'bitsPerSecond', 'Speed', 'State', 70, 'sc'],
    ['confidence', 'text', 'Confidence', 'Evidence', 110, 'scv'],
    ['kind', 'text', 'Kind', 'State', 80, 'c'],
    ['blocked', 'boolean', 'Blocked', 'State', 70, 'c'],
    ['issueWords', 'text', 'Findings', 'Evidence', 300, 'sc'],
    ['cutsDevices', 'number', 'Cuts off devices', 'Spare', 110],
    ['cutsEndpoints', 'number', 'Cuts off endpoints', 'Spare', 120],
    ['spareLostSince', 'date', 'Without spare since', 'Spare', 130],
    ['spareLostBy', 'text', 'Spare lost with', 'Spare', 260],
    ['evidenceWords', 'text', 'Evidence', 'Evidence', 340, 's'],
  ],
  script: ['a', 'b', 'kind', 'confidence', 'evidence', 'speedBps', 'blocked', 'issues', 'members', 'segment'],
  parts: { a: 'unknown', b: 'unknown' },
  words: ({ text, words }) =>
    `${words('from', 'fromPort')} – ${words('to', 'toPort')}${text('issueWords') && `: ${text('issueWords')}`}`,
  near: ({ row, text }) => [
    [`ports of ${text('from')}`, 'ports', term('device', row.from)],
    [`ports of ${text('to')}`, 'ports', term('device', row.to)],
  ],
});
