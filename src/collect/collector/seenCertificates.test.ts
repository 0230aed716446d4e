import { expect, test } from '@jest/globals';
import { SeenCertificates } from './seenCertificates';

test('pins of addresses that come later are known before they are asked, and are not told again', () => {
  const seen = new SeenCertificates([{ address: '10.72.2.11', port: 443, fingerprint: 'AA' }]);
  expect([seen.pinned('10.72.2.11', 443), seen.pinned('10.72.2.12', 443)]).toEqual(['AA', null]);
  seen.know([{ address: '10.72.2.12', port: 443, fingerprint: 'BB' }]);
  expect([
    seen.pinned('10.72.2.11', 443),
    seen.pinned('10.72.2.12', 443),
    seen.pinned('10.72.2.12', 8443),
    seen.take(),
  ]).toEqual(['AA', 'BB', null, []]);
  seen.pin('10.72.2.13', 443, 'CC', 'controller');
  seen.offered('10.72.2.12', 443, 'DD');
  seen.offered('10.72.2.12', 443, 'DD');
  expect([seen.take().map(({ fingerprint, as }) => `${fingerprint} ${as}`), seen.take()]).toEqual([
    ['CC pinned', 'DD offered'],
    [],
  ]);
});
