import { expect, test } from '@jest/globals';
import { duplicateAddresses } from './duplicateAddresses';
import type { AttachmentFacts } from './placement';

const row = (mac: string, addresses: string[], ownDeviceId: number | null = null): AttachmentFacts => ({
  mac,
  addresses,
  ownDeviceId,
  vlan: 10,
  deviceId: 7,
  port: mac.slice(-2),
  via: 'direct',
  evidence: [],
});

test('an address on two machines is told with both, each on its port', () => {
  expect(
    duplicateAddresses([
      row('02:00:00:00:00:02', ['10.72.48.77']),
      row('02:00:00:00:00:01', ['10.72.48.77', '10.72.48.78']),
      row('02:00:00:00:00:03', ['10.72.48.79']),
    ]),
  ).toEqual([
    {
      address: '10.72.48.77',
      holders: [
        { mac: '02:00:00:00:00:01', deviceId: 7, port: '01' },
        { mac: '02:00:00:00:00:02', deviceId: 7, port: '02' },
      ],
    },
  ]);
});
test('two interfaces of one device are one machine', () => {
  expect(
    duplicateAddresses([row('02:00:00:00:00:01', ['10.72.0.1'], 4), row('02:00:00:00:00:02', ['10.72.0.1'], 4)]),
  ).toEqual([]);
  expect(
    duplicateAddresses([row('02:00:00:00:00:01', ['10.72.0.1'], 4), row('02:00:00:00:00:02', ['10.72.0.1'], 5)]),
  ).toHaveLength(1);
});
test('addresses that anybody may have are not told', () => {
  const both = ['fe80::1', '169.254.3.4', '0.0.0.0'];
  expect(duplicateAddresses([row('02:00:00:00:00:01', both), row('02:00:00:00:00:02', both)])).toEqual([]);
});
test('who answers for several machines has none of their addresses; an address that many have is still told', () => {
  const machines = [1, 2, 3].map((at) => row(`02:00:00:00:00:0${at}`, [`10.72.4.${at}`]));
  expect(duplicateAddresses([...machines, row('02:00:00:00:00:99', ['10.72.4.1', '10.72.4.2', '10.72.4.3'])])).toEqual(
    [],
  );
  expect(duplicateAddresses([...machines.slice(1), row('02:00:00:00:00:99', ['10.72.4.2', '10.72.4.3'])])).toHaveLength(
    2,
  );
  expect(
    duplicateAddresses([1, 2, 3, 4].map((at) => row(`02:00:00:00:00:0${at}`, ['10.72.4.9'])))[0]?.holders,
  ).toHaveLength(4);
});
