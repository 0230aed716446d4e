import { term, type Near } from '../near';
import { thing } from '../thing';

export const images = thing('images', {
  title: 'Images',
  singular: 'image',
  order: 'name',
  question: 'runs',
  hint: 'a name; state="wrong hash"; state=missing',
  pictures: ['state', 'family'],
  fields: [
    ['name', 'text', 'Image', 'Image', 240, 's'],
    ['state', 'text', 'How it stands', 'Image', 130, 'sv'],
    ['words', 'text', 'Which means', 'Image', 320],
    ['family', 'text', 'Family or part', 'Release', 130, 's'],
    ['component', 'text', 'Component', 'Release', 130, 'v'],
    ['release', 'release', 'Release', 'Release', 100, 's'],
    ['targetOf', 'text', 'Target of', 'Release', 120, 'sl'],
    ['bytes', 'bytes', 'Size', 'Image', 90, 's'],
    ['hash', 'text', 'SHA-256', 'Image', 200, 's'],
    ['neededHash', 'text', 'SHA-256 of the catalogue', 'Release', 200],
    ['neededBytes', 'bytes', 'Size in the catalogue', 'Release', 120],
  ],
  script: ['name', 'state', 'family', 'component', 'release', 'bytes', 'hash', 'neededBytes', 'neededHash', 'words'],
  words: ({ text }) => text('name'),
  near: ({ row }) =>
    row.release
      ? [['the release', 'releases', `${term('family', row.family)} ${term('release', row.release)}`] as Near]
      : [],
});
