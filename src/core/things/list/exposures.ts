import { term, type Near } from '../near';
import { thing } from '../thing';

export const exposures = thing('exposures', {
  title: 'Exposures',
  singular: 'exposure',
  order: 'device',
  belongsTo: 'device',
  isSited: true,
  stepWord: 'exposure',
  question: 'wrong',
  hint: 'a device; severity=critical; mendedIn=""',
  pictures: ['severity', 'number', 'product'],
  fields: [
    ['device', 'text', 'Device', 'Place', 130, 's'],
    ['site', 'text', 'Site', 'Place', 60, 's'],
    ['role', 'text', 'Role', 'Place', 100, 'vw'],
    ['component', 'text', 'Component', 'Place', 120, 'sv'],
    ['name', 'text', 'Part', 'Place', 120],
    ['product', 'text', 'Product', 'Place', 120],
    ['release', 'release', 'Runs', 'Release', 100, 's'],
    ['mendedIn', 'release', 'Mended in', 'Release', 100, 's'],
    ['number', 'text', 'Advisory', 'Advisory', 130, 's'],
    ['severity', 'text', 'Severity', 'Advisory', 90, 'sv'],
    ['score', 'number', 'CVSS score', 'Advisory', 85],
    ['title', 'text', 'What it is', 'Advisory', 280, 's'],
    ['publisher', 'text', 'Publisher', 'Advisory', 110],
    ['published', 'date', 'Published', 'Advisory', 105, 'd'],
  ],
  script: ['device', 'component', 'name', 'product', 'release', 'mendedIn', 'number', 'publisher', 'severity', 'title'],
  words: ({ text }) => `${text('device')}: ${text('number')}, ${text('title')}`,
  near: ({ row }) => [
    ['the advisory', 'advisories', term('number', row.number)] as Near,
    ['who else is exposed to it', 'exposures', `${term('number', row.number)} -${term('device', row.device)}`] as Near,
  ],
});
