import { term, type Near } from '../near';
import { thing } from '../thing';

export const readiness = thing('readiness', {
  title: 'Readiness',
  singular: 'readiness',
  order: 'device',
  belongsTo: 'device',
  fields: [
    ['device', 'text', 'Device', 'Device', 120, 's'],
    ['site', 'text', 'Site', 'Device', 60, 's'],
    ['model', 'text', 'Model', 'Device', 105],
    ['vendor', 'text', 'Vendor', 'Device', 90],
    ['family', 'text', 'Family', 'Device', 90, 's'],
    ['component', 'text', 'Component', 'Device', 100, 'sv'],
    ['name', 'text', 'Part', 'Device', 120],
    ['current', 'release', 'Runs', 'Release', 90, 's'],
    ['target', 'release', 'Target', 'Release', 90, 's'],
    ['targetGroup', 'text', 'Group of the target', 'Release', 110],
    ['targetFor', 'text', 'Target is for', 'Release', 110],
    ['stage', 'text', 'Stage', 'Release', 80, 'v'],
    ['targetFinding', 'text', 'Wrong with the target', 'Release', 140, 'sl'],
    ['verdict', 'text', 'Verdict', 'Release', 120, 'sv'],
    ['why', 'text', 'Why', 'Release', 520, 's'],
  ],
  script: ['device', 'component', 'current', 'target', 'verdict', 'reasons'],
  words: ({ text }) => `${text('device')}: ${text('why')}`,
  near: ({ row }) => [
    [
      'what else of it has a target',
      'readiness',
      `${term('device', row.device)} -${term('component', row.component)}`,
    ] as Near,
    ['what runs on it', 'components', term('device', row.device)] as Near,
  ],
});
