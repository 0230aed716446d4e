import { expect, test } from '@jest/globals';
import { isMailAddress, mailServerSchema } from './mailServer';

test.each(['bolide@example.net', 'night.watch+bolide@signal-house.example', 'root@localhost', "o'duty@example.net"])(
  '%s is an address',
  (text) => expect(isMailAddress(text)).toBe(true),
);
test.each([
  '',
  'bolide',
  '@example.net',
  'bolide@',
  'two@at@example.net',
  'a b@example.net',
  'x@example..net',
  '.x@example.net',
  'x.@example.net',
  'x@-example.net',
  'x@example.net\nBcc: y@example.net',
])('“%s” is none', (text) => expect(isMailAddress(text)).toBe(false));
test('a server needs a name, a port and a sender', () => {
  const mistakes = (value: object) => {
    try {
      mailServerSchema.validateSync(value, { abortEarly: false, strict: true });
      return [];
    } catch (error) {
      return (error as { inner: { path: string }[] }).inner.map(({ path }) => path).sort();
    }
  };
  expect(mistakes({ host: 'mail.example.net', port: 587, security: 'starttls', from: 'bolide@example.net' })).toEqual(
    [],
  );
  expect(mistakes({ host: 'mail example', port: 70_000, security: 'perhaps', from: 'nobody' })).toEqual([
    'from',
    'host',
    'port',
    'security',
  ]);
});
