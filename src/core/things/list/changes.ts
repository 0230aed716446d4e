import { thing } from '../thing';

export const changes = thing('changes', {
  title: 'Changes',
  singular: 'change',
  order: 'subject',
  question: 'changed',
  hint: 'kind=replaced; thing=port',
  pictures: ['day', 'kind', 'thing'],
  fields: [
    ['day', 'text', 'Day, UTC', 'Time', 130, 'd'],
    ['at', 'date', 'When', 'Time', 125, 's'],
    ['survey', 'number', 'Survey', 'Time', 70],
    ['thing', 'text', 'Thing', 'What', 90, 's'],
    ['subject', 'text', 'Subject', 'What', 280, 's'],
    ['kind', 'text', 'Kind', 'What', 90, 's'],
    ['field', 'text', 'Field', 'What', 120, 's'],
    ['before', 'text', 'Before', 'What', 180, 's'],
    ['after', 'text', 'After', 'What', 180, 's'],
  ],
  script: ['survey', 'subject', 'kind', 'field', 'before', 'after', 'thing', 'at'],
  words: ({ words }) => words('subject', 'field'),
});
