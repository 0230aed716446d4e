import { writtenValue } from '../../filter/written';
import { term } from '../near';
import { thing } from '../thing';

export const software = thing('software', {
  title: 'Software',
  singular: 'software',
  order: 'device',
  changeWord: 'software',
  belongsTo: 'device',
  isSited: true,
  stepWord: 'software',
  question: 'runs',
  hint: 'a name; kind=firmware',
  pictures: ['kind', 'name', 'version'],
  fields: [
    ['device', 'text', 'Device', 'Place', 140, 's'],
    ['site', 'text', 'Site', 'Place', 60],
    ['name', 'text', 'Name', 'Identity', 260, 's'],
    ['version', 'release', 'Version', 'Identity', 120, 'sc'],
    ['kind', 'text', 'Kind', 'Identity', 120, 'sc'],
    ['installedAt', 'date', 'Installed', 'Time', 130, 's'],
  ],
  script: ['device', 'name', 'version', 'kind', 'installedAt'],
  words: ({ text, words }) => `${text('device')}: ${words('name', 'version')}`,
  near: ({ row, text, elsewhere }) => [
    ['the same version elsewhere', 'software', `${elsewhere('name')} ${term('version', row.version)}`],
    ['other versions elsewhere', 'software', `${elsewhere('name')} version!=${writtenValue(text('version'))}`],
  ],
});
