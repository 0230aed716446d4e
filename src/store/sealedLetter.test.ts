import { expect, test } from '@jest/globals';
import { generateKeyPairSync } from 'node:crypto';
import { newLetterBox, writeLetter } from './sealedLetter';

const secret = [{ name: 'v3', password: 'signal-lantern-71' }];

test('only the box it was written for opens a letter', () => {
  const box = newLetterBox();
  const letter = writeLetter(box.publicKey, secret);
  expect(letter).not.toContain('signal-lantern');
  expect(box.open(letter)).toEqual(secret);
  expect(() => newLetterBox().open(letter)).toThrow();
});
test('a letter that was changed is not opened', () => {
  const box = newLetterBox();
  const letter = writeLetter(box.publicKey, secret);
  const at = letter.length - 10;
  expect(() => box.open(`${letter.slice(0, at)}${letter[at] === 'A' ? 'B' : 'A'}${letter.slice(at + 1)}`)).toThrow();
  expect(() => box.open('nonsense')).toThrow();
});
test('a key of another kind is refused', () => {
  const { publicKey } = generateKeyPairSync('ed25519');
  expect(() => writeLetter(publicKey.export({ type: 'spki', format: 'der' }).toString('base64'), secret)).toThrow(
    'no X25519',
  );
  expect(() => writeLetter('AAAA', secret)).toThrow();
});
