import { term } from '../near';
import { thing } from '../thing';

export const circles = thing('circles', {
  title: 'Circles',
  singular: 'circle',
  order: 'name',
  question: 'runs',
  hint: 'a host or service; hostCount>3',
  pictures: ['sites', 'services', 'hosts'],
  fields: [
    ['name', 'text', 'Around', 'Identity', 220, 's'],
    ['hosts', 'text', 'Hosts', 'Members', 320, 'sl'],
    ['hostCount', 'number', 'How many', 'Members', 80, 's'],
    ['sites', 'text', 'Sites', 'Members', 100, 'sl'],
    ['services', 'text', 'Talk', 'Talk', 220, 'sl'],
    ['conversations', 'number', 'Conversations', 'Talk', 100, 'sa'],
    ['bytes', 'bytes', 'Bytes', 'Talk', 80, 'a'],
    ['insidePercent', 'number', 'Stays within, %', 'Talk', 110, 's'],
  ],
  script: ['name', 'hosts', 'sites', 'services', 'conversations', 'bytes', 'insidePercent'],
  words: ({ text }) => `circle around ${text('name')}`,
  near: ({ row }) => [
    [
      'what its hosts say',
      'conversations',
      ((row.hosts as string[] | undefined) ?? [])
        .slice(0, 12)
        .map((host) => term('clientName', host))
        .join(' or ') || 'clientName=""',
    ],
  ],
});
