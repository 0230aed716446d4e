import { term, type Near } from '../near';
import { thing } from '../thing';

export const components = thing('components', {
  title: 'Components',
  singular: 'component',
  order: 'device',
  belongsTo: 'device',
  isSited: true,
  stepWord: 'component',
  question: 'runs',
  hint: 'a release; component=BIOS; spread>2',
  pictures: ['component', 'product', 'release'],
  fields: [
    ['device', 'text', 'Device', 'Place', 130, 's'],
    ['site', 'text', 'Site', 'Place', 60],
    ['role', 'text', 'Role', 'Place', 100, 'vw'],
    ['component', 'text', 'Component', 'Identity', 140, 'sv'],
    ['name', 'text', 'Part', 'Identity', 150, 's'],
    ['vendor', 'text', 'Vendor', 'Identity', 100],
    ['product', 'text', 'Product', 'Identity', 120, 's'],
    ['serial', 'text', 'Serial', 'Identity', 110],
    ['release', 'release', 'Runs', 'Release', 100, 'sc'],
    ['next', 'text', 'Boots next', 'Release', 170, 'c'],
    ['standby', 'release', 'In standby', 'Release', 100, 'c'],
    ['published', 'date', 'Published', 'Release', 105, 'sd'],
    ['ageDays', 'number', 'Age, days', 'Release', 80, 's'],
    ['newest', 'release', 'Newest known', 'Release', 105],
    ['step', 'text', 'To the newest', 'Release', 110, 'sv'],
    ['spread', 'number', 'Releases in use', 'Release', 105, 's'],
    ['scheme', 'text', 'Release order', 'Release', 150],
    ['toldBy', 'text', 'Told by', 'Evidence', 110, 'v'],
  ],
  script: [
    'device',
    'component',
    'name',
    'vendor',
    'product',
    'serial',
    'release',
    'next',
    'standby',
    'published',
    'newest',
    'step',
    'spread',
    'toldBy',
  ],
  words: ({ text, words }) => `${text('device')}: ${words('component', 'name', 'release')}`,
  near: ({ row, text, has }) => [
    [
      'what else of it has a release',
      'components',
      `${term('device.id', row.deviceId)} -${term('component', row.component)}`,
    ],
    ...(has('product')
      ? [
          [
            `the same release of ${text('product')}`,
            'components',
            `${term('product', row.product)} ${term('component', row.component)} ${term('release', row.release)} -${term('device', row.device)}`,
          ] as Near,
          [
            `other releases of ${text('product')}`,
            'components',
            `${term('product', row.product)} ${term('component', row.component)} -${term('release', row.release)}`,
          ] as Near,
        ]
      : []),
  ],
});
