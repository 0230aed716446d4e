import { expect, test } from '@jest/globals';
import { imagesByName, imageStanding, mayBeSent, type ImageFile } from './image';

const hash = 'a'.repeat(64);
const file = (more: Partial<ImageFile>): ImageFile => ({ name: 'k.img', bytes: 2000, hash, mistake: '', ...more });
const standing = (files: ImageFile[], more: { imageBytes?: number | null; imageHash?: string; image?: string } = {}) =>
  imageStanding({ image: 'k.img', imageBytes: 2000, imageHash: hash, ...more }, imagesByName(files));

test('an image is right where it has the size and the hash that the catalogue says', () => {
  expect(standing([file({})])).toMatchObject({ state: 'right', needed: hash, have: hash });
  expect(standing([file({})], { imageBytes: null })?.state).toBe('right');
});

test('what is wrong with an image is told with what is needed and what there is', () => {
  expect(standing([])).toMatchObject({ state: 'missing', needed: 'k.img', have: null });
  expect(standing([file({ bytes: 1999 })])?.words).toBe('image k.img has 1,999 bytes, it should have 2,000 bytes');
  expect(standing([file({ hash: 'b'.repeat(64) })])).toMatchObject({ state: 'wrong hash', have: 'b'.repeat(64) });
  expect(standing([file({ hash: '' })])?.state).toBe('being read');
  expect(standing([file({ hash: '', mistake: 'EACCES' })])?.words).toBe('image k.img cannot be read: EACCES');
});

test('the same image under another name is told, and one nobody can hold against anything is no mistake', () => {
  expect(standing([file({ name: 'other.img' })])).toMatchObject({ state: 'missing', have: 'other.img' });
  const unknown = standing([file({})], { imageHash: '' });
  expect(unknown?.state).toBe('not held against');
  expect(mayBeSent('not held against')).toBe(true);
  expect(mayBeSent('being read')).toBe(false);
  expect(standing([file({})], { image: '' })).toBeNull();
});
