import { expect, test } from '@jest/globals';
import { ownRanges } from './ownNetworks';

test('the networks a machine stands in are proposed, large ones only around it, and nothing that leads nowhere', () => {
  expect(
    ownRanges([
      { address: '127.0.0.1', prefixLength: 8 },
      { address: '10.72.4.17', prefixLength: 24 },
      { address: '10.72.4.18', prefixLength: 24 },
      { address: '10.72.130.9', prefixLength: 16 },
      { address: '192.0.2.77', prefixLength: 26 },
      { address: '169.254.3.3', prefixLength: 16 },
      { address: '198.51.100.1', prefixLength: 32 },
      { address: 'fe80::1', prefixLength: 64 },
    ]),
  ).toEqual(['10.72.4.0/24', '10.72.130.0/24', '192.0.2.64/26']);
});
