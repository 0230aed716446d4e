import { expect, test } from '@jest/globals';
import type { Application } from './application';
import { applicationDifference } from './difference';

const fares: Application = {
  name: 'Fares',
  owner: 'revenue office',
  criticality: 'vital',
  contacts: ['control room'],
  note: '',
  rules: [
    { member: { kind: 'service', service: 'fareweb', deviceId: null }, verdict: 'in' },
    { member: { kind: 'device', deviceId: 12 }, verdict: 'out' },
  ],
  needed: [],
};
const hostName = (id: number) => `host-${id}`;

test('a version tells what is other than before, member by member', () => {
  expect(applicationDifference(null, fares, hostName)).toEqual([
    'begun',
    'owner revenue office',
    'to tell: control room',
    'fareweb taken in',
    'host-12 left out',
  ]);
  const later: Application = {
    ...fares,
    name: 'Ticketing',
    criticality: 'high',
    contacts: [],
    rules: [
      { member: { kind: 'service', service: 'fareweb', deviceId: null }, verdict: 'shared' },
      { member: { kind: 'service', service: 'tallydb', deviceId: 7 }, verdict: 'stop' },
    ],
    needed: [{ service: 'fareweb', atLeast: 2 }],
  };
  expect(applicationDifference(fares, later, hostName)).toEqual([
    'called Ticketing, before Fares',
    'criticality high, before vital',
    'nobody to tell any more',
    'fareweb shared with others',
    'tallydb on host-7 taken in, not gone after further',
    'nothing said of host-12 any more',
    '2 of fareweb must go on, before 1',
  ]);
  expect(applicationDifference(later, later, hostName)).toEqual([]);
  expect(applicationDifference(later, null, hostName)).toEqual(['removed']);
});
