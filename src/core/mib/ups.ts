import { scalar, tableRows, type Answered } from './table';
import { numberOf, textOf } from './varbind';

const root = '1.3.6.1.2.1.33.1';

/** UPS-MIB (RFC 1628). */
export const upsObjects = {
  upsIdentManufacturer: `${root}.1.1`,
  upsIdentModel: `${root}.1.2`,
  upsIdentUPSSoftwareVersion: `${root}.1.3`,
  upsIdentAgentSoftwareVersion: `${root}.1.4`,
  upsBatteryStatus: `${root}.2.1`,
  upsSecondsOnBattery: `${root}.2.2`,
  upsEstimatedMinutesRemaining: `${root}.2.3`,
  upsEstimatedChargeRemaining: `${root}.2.4`,
  upsBatteryVoltage: `${root}.2.5`,
  upsBatteryTemperature: `${root}.2.7`,
  upsOutputSource: `${root}.4.1`,
} as const;
export const upsTables = {
  upsInputEntry: `${root}.3.3.1`,
  upsOutputEntry: `${root}.4.4.1`,
  upsAlarmEntry: `${root}.6.2.1`,
} as const;
export const upsFamily = '1.3.6.1.2.1.33';

/** upsInputFrequency in 0.1 Hz, upsInputVoltage in V. */
export const upsInputColumns = [2, 3] as const;
/** upsOutputVoltage in V, upsOutputPower in W, upsOutputPercentLoad. */
export const upsOutputColumns = [2, 4, 5] as const;
/** upsAlarmDescr: which of the well-known ones. */
export const upsAlarmColumns = [2] as const;

const wellKnownAlarms = `${root}.6.3.`;
/** upsWellKnownAlarms in the order of their numbers, in words, and whether it is one to get up for. */
const alarms: ([words: string, critical: boolean] | undefined)[] = [
  undefined,
  ['one or more batteries need replacement', true],
  ['runs on battery', true],
  ['the battery is low', true],
  ['the battery is used up', true],
  ['a temperature is out of bounds', false],
  ['the input is out of bounds', false],
  ['the output is out of bounds', true],
  ['the output is overloaded', true],
  ['the bypass is in use', false],
  ['the bypass is out of bounds', false],
  ['the output was shut down as asked', false],
  ['the whole unit was shut down as asked', false],
  ['the charger failed', true],
  ['the output is off', true],
  ['the unit is off', true],
  ['a fan failed', true],
  ['a fuse failed', true],
  ['a general fault', true],
  ['the last self-test failed', true],
  ['the agent cannot reach the unit', true],
  ['waits for the input to come back', true],
  ['is about to shut down', true],
  ['shuts down in seconds', true],
  // a test under way is no fault
  undefined,
];

const batteryStates = ['unknown', 'unknown', 'normal', 'low', 'depleted'] as const;
const sources = ['other', 'other', 'none', 'normal', 'bypass', 'battery', 'booster', 'reducer'] as const;

/** A value with its unit, as a sensor has one. */
export interface UpsReading {
  name: string;
  type: string;
  unit: string;
  value: number;
}

export interface Ups {
  vendor: string;
  model: string;
  release: string;
  battery: (typeof batteryStates)[number];
  source: (typeof sources)[number];
  readings: UpsReading[];
  alarms: { words: string; critical: boolean }[];
}

/** What an uninterruptible power supply tells of itself, or null where the agent speaks for none. */
export function parseUps(answered: Answered): Ups | null {
  const number = (object: string) => numberOf(scalar(object, answered));
  const text = (object: string) => textOf(scalar(object, answered)) ?? '';
  const battery = number(upsObjects.upsBatteryStatus);
  const source = number(upsObjects.upsOutputSource);
  if (battery === undefined && source === undefined) return null;
  const readings: UpsReading[] = [];
  const tell = (name: string, type: string, unit: string, value: number | undefined) => {
    // RFC 1628 knows no word for what is not measured: agents write -1
    if (value !== undefined && value >= 0) readings.push({ name, type, unit, value });
  };
  const tenth = (value: number | undefined) => (value === undefined ? undefined : Number(`${value}e-1`));
  tell('battery charge', 'percent', '%', number(upsObjects.upsEstimatedChargeRemaining));
  tell('battery time left', 'minutes', 'min', number(upsObjects.upsEstimatedMinutesRemaining));
  tell('battery voltage', 'voltsDC', 'V', tenth(number(upsObjects.upsBatteryVoltage)));
  tell('battery temperature', 'celsius', '°C', number(upsObjects.upsBatteryTemperature));
  for (const { index, cells } of tableRows(upsTables.upsInputEntry, answered)) {
    if (index.length !== 1) continue;
    tell(`input ${index[0]} voltage`, 'voltsAC', 'V', numberOf(cells.get(3)));
    tell(`input ${index[0]} frequency`, 'hertz', 'Hz', tenth(numberOf(cells.get(2))));
  }
  for (const { index, cells } of tableRows(upsTables.upsOutputEntry, answered)) {
    if (index.length !== 1) continue;
    tell(`output ${index[0]} voltage`, 'voltsAC', 'V', numberOf(cells.get(2)));
    tell(`output ${index[0]} power`, 'watts', 'W', numberOf(cells.get(4)));
    tell(`output ${index[0]} load`, 'percent', '%', numberOf(cells.get(5)));
  }
  return {
    vendor: text(upsObjects.upsIdentManufacturer),
    model: text(upsObjects.upsIdentModel),
    release: text(upsObjects.upsIdentUPSSoftwareVersion) || text(upsObjects.upsIdentAgentSoftwareVersion),
    battery: batteryStates[battery ?? 0] ?? 'unknown',
    source: sources[source ?? 0] ?? 'other',
    readings,
    alarms: tableRows(upsTables.upsAlarmEntry, answered).flatMap(({ cells }) => {
      const descr = textOf(cells.get(2)) ?? '';
      if (!descr.startsWith(wellKnownAlarms)) return descr === '' ? [] : [{ words: `alarm ${descr}`, critical: false }];
      const known = alarms[Number(descr.slice(wellKnownAlarms.length))];
      return known ? [{ words: known[0], critical: known[1] }] : [];
    }),
  };
}
