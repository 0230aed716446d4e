import { thing } from '../thing';

export const visits = thing('visits', {
  title: 'Addresses asked',
  singular: 'address asked',
  order: 'address',
  fields: [
    ['address', 'address', 'Address', 'Asked', 120, 's'],
    ['outcome', 'text', 'Outcome', 'Asked', 100, 'sv'],
    ['device', 'text', 'Device', 'Asked', 130, 's'],
    ['credential', 'text', 'Credential', 'Asked', 130, 's'],
    ['reason', 'text', 'Reason', 'Asked', 300, 's'],
    ['remedy', 'text', 'What to do', 'Asked', 360, 's'],
    ['path', 'text', 'Found by', 'Asked', 220],
    ['seconds', 'number', 'Seconds', 'Asked', 80, 's'],
    ['survey', 'number', 'Survey', 'Asked', 70],
  ],
  script: [
    'survey',
    'address',
    'outcome',
    'reason',
    'remedy',
    'seconds',
    'device',
    'credential',
    'phases',
    'missing',
    'path',
  ],
  parts: { phases: 'unknown' },
  words: ({ words }) => words('address', 'outcome'),
});
