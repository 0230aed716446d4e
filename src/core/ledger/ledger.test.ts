import { expect, test } from '@jest/globals';
import { ledgerOf, type SerialSighting } from './ledger';

const sighting = (more: Partial<SerialSighting>): SerialSighting => ({
  serial: 'KP-1',
  what: 'Supply',
  model: 'KP',
  class: 'powerSupply',
  device: 'rpw-plat',
  deviceId: 1,
  place: 'bay 1',
  site: 'RPW',
  fromSurvey: 1,
  untilSurvey: null,
  ...more,
});
const ledger = (sightings: SerialSighting[], at: number) =>
  ledgerOf(
    sightings,
    at,
    (survey) => `day ${survey}`,
    (survey) => survey - 1,
  );

test('a serial that moved has one row with both places', () => {
  expect(
    ledger([sighting({ untilSurvey: 3 }), sighting({ device: 'chd-plat', deviceId: 2, fromSurvey: 3 })], 5),
  ).toMatchObject([
    {
      state: 'in service',
      device: 'chd-plat',
      moves: 1,
      firstSeen: 'day 1',
      lastSeen: 'day 5',
      history: [
        { device: 'rpw-plat', until: 'day 2' },
        { device: 'chd-plat', until: null },
      ],
    },
  ]);
});
test('a serial that is gone says where it was last', () => {
  expect(ledger([sighting({ untilSurvey: 3 })], 5)).toMatchObject([
    { state: 'gone', lastSeen: 'day 2', device: 'rpw-plat' },
  ]);
});
test('looked at from an earlier survey, what came later is not known', () => {
  const sightings = [
    sighting({ untilSurvey: 3 }),
    sighting({ device: 'chd-plat', deviceId: 2, fromSurvey: 3 }),
    sighting({ serial: 'KP-2', fromSurvey: 4 }),
  ];
  expect(ledger(sightings, 2)).toMatchObject([{ serial: 'KP-1', state: 'in service', device: 'rpw-plat', moves: 0 }]);
});
test('a new version of the same module in the same place is no move', () => {
  expect(ledger([sighting({ untilSurvey: 2 }), sighting({ fromSurvey: 2 })], 4)[0]).toMatchObject({
    moves: 0,
    history: [{ from: 'day 1', until: null }],
  });
});
