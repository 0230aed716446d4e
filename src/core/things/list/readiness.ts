import { thing } from '../thing';

export const readiness = thing('readiness', {
  title: 'Readiness',
  singular: 'readiness',
  order: 'device',
  belongsTo: 'device',
  fields: [
    ['device', 'text', 'Device', 'Device', 120, 's'],
    ['site', 'text', 'Site', 'Device', 60, 's'],
    ['model', 'text', 'Model', 'Device', 105, 's'],
    ['family', 'text', 'Family', 'Device', 90],
    ['component', 'text', 'Component', 'Device', 100],
    ['current', 'release', 'Runs', 'Release', 90, 's'],
    ['target', 'release', 'Target', 'Release', 90, 's'],
    ['targetGroup', 'text', 'Target is for', 'Release', 110],
    ['verdict', 'text', 'Verdict', 'Release', 120, 'sv'],
    ['why', 'text', 'Why', 'Release', 520, 's'],
  ],
  script: ['device', 'component', 'current', 'target', 'verdict', 'reasons'],
  words: ({ text }) => `${text('device')}: ${text('why')}`,
});
