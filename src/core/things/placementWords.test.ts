import { expect, test } from '@jest/globals';
import type { AttachmentFacts } from '../switching/placement';
import { bases } from '../switching/settled';
import { placementWords } from './placementWords';

const known: AttachmentFacts = {
  mac: '02:43:41:00:00:01',
  vlan: 30,
  deviceId: 1,
  port: '7',
  via: 'direct',
  addresses: ['10.72.4.9'],
  ownDeviceId: null,
  evidence: [2],
};
const words = (more: Partial<AttachmentFacts>) => placementWords({ ...known, ...more }, (id) => `sw-${id}`, undefined);

test('every way to know a place is a sentence that names who says so', () => {
  expect(words({})).toEqual(['forwarding table of sw-1, port 7, VLAN 30', 'address table of sw-2: 10.72.4.9']);
  for (const basis of bases) {
    const [first] = words(basis === 'heard' ? {} : { basis });
    expect([basis, first?.includes('sw-1'), first?.includes('port 7')]).toEqual([basis, true, true]);
  }
  expect(words({ older: [{ deviceId: 3, port: '4' }] })[1]).toBe(
    'sw-3 lists it on port 4 too: an old row, since the others hear it elsewhere',
  );
  expect(words({ deviceId: null, port: null, among: { deviceId: 1, ports: ['4', '7'] } })[0]).toBe(
    'all switches that hear it look towards sw-1, which does not list it; its port is not known, it may be 4, 7',
  );
  expect(words({ deviceId: null, port: null, older: [{ deviceId: 3, port: '4' }] })).toHaveLength(2);
});
