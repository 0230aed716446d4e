import { describe, expect, test } from '@jest/globals';
import { forwardedBy, isLoopback, originsOf, readOrigin } from './origins';

describe('an origin', () => {
  test('is scheme, host and port, and nothing more', () => {
    expect(readOrigin('https://estate.olr.example')).toBe('https://estate.olr.example');
    expect(readOrigin('https://Estate.OLR.example:443/')).toBe('https://estate.olr.example');
    expect(readOrigin('http://10.72.0.9:4717')).toBe('http://10.72.0.9:4717');
    for (const none of [
      'estate.olr.example',
      'ftp://estate.olr.example',
      'https://estate.olr.example/today',
      'https://marla@estate.olr.example',
      'https://',
      'null',
      '',
    ])
      expect(readOrigin(none)).toBeNull();
  });
  test('on this machine alone is one of its names for itself', () => {
    const listens = { host: '127.0.0.1', port: 4717, secure: false };
    expect(originsOf({ listens, own: ['10.72.0.9'], told: [] })).toEqual([
      'http://127.0.0.1:4717',
      'http://localhost:4717',
      'http://[::1]:4717',
    ]);
  });
  test('on all addresses is each of them, and what was told', () => {
    const listens = { host: '::', port: 443, secure: true };
    const origins = originsOf({
      listens,
      own: ['harbour', 'fe80::1%eth0'],
      told: ['https://estate.olr.example', 'nonsense'],
    });
    expect(origins).toContain('https://harbour');
    expect(origins).toContain('https://[fe80::1]');
    expect(origins).toContain('https://estate.olr.example');
    expect(origins).toHaveLength(6);
  });
});

test('the nearest proxy says who asks; what stands before it anybody may have written', () => {
  expect(forwardedBy('203.0.113.7, 198.51.100.4')).toBe('198.51.100.4');
  expect(forwardedBy('2001:db8::7')).toBe('2001:db8::7');
  expect(forwardedBy('<script>')).toBeNull();
  expect(forwardedBy(undefined)).toBeNull();
});

test('this machine itself is known in all its forms', () => {
  for (const own of ['127.0.0.1', '127.4.5.6', '::1', '::ffff:127.0.0.1']) expect(isLoopback(own)).toBe(true);
  for (const other of ['10.0.0.1', '::2', '1127.0.0.1', '127.0.0.1.example', '']) expect(isLoopback(other)).toBe(false);
});
