import { expect, test } from '@jest/globals';
import { integer, oid, rows, text } from './testVarbinds';
import { parseUps, upsObjects, upsTables } from './ups';

const single = (object: keyof typeof upsObjects, value: ReturnType<typeof integer>) => ({
  oid: `${upsObjects[object]}.0`,
  value,
});
const alarm = (number: number) =>
  rows(upsTables.upsAlarmEntry, String(number), { 2: oid(`1.3.6.1.2.1.33.1.6.3.${number}`) });

test('an uninterruptible power supply with the units of RFC 1628: tenths of volts and hertz, whole volts, watts and percent', () => {
  expect(
    parseUps([
      single('upsIdentManufacturer', text('Fenmoor')),
      single('upsIdentModel', text('F-Rack 3000')),
      single('upsIdentUPSSoftwareVersion', text('4.2')),
      single('upsBatteryStatus', integer(2)),
      single('upsEstimatedMinutesRemaining', integer(47)),
      single('upsEstimatedChargeRemaining', integer(98)),
      single('upsBatteryVoltage', integer(548)),
      single('upsBatteryTemperature', integer(24)),
      single('upsOutputSource', integer(3)),
      ...rows(upsTables.upsInputEntry, '1', { 2: integer(499), 3: integer(231) }),
      ...rows(upsTables.upsOutputEntry, '1', { 2: integer(230), 4: integer(810), 5: integer(31) }),
    ]),
  ).toEqual({
    vendor: 'Fenmoor',
    model: 'F-Rack 3000',
    release: '4.2',
    battery: 'normal',
    source: 'normal',
    readings: [
      { name: 'battery charge', type: 'percent', unit: '%', value: 98 },
      { name: 'battery time left', type: 'minutes', unit: 'min', value: 47 },
      { name: 'battery voltage', type: 'voltsDC', unit: 'V', value: 54.8 },
      { name: 'battery temperature', type: 'celsius', unit: '°C', value: 24 },
      { name: 'input 1 voltage', type: 'voltsAC', unit: 'V', value: 231 },
      { name: 'input 1 frequency', type: 'hertz', unit: 'Hz', value: 49.9 },
      { name: 'output 1 voltage', type: 'voltsAC', unit: 'V', value: 230 },
      { name: 'output 1 power', type: 'watts', unit: 'W', value: 810 },
      { name: 'output 1 load', type: 'percent', unit: '%', value: 31 },
    ],
    alarms: [],
  });
});

test('alarms by their well-known names; a test under way is none, and one of a maker’s own is told as it is', () => {
  const told = parseUps([
    single('upsOutputSource', integer(5)),
    ...alarm(2),
    ...alarm(24),
    ...alarm(16),
    ...rows(upsTables.upsAlarmEntry, '9', { 2: oid('1.3.6.1.4.1.59108.7.1') }),
  ]);
  expect(told?.alarms).toEqual([
    { words: 'runs on battery', critical: true },
    { words: 'a fan failed', critical: true },
    { words: 'alarm 1.3.6.1.4.1.59108.7.1', critical: false },
  ]);
});

test('what is not measured is left out, and who tells neither of battery nor of output is none', () => {
  expect(parseUps([single('upsOutputSource', integer(3)), single('upsBatteryTemperature', integer(-1))])).toMatchObject(
    { battery: 'unknown', readings: [] },
  );
  expect(parseUps([single('upsIdentModel', text('F-Rack 3000'))])).toBeNull();
});
