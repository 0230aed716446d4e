import { expect, test } from '@jest/globals';
import { alikeDevices } from './alike';

const device = (id: number, more: { name?: string; serial?: string; engineId?: string; uuid?: string } = {}) => ({
  id,
  facts: { name: `sw-${id}`, address: `10.72.4.${id}`, serial: '', engineId: null, ...more },
});

test('devices that are kept apart and tell the same of themselves are named at each other', () => {
  expect(
    alikeDevices([
      device(1, { serial: 'KSA0001', engineId: '8000e6dd01' }),
      device(2, { serial: 'ksa0001' }),
      device(3, { engineId: '8000e6dd01' }),
      device(4),
    ]),
  ).toEqual(
    new Map([
      [1, 'serial as sw-2 (10.72.4.2); SNMP engine id as sw-3 (10.72.4.3)'],
      [2, 'serial as sw-1 (10.72.4.1)'],
      [3, 'SNMP engine id as sw-1 (10.72.4.1)'],
    ]),
  );
});

test('five hosts called localhost are one line at each, and one known by its address alone is called nothing', () => {
  const hosts = [1, 2, 3, 4, 5].map((id) => device(id, { name: 'localhost' }));
  expect(alikeDevices(hosts).get(1)).toBe(
    'name as localhost (10.72.4.2), localhost (10.72.4.3), localhost (10.72.4.4) and 1 more',
  );
  expect(alikeDevices([device(1, { name: '10.72.4.1' }), device(1, { name: '10.72.4.1' })])).toEqual(new Map());
});
