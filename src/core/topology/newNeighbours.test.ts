import { expect, test } from '@jest/globals';
import type { NeighbourFacts } from '../estate/facts';
import { newNeighbours } from './newNeighbours';

const heard = (deviceId: number, port: string, systemName: string, more: Partial<NeighbourFacts> = {}) => ({
  deviceId,
  neighbour: {
    port,
    chassisId: `02:00:00:00:00:${systemName.length.toString(16).padStart(2, '0')}`,
    chassisIdSubtype: 'macAddress',
    portId: '1',
    portIdSubtype: 'interfaceName',
    portDescription: '',
    systemName,
    systemDescription: '',
    capabilities: ['bridge'],
    managementAddresses: [],
    ...more,
  },
});
const always = () => true;

test('who stands at a port for the first time is told, with who was there', () => {
  expect(
    newNeighbours(
      [heard(1, '4', 'old-ring')],
      [heard(1, '4', 'tme-ring.olr.example', { chassisId: 'other' }), heard(2, '9', 'kln-plat')],
      always,
    ),
  ).toEqual([
    { deviceId: 1, port: '4', words: 'tme-ring 1, before old-ring 1' },
    { deviceId: 2, port: '9', words: 'kln-plat 1, nobody before' },
  ]);
});

test('the same chassis with another name, a name with another chassis, a phone, and a device that did not answer before are no news', () => {
  const before = [heard(1, '4', 'rpw-plat', { chassisId: 'a' }), heard(1, '5', 'kln-plat', { chassisId: 'b' })];
  expect(
    newNeighbours(
      before,
      [
        heard(1, '4', 'renamed', { chassisId: 'a' }),
        heard(1, '5', 'kln-plat', { chassisId: 'c' }),
        heard(1, '6', 'phone-2', { capabilities: ['bridge', 'telephone'] }),
      ],
      always,
    ),
  ).toEqual([]);
  expect(newNeighbours(before, [heard(7, '1', 'anybody')], (deviceId) => deviceId !== 7)).toEqual([]);
});
